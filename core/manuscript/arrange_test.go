package manuscript_test

import (
	"fmt"
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/core/target"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func apply(t *testing.T, p m.Page, c m.Command) m.Page {
	t.Helper()
	next, inverse, err := schema.Apply(p, c)
	require.NoError(t, err)
	back, _, err := schema.Apply(next, inverse)
	require.NoError(t, err)
	assert.Equal(t, p, back, "and it can be taken back")
	return next
}

// seats writes which pieces stand in which column.
func seats(b m.Band) (out [][]string) {
	for _, c := range b.Columns {
		var ids []string
		for _, p := range c.Pieces {
			ids = append(ids, p.ID)
		}
		out = append(out, ids)
	}
	return out
}

func TestPiecesComeMoveAndGo(t *testing.T) {
	p := page(band("a", heading("h", "one"), heading("i", "two")), band("b"))
	fresh := heading("n", "new")
	p = apply(t, p, m.Command{Op: m.AddPiece, ID: "a", Index: 1, New: &fresh})
	assert.Equal(t, [][]string{{"h", "n", "i"}}, seats(p.Bands[0]))
	p = apply(t, p, m.Command{Op: m.MovePiece, Piece: "h", ID: "a", Index: 2})
	assert.Equal(t, [][]string{{"n", "i", "h"}}, seats(p.Bands[0]))
	p = apply(t, p, m.Command{Op: m.MovePiece, Piece: "i", ID: "b", Index: 99})
	assert.Equal(t, [][]string{{"n", "h"}}, seats(p.Bands[0]))
	assert.Equal(t, [][]string{{"i"}}, seats(p.Bands[1]))
	p = apply(t, p, m.Command{Op: m.RemovePiece, Piece: "i"})
	assert.Equal(t, [][]string{nil}, seats(p.Bands[1]))
}

// Fewer columns lose nothing: what stood in those that go moves to the last.
func TestColumnsAreRearrangedWithoutLoss(t *testing.T) {
	p := page(band("a", heading("h", "1"), heading("i", "2"), heading("j", "3")))
	p = apply(t, p, m.Command{Op: m.Arrange, ID: "a", Widths: []int{1, 2, 1}, Places: []m.Place{{Piece: "i", Column: 1}, {Piece: "j", Column: 2}}})
	assert.Equal(t, [][]string{{"h"}, {"i"}, {"j"}}, seats(p.Bands[0]))
	assert.Equal(t, 2, p.Bands[0].Columns[1].Width)
	p = apply(t, p, m.Command{Op: m.Arrange, ID: "a", Widths: []int{7, 5}})
	assert.Equal(t, [][]string{{"h"}, {"i", "j"}}, seats(p.Bands[0]))
	p = apply(t, p, m.Command{Op: m.Arrange, ID: "a", Widths: []int{1}})
	assert.Equal(t, [][]string{{"h", "i", "j"}}, seats(p.Bands[0]))
}

func TestWhatCannotBePlacedIsRefused(t *testing.T) {
	p := page(band("a", heading("h", "1")))
	fresh := heading("h", "again")
	for what, c := range map[string]m.Command{
		"no band":            {Op: m.AddPiece, ID: "gone", New: &fresh},
		"no piece":           {Op: m.AddPiece, ID: "a"},
		"an ID used already": {Op: m.AddPiece, ID: "a", New: &fresh},
		"a piece gone":       {Op: m.RemovePiece, Piece: "gone"},
		"moved where":        {Op: m.MovePiece, Piece: "h", ID: "gone"},
		"moved what":         {Op: m.MovePiece, Piece: "gone", ID: "a"},
		"no columns":         {Op: m.Arrange, ID: "a"},
		"five columns":       {Op: m.Arrange, ID: "a", Widths: []int{1, 1, 1, 1, 1}},
		"no width":           {Op: m.Arrange, ID: "a", Widths: []int{0}},
		"twice the same":     {Op: m.Replace, Bands: []m.Band{band("x"), band("x")}},
	} {
		_, _, err := schema.Apply(p, c)
		require.Error(t, err, what)
	}
}

func TestNamesAndLinksAreReadFromListsToo(t *testing.T) {
	kinds := m.Schema{"cards": {Name: "cards", Fields: []m.Field{{Name: "items", Type: m.List, Items: []m.Field{
		{Name: "picture", Type: m.Picture}, {Name: "group", Type: m.Group}, {Name: "target", Type: m.Link},
	}}, {Name: "more", Type: m.Link, Default: "checkout"}}}}
	p := page(m.Band{ID: "a", Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{{ID: "c", Kind: "cards", Fields: m.Fields{"items": []any{
		map[string]any{"picture": "ember", "group": "night", "target": "page:about"},
		map[string]any{"picture": "ember", "target": "https://example.org"},
		map[string]any{"target": "not a link"},
	}}}}}}})
	assert.Equal(t, m.Names{Pictures: []string{"ember"}, Groups: []string{"night"}, Needs: target.Needs{Pages: []string{"about"}}}, kinds.Names(p))
	assert.Equal(t, []m.LinkAt{
		{Piece: "c", Target: target.Target{Kind: target.Page, Value: "about"}},
		{Piece: "c", Target: target.Target{Kind: target.Outside, Value: "https://example.org"}},
		{Piece: "c", Target: target.Target{Kind: target.Checkout}},
	}, kinds.Links(p))
}

// A copy's links between its own bands lead within the copy, wherever they
// stand: in a field, in a list, in copy; all other links stay.
func TestACopysLinksLeadWithinTheCopy(t *testing.T) {
	links := m.Schema{"links": {Name: "links", Fields: []m.Field{
		{Name: "target", Type: m.Link}, {Name: "text", Type: m.Rich}, {Name: "items", Type: m.List, Items: []m.Field{{Name: "leads", Type: m.Link}}},
	}}}
	p := page(band("a", m.Piece{ID: "l", Kind: "links", Fields: m.Fields{
		"target": "band:b", "text": `<p>See <a href="band:b">below</a> or <a href="page:else">elsewhere</a>.</p>`,
		"items": []any{map[string]any{"leads": "band:b"}, map[string]any{"leads": "page:else"}, map[string]any{"leads": "band:gone"}},
	}}), band("b"))
	require.NoError(t, links.Validate(p))
	before := asJSON(t, p)
	n := 0
	next := links.Fresh(p, func() string { n++; return fmt.Sprint("new-", n) })
	assert.Equal(t, before, asJSON(t, p), "the page itself stays as it is")
	require.NoError(t, links.Validate(next))
	to := "band:" + next.Bands[1].ID
	f := next.Bands[0].Columns[0].Pieces[0].Fields
	assert.NotEqual(t, "band:b", to)
	assert.Equal(t, to, f.Text("target"))
	assert.Equal(t, `<p>See <a href="`+to+`">below</a> or <a href="page:else">elsewhere</a>.</p>`, f.Text("text"))
	assert.Equal(t, []string{to, "page:else", "band:gone"}, f.Texts("items", "leads"))
}
