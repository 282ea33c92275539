package manuscript_test

import (
	"fmt"
	"slices"
	"sort"
	"strings"
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// writer is somebody with the page open: what they see in each field, and the
// changes they made, as the studio keeps them.
type writer struct {
	name  string
	seen  map[string]string
	words int
	done  []made
}

type made struct {
	at            int // in the order of all
	done, inverse m.Command
}

// writes puts a word of their own into what they see, which may be long past.
func (w *writer) writes(t *rapid.T, p m.Page, piece string, at int) m.Page {
	was := w.seen[piece]
	list := strings.Fields(was)
	w.words++
	list = slices.Insert(list, rapid.IntRange(0, len(list)).Draw(t, "where"), fmt.Sprintf("%s%dx", w.name, w.words))
	text := strings.Join(list, " ")
	c := m.Command{Op: m.SetField, Piece: piece, Field: "text", Value: text, Was: was, Guard: true}
	next, inverse, err := schema.Apply(p, c)
	require.NoError(t, err)
	w.seen[piece] = text
	kept, _ := next.Piece(piece)
	c.Value = kept.Fields["text"]
	w.done = append(w.done, made{at: at, done: c, inverse: inverse})
	return next
}

func (w *writer) looks(p m.Page) {
	p.Walk(func(_ m.Band, piece m.Piece) { w.seen[piece.ID] = piece.Fields.Text("text") })
}

func sorted(text string) []string {
	list := strings.Fields(text)
	sort.Strings(list)
	return list
}

// Two write in the same fields at once, from pages that are long behind: no
// word of either is lost; and when each takes their own back, in whatever order,
// what was there at first is there again.
func TestTwoWritersConvergeWithNothingLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := page(band("a", heading("h", "fly the dark"), heading("k", "")))
		both := []*writer{{name: "ada", seen: map[string]string{}}, {name: "bo", seen: map[string]string{}}}
		for _, w := range both {
			w.looks(p)
		}
		for i := range rapid.IntRange(1, 30).Draw(t, "changes") {
			w := rapid.SampledFrom(both).Draw(t, "who")
			if rapid.IntRange(0, 3).Draw(t, "looks") == 0 {
				w.looks(p)
			}
			p = w.writes(t, p, rapid.SampledFrom([]string{"h", "k"}).Draw(t, "field"), i)
		}
		var all string
		p.Walk(func(_ m.Band, piece m.Piece) { all += " " + piece.Fields.Text("text") })
		for _, w := range both {
			for n := range w.words {
				assert.Equal(t, 1, strings.Count(all, fmt.Sprintf("%s%dx", w.name, n+1)), all)
			}
		}
		for len(both[0].done)+len(both[1].done) > 0 {
			w, other := both[0], both[1]
			if len(w.done) == 0 || (len(other.done) > 0 && rapid.Bool().Draw(t, "whose")) {
				w, other = other, w
			}
			last := w.done[len(w.done)-1]
			w.done = w.done[:len(w.done)-1]
			var since []m.Command
			for _, o := range other.done {
				if o.at > last.at {
					since = append(since, o.done)
				}
			}
			back, left := schema.Back(p, last.done, last.inverse, since)
			require.True(t, left)
			next, _, err := schema.Apply(p, back)
			require.NoError(t, err)
			p = next
		}
		h, _ := p.Piece("h")
		k, _ := p.Piece("k")
		assert.Equal(t, []string{"dark", "fly", "the"}, sorted(h.Fields.Text("text")))
		assert.Empty(t, sorted(k.Fields.Text("text")))
	})
}

func applied(t *testing.T, p m.Page, c m.Command) (m.Page, m.Command) {
	t.Helper()
	next, inverse, err := schema.Apply(p, c)
	require.NoError(t, err)
	return next, inverse
}

