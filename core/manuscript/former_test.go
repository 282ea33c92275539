package manuscript_test

import (
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A page that was kept when a checkout had one bump reads with it as the first of its
// bumps, and one that has both keeps the order.
func TestOneBumpIsTheFirstOfSeveral(t *testing.T) {
	registry, err := all.Registry()
	require.NoError(t, err)
	for fields, want := range map[string][]any{
		`"bump": "cell", "bumptext": "Light"`:           {map[string]any{"product": "cell", "text": "Light"}},
		`"bumptext": ""`:                                nil,
		`"bump": "cell", "bumps": [{"product": "bag"}]`: {map[string]any{"product": "cell"}, map[string]any{"product": "bag"}},
	} {
		p, err := registry.Schema().Parse([]byte(`{"version": 1, "bands": [{"id": "b", "name": "", "beat": "", "tone": "card", "columns": [{"width": 12, "pieces": [{"id": "c", "kind": "checkout", "fields": {` + fields + `}}]}]}]}`))
		require.NoError(t, err, fields)
		piece, ok := p.Piece("c")
		require.True(t, ok)
		got, _ := piece.Fields["bumps"].([]any)
		assert.Equal(t, want, got, fields)
		assert.NotContains(t, piece.Fields, "bump")
		sells, bumps := registry.Schema().Buys(piece)
		assert.Empty(t, sells)
		assert.Len(t, bumps, len(want))
	}
	tooMany := manuscript.Fields{"bumps": []any{map[string]any{}, map[string]any{}, map[string]any{}, map[string]any{}}}
	err = registry.Schema().Validate(manuscript.Page{Version: manuscript.Version, Bands: []manuscript.Band{{ID: "b", Tone: "card", Columns: []manuscript.Column{{Width: 12, Pieces: []manuscript.Piece{{ID: "c", Kind: "checkout", Fields: tooMany}}}}}}})
	require.ErrorContains(t, err, "at most 3 items")
}
