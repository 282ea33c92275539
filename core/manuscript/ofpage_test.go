package manuscript_test

import (
	"encoding/json"
	"strings"
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func empty() m.Page { return m.Page{Version: m.Version, Bands: []m.Band{}} }

func TestWhatIsSaidOfAPageIsSetAndTakenBack(t *testing.T) {
	s := m.Schema{}
	p := empty()
	before, err := json.Marshal(p)
	require.NoError(t, err)
	var back []m.Command
	for _, c := range []m.Command{
		{Op: m.SetPage, Field: m.Keywords, Value: "  night kites, dunes "},
		{Op: m.SetPage, Field: m.Shared, Value: "ember"},
		{Op: m.SetPage, Field: m.OwnCode, Value: []any{map[string]any{"name": "End", "kind": "foot", "text": "done()"}}},
		{Op: m.SetPage, Field: m.OwnCode, Value: nil},
	} {
		next, inverse, err := s.Apply(p, c)
		require.NoError(t, err)
		p, back = next, append(back, inverse)
	}
	assert.Equal(t, "night kites, dunes", p.Sharing.Keywords)
	assert.Equal(t, []string{"ember"}, s.Names(p).Pictures, "the card's picture is read with the page's")
	for i := len(back) - 1; i >= 0; i-- {
		raw, err := json.Marshal(back[i]) // as it is kept
		require.NoError(t, err)
		var inverse m.Command
		require.NoError(t, json.Unmarshal(raw, &inverse))
		p, _, err = s.Apply(p, inverse)
		require.NoError(t, err)
	}
	after, err := json.Marshal(p)
	require.NoError(t, err)
	assert.Equal(t, string(before), string(after))
}

func TestWhatCannotBeSaidOfAPageIsRefused(t *testing.T) {
	for want, c := range map[string]m.Command{
		"sharing.keywords":   {Op: m.SetPage, Field: m.Keywords, Value: strings.Repeat("k", m.MaxKeywords+1)},
		"sharing.picture":    {Op: m.SetPage, Field: m.Shared, Value: "../x"},
		"a list of snippets": {Op: m.SetPage, Field: m.OwnCode, Value: "alert(1)"},
		"own: own code":      {Op: m.SetPage, Field: m.OwnCode, Value: []any{map[string]any{"name": "x", "kind": "head", "text": "</script>"}}},
		"a page has no":      {Op: m.SetPage, Field: "robots", Value: "x"},
	} {
		_, _, err := m.Schema{}.Apply(empty(), c)
		require.ErrorContains(t, err, want)
	}
}

// A copy shares nothing with its original, however deep.
func TestACopySharesNothing(t *testing.T) {
	page := func() m.Page {
		return m.Page{Version: 1, Look: map[string]string{"size": "110"}, Bands: []m.Band{{ID: "a", Tone: m.Card, Look: map[string]string{"above": "4"}, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
			{ID: "p", Kind: "perks", Look: map[string]string{"size": "120"}, Fields: m.Fields{"items": []any{map[string]any{"title": "x"}}, "text": "y"}},
		}}}}}}
	}
	original := page()
	copied := original.Clone()
	copied.Look["size"] = "60"
	b := &copied.Bands[0]
	b.ID, b.Look["above"] = "changed", "8"
	piece := &b.Columns[0].Pieces[0]
	piece.Look["size"], piece.Fields["text"] = "60", "changed"
	piece.Fields.List("items")[0]["title"] = "changed"
	b.Columns[0].Pieces = append(b.Columns[0].Pieces, m.Piece{ID: "more"})
	copied.Bands = append(copied.Bands, m.Band{ID: "more"})
	assert.Equal(t, page(), original)
}

// Referring to the same things under the same names changes nothing.
func TestReferringToTheSameIsTheSame(t *testing.T) {
	schema := m.Schema{"text": {Name: "text", Fields: []m.Field{{Name: "text", Type: m.Rich}, {Name: "to", Type: m.Link}, {Name: "picture", Type: m.Picture}}}}
	rapid.Check(t, func(t *rapid.T) {
		id := rapid.StringMatching(`[a-z0-9]{1,10}`)
		link := rapid.SampledFrom([]string{"", "home", "checkout", "page:" + id.Draw(t, "page"), "product:" + id.Draw(t, "goods"), "https://example.org/?a=b&c=d", "tel:+351255"}).Draw(t, "link")
		p := empty()
		p.Bands = []m.Band{{ID: "a", Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{{ID: "t", Kind: "text", Fields: m.Fields{"text": "plain", "to": link, "picture": id.Draw(t, "picture")}}}}}}}
		got := schema.Refer(p, func(_ m.FieldType, id string) string { return id })
		assert.Equal(t, p, got)
	})
}
