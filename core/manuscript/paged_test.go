package manuscript_test

import (
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A list is read by itself only where nothing else asks what stands on its shelf.
func TestAListAlone(t *testing.T) {
	list := m.Piece{ID: "list", Kind: "shelf", Fields: m.Fields{"shelf": "night", "rest": "pages"}}
	page := func(others ...m.Piece) m.Page {
		return m.Page{Version: m.Version, Bands: []m.Band{{ID: "a", Columns: []m.Column{{Width: 1, Pieces: append([]m.Piece{list}, others...)}}}}}
	}
	registry, err := all.Registry()
	require.NoError(t, err)
	alone := func(p m.Page) bool {
		lists := registry.Schema().Names(p).Lists
		require.Len(t, lists, 1)
		return lists[0].Alone
	}
	assert.True(t, alone(page()))
	assert.True(t, alone(page(m.Piece{ID: "other", Kind: "shelf", Fields: m.Fields{"shelf": "day"}})))
	assert.False(t, alone(page(m.Piece{ID: "again", Kind: "shelf", Fields: m.Fields{"shelf": "night"}})))
	only := page()
	only.Bands = append(only.Bands, m.Band{ID: "b", Only: "shelf:night"})
	assert.False(t, alone(only))
}
