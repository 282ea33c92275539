package manuscript_test

import (
	"strings"
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

var worded = m.Schema{"cards": {Name: "cards", Fields: []m.Field{
	{Name: "title", Type: m.Line}, {Name: "look", Type: m.Choice, Options: []m.Option{{Value: "kite"}}},
	{Name: "items", Type: m.List, Items: []m.Field{{Name: "text", Type: m.Prose}, {Name: "target", Type: m.Link}}},
}}}

func cards(title string, texts ...string) m.Page {
	list := []any{}
	for _, text := range texts {
		list = append(list, map[string]any{"text": text, "target": "page:kite"})
	}
	return page(m.Band{ID: "kite", Name: "kite", Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{{ID: "c", Kind: "cards", Fields: m.Fields{"title": title, "look": "kite", "items": list}}}}}})
}

func TestWordsAreReplacedWhereTheyWereWritten(t *testing.T) {
	before := cards("A kite, another kite", "No Kite here", "One kite")
	after, hits := worded.ReplaceCopy(before, "kite", "sail")
	assert.Equal(t, "A kite, another kite", before.Bands[0].Columns[0].Pieces[0].Fields.Text("title"), "the page given is left")
	piece := after.Bands[0].Columns[0].Pieces[0]
	assert.Equal(t, "A sail, another sail", piece.Fields.Text("title"))
	assert.Equal(t, []string{"No Kite here", "One sail"}, piece.Fields.Texts("items", "text"), "capitals count")
	assert.Equal(t, []string{"page:kite", "page:kite"}, piece.Fields.Texts("items", "target"), "links are not words")
	assert.Equal(t, "kite", piece.Fields.Text("look"))
	assert.Equal(t, "kite", after.Bands[0].Name)
	assert.Len(t, hits, 2)
	assert.Equal(t, 2, hits[0].Times)
	_, none := worded.ReplaceCopy(before, "", "x")
	assert.Empty(t, none)
}

// Nothing of the words is left unless the new ones bring it along, and a page
// without them stays as it is.
func TestReplacingLeavesNothingBehind(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		word := rapid.StringMatching(`[a-c]{1,3}`)
		find, with := word.Draw(t, "find"), rapid.StringMatching(`[x-z]{0,3}`).Draw(t, "with")
		p := cards(rapid.StringMatching(`[a-d ]{0,20}`).Draw(t, "title"), rapid.StringMatching(`[a-d ]{0,20}`).Draw(t, "text"))
		after, hits := worded.ReplaceCopy(p, find, with)
		if len(hits) == 0 {
			assert.Equal(t, p, after)
		}
		for _, h := range hits {
			assert.Equal(t, h.Times, strings.Count(h.Was, find))
			assert.NotEqual(t, h.Was, h.Is)
		}
		if with != "" {
			_, again := worded.ReplaceCopy(after, find, with)
			assert.Empty(t, again)
		}
	})
}
