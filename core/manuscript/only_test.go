package manuscript_test

import (
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// For whom a band is shown is set, kept, taken back, and moves with its shelf.
func TestABandIsForSomeAlone(t *testing.T) {
	s := m.Schema{}
	page := m.Page{Version: m.Version, Bands: []m.Band{{ID: "b", Name: "B", Tone: m.Card, Columns: []m.Column{{Width: 1}}}}}
	for _, good := range append([]m.Only{"", m.OnlyOf("night")}, m.Onlys...) {
		next, back, err := s.Apply(page, m.Command{Op: m.SetBand, ID: "b", Field: "only", Value: string(good)})
		require.NoError(t, err, good)
		assert.Equal(t, good, next.Bands[0].Only)
		before, _, err := s.Apply(next, back)
		require.NoError(t, err)
		assert.Empty(t, before.Bands[0].Only)
	}
	for _, bad := range []m.Only{"everyone", "shelf:", m.OnlyOf("12345678901234567890123456789012345678901")} {
		_, _, err := s.Apply(page, m.Command{Op: m.SetBand, ID: "b", Field: "only", Value: string(bad)})
		require.Error(t, err, bad)
	}
	page.Bands[0].Only = m.OnlyOf("night")
	assert.Equal(t, []string{"night"}, s.Names(page).Shelves, "the shelf is read with the page")
	moved := s.Refer(page, func(of m.FieldType, id string) string { return "new-" + id })
	assert.Equal(t, m.OnlyOf("new-night"), moved.Bands[0].Only)
	gone := s.Refer(page, func(m.FieldType, string) string { return "" })
	assert.Empty(t, gone.Bands[0].Only, "a band of a shelf that is not there is for everybody")
}
