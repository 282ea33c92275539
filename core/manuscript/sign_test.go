package manuscript_test

import (
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestSignsAreReadAsWhatTheyAre(t *testing.T) {
	for text, want := range map[string]m.Signed{
		"circle-check": {Icon: "circle-check"}, "picture:a1": {Picture: "a1"}, "✓": {Typed: "✓"}, "№": {Typed: "№"}, "👩‍🔧": {Typed: "👩‍🔧"}, "→": {Typed: "→"},
	} {
		got, ok := m.SignOf(text)
		assert.True(t, ok, text)
		assert.Equal(t, want, got)
		assert.Equal(t, text, got.String())
	}
	for _, none := range []string{"", " ", "✓ ✓", "picture:", "picture:a b", "five signs", "✓✓✓✓✓", "\x00", "\xff\xfe"} {
		_, ok := m.SignOf(none)
		assert.False(t, ok, "%q", none)
	}
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.String().Draw(t, "text")
		if s, ok := m.SignOf(text); ok {
			again, ok := m.SignOf(s.String())
			assert.True(t, ok)
			assert.Equal(t, s, again)
		}
	})
}

// A picture that is a sign is one of the page's pictures: it is read with it, kept from
// being thrown away, and goes along when the page is taken elsewhere.
func TestAPictureAsASignIsReferredTo(t *testing.T) {
	schema := m.Schema{"icon": {Name: "icon", Title: "Icon", Fields: []m.Field{{Name: "icon", Type: m.Sign}, {Name: "items", Type: m.List, Items: []m.Field{{Name: "icon", Type: m.Sign}}}}}}
	page := m.Page{Version: m.Version, Bands: []m.Band{{ID: "b", Beat: m.Interest, Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "p", Kind: "icon", Fields: m.Fields{"icon": "picture:one", "items": []any{map[string]any{"icon": "picture:two"}, map[string]any{"icon": "star"}}}},
	}}}}}}
	assert.NoError(t, schema.Validate(page))
	assert.Equal(t, []string{"one", "two"}, schema.Names(page).Pictures)
	moved := schema.Refer(page, func(of m.FieldType, id string) string {
		if id == "two" {
			return ""
		}
		return "new-" + id
	})
	piece, _ := moved.Piece("p")
	assert.Equal(t, "picture:new-one", piece.Fields.Text("icon"))
	assert.Empty(t, piece.Fields.List("items")[0].Text("icon"), "what is not there leaves nothing")
	assert.Equal(t, "star", piece.Fields.List("items")[1].Text("icon"))
}