func TestTakingBackLeavesWhatOthersDid(t *testing.T) {
	first := page(band("a", heading("h", "Fly"), m.Piece{ID: "l", Kind: "perks", Fields: m.Fields{"items": []any{map[string]any{"title": "one"}}}}))
	value := func(s string) *string { return &s }
	fresh := band("new", heading("n", "Mine"))
	for name, c := range map[string]struct {
		mine   m.Command
		others []m.Command
		left   bool
		check  func(m.Page)
	}{
		"a choice that somebody else chose otherwise": {
			mine:   m.Command{Op: m.SetField, Piece: "h", Field: "level", Value: "1"},
			others: []m.Command{{Op: m.SetField, Piece: "h", Field: "level", Value: "2"}},
		},
		"a ground that somebody else changed": {
			mine:   m.Command{Op: m.SetBand, ID: "a", Field: "tone", Value: "night"},
			others: []m.Command{{Op: m.SetBand, ID: "a", Field: "tone", Value: "paper"}},
		},
		"a name that both wrote": {
			mine:   m.Command{Op: m.SetBand, ID: "a", Field: "name", Value: "a first"},
			others: []m.Command{{Op: m.SetBand, ID: "a", Field: "name", Value: "a first hello"}}, left: true,
			check: func(p m.Page) { assert.Equal(t, "a hello", p.Bands[0].Name) },
		},
		"one value of a look, and not the one of somebody else": {
			mine:   m.Command{Op: m.Dress, Looks: []m.LookAt{{ID: "h", Set: map[string]*string{"align": value("center"), "colour": value("urgent")}}}},
			others: []m.Command{{Op: m.Dress, Looks: []m.LookAt{{ID: "h", Set: map[string]*string{"colour": value("good")}}}}}, left: true,
			check: func(p m.Page) {
				h, _ := p.Piece("h")
				assert.Equal(t, "good", h.Look["colour"])
				assert.Empty(t, h.Look["align"])
			},
		},
		"a band in which somebody else wrote": {
			mine:   m.Command{Op: m.AddBand, Index: 1, Band: &fresh},
			others: []m.Command{{Op: m.SetField, Piece: "n", Field: "text", Value: "Mine and theirs"}},
		},
		"a piece that somebody else dressed": {
			mine:   m.Command{Op: m.AddPiece, ID: "a", New: new(heading("n", "Mine"))},
			others: []m.Command{{Op: m.Dress, Looks: []m.LookAt{{ID: "n", Set: map[string]*string{"align": value("center")}}}}},
		},
		"all bands, since when somebody wrote": {
			mine:   m.Command{Op: m.Replace, Bands: []m.Band{fresh}},
			others: []m.Command{{Op: m.SetField, Piece: "n", Field: "text", Value: "Theirs"}},
		},
		"an item, beside one that somebody else added": {
			mine:   m.Command{Op: m.SetField, Piece: "l", Field: "items", Value: []any{map[string]any{"title": "one"}, map[string]any{"title": "mine"}}},
			others: []m.Command{{Op: m.SetField, Piece: "l", Field: "items", Value: []any{map[string]any{"title": "one"}, map[string]any{"title": "mine"}, map[string]any{"title": "theirs"}}}}, left: true,
			check: func(p m.Page) {
				l, _ := p.Piece("l")
				assert.Equal(t, []string{"one", "theirs"}, l.Fields.Texts("items", "title"))
			},
		},
		"a title, with what somebody else put behind it": {
			mine:   m.Command{Op: m.SetPage, Field: m.Title, Value: "Kites"},
			others: []m.Command{{Op: m.SetPage, Field: m.Title, Value: "Kites by night"}}, left: true,
			check: func(p m.Page) { assert.Equal(t, "by night", p.Naming.Title) },
		},
	} {
		p, inverse := applied(t, first, c.mine)
		for _, other := range c.others {
			p, _ = applied(t, p, other)
		}
		back, left := schema.Back(p, c.mine, inverse, c.others)
		require.Equal(t, c.left, left, name)
		if left {
			p, _ = applied(t, p, back)
			c.check(p)
		}
	}
}

func TestTwoWritersOfOneList(t *testing.T) {
	items := func(titles ...string) []any {
		var out []any
		for _, title := range titles {
			out = append(out, map[string]any{"title": title})
		}
		return out
	}
	p := page(band("a", m.Piece{ID: "l", Kind: "perks", Fields: m.Fields{"items": items("light", "mended", "tried")}}))
	seen := items("light", "mended", "tried")
	p, _ = applied(t, p, m.Command{Op: m.SetField, Piece: "l", Field: "items", Value: items("very light", "mended", "tried"), Was: seen, Guard: true})
	p, _ = applied(t, p, m.Command{Op: m.SetField, Piece: "l", Field: "items", Value: items("light", "tried twice", "sent tomorrow"), Was: seen, Guard: true})
	l, _ := p.Piece("l")
	assert.Equal(t, []string{"very light", "tried twice", "sent tomorrow"}, l.Fields.Texts("items", "title"))
}

func TestNamingIsCheckedAsItIsWritten(t *testing.T) {
	p := page()
	p.Naming.Name, p.Naming.Address = "Night flight", "night-flight"
	for field, value := range map[string]string{
		m.Name: "", m.Address: "Night flight", m.Title: strings.Repeat("t", 121), m.Description: strings.Repeat("d", 1001),
	} {
		_, _, err := schema.Apply(p, m.Command{Op: m.SetPage, Field: field, Value: value})
		var fault m.Fault
		require.ErrorAs(t, err, &fault, field)
		assert.Equal(t, fault.Reason, fault.Say(), "whole sentences are said as they are")
	}
	next, _ := applied(t, p, m.Command{Op: m.SetPage, Field: m.Address, Value: "Light-Wind"})
	assert.Equal(t, "light-wind", next.Naming.Address)
	assert.NotContains(t, asJSON(t, next), "light-wind", "a naming is kept beside the manuscript")
	_, _, err := schema.Apply(p, m.Command{Op: m.SetField, Piece: "gone", Field: "text"})
	var fault m.Fault
	require.ErrorAs(t, err, &fault)
	assert.Equal(t, "This was not kept: that piece is no longer on the page.", fault.Say())
}

// Two who write in a plain text at once both make it copy; it stays one paragraph.
func TestPlainTextBecomesCopyOnce(t *testing.T) {
	schema := m.Schema{"text": {Name: "text", Fields: []m.Field{{Name: "text", Type: m.Rich}}}}
	p := page(band("b", m.Piece{ID: "t", Kind: "text", Fields: m.Fields{"text": "For line & cells."}}))
	for _, value := range []string{"<p>First. For line &amp; cells.</p>", "<p>For line &amp; cells. Last.</p>"} {
		next, _, err := schema.Apply(p, m.Command{Op: m.SetField, Piece: "t", Field: "text", Value: value, Was: "For line & cells.", Guard: true})
		require.NoError(t, err)
		p = next
	}
	kept, _ := p.Piece("t")
	assert.Equal(t, "<p>First. For line &amp; cells. Last.</p>", kept.Fields.Text("text"))
}
