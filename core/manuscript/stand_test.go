package manuscript_test

import (
	"encoding/json"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The page of a product stands for any of the goods: what names none has it, what names
// one keeps it, its name is in the words, and the page itself stays as it was.
func TestAPageStandsForAProduct(t *testing.T) {
	registry, err := all.Registry()
	require.NoError(t, err)
	piece := func(id, kind string, f manuscript.Fields) manuscript.Piece {
		return manuscript.Piece{ID: id, Kind: kind, Fields: f}
	}
	page := manuscript.Page{Version: manuscript.Version, Bands: []manuscript.Band{{ID: "b", Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{
		piece("h", "heading", manuscript.Fields{"text": "{name}, sent today"}),
		piece("t", "text", manuscript.Fields{"text": "<p>Take <b>{name}</b>.</p>"}),
		piece("p", "price", manuscript.Fields{}),
		piece("other", "price", manuscript.Fields{"product": "ember"}),
		piece("c", "checkout", manuscript.Fields{"bumps": []any{map[string]any{"product": "cell", "text": "With {name}"}}}),
		piece("d", "checkout", manuscript.Fields{"options": []any{map[string]any{"product": "ember"}}}),
		piece("k", "bullets", manuscript.Fields{"items": []any{map[string]any{"text": "{name}"}}}),
	}}}}}}
	before, err := json.Marshal(page)
	require.NoError(t, err)
	stood := registry.Schema().Stand(page, manuscript.Good{ID: "gull", Name: "Gull & <Tern>"})
	after, err := json.Marshal(page)
	require.NoError(t, err)
	assert.JSONEq(t, string(before), string(after))
	text := func(id, field string) string {
		p, ok := stood.Piece(id)
		require.True(t, ok)
		return p.Fields.Text(field)
	}
	assert.Equal(t, "Gull & <Tern>, sent today", text("h", "text"))
	assert.Equal(t, "<p>Take <b>Gull &amp; &lt;Tern&gt;</b>.</p>", text("t", "text"))
	assert.Equal(t, "gull", text("p", "product"))
	assert.Equal(t, "ember", text("other", "product"))
	assert.Equal(t, "gull", text("c", "product"))
	assert.Empty(t, text("d", "product"), "what lets choose sells what it lets choose")
	c, _ := stood.Piece("c")
	assert.Equal(t, "With Gull & <Tern>", c.Fields.List("bumps")[0].Text("text"))
	k, _ := stood.Piece("k")
	assert.Equal(t, []string{"Gull & <Tern>"}, k.Fields.Texts("items", "text"))
	assert.Equal(t, "gull", registry.Schema().Sells(stood, ""))
}
