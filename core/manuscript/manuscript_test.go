package manuscript_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var schema = m.Schema{
	"heading": {Name: "heading", Fields: []m.Field{{Name: "text", Type: m.Line}, {Name: "level", Type: m.Choice, Options: []m.Option{{Value: "1"}, {Value: "2"}}}}},
	"price":   {Name: "price", Fields: []m.Field{{Name: "product", Type: m.Product}}},
	"perks":   {Name: "perks", Fields: []m.Field{{Name: "items", Type: m.List, Items: []m.Field{{Name: "title", Type: m.Line}}}}},
}

func band(id string, pieces ...m.Piece) m.Band {
	return m.Band{ID: id, Name: id, Beat: m.Interest, Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: pieces}}}
}

func heading(id, text string) m.Piece {
	return m.Piece{ID: id, Kind: "heading", Fields: m.Fields{"text": text}}
}

func page(bands ...m.Band) m.Page { return m.Page{Version: m.Version, Bands: bands} }

func asJSON(t require.TestingT, p m.Page) string {
	raw, err := json.Marshal(p)
	require.NoError(t, err)
	return string(raw)
}

func TestParseNamesThePlaceOfAFault(t *testing.T) {
	for reason, raw := range map[string]string{
		"not the JSON":                  `{`,
		"unknown field":                 `{"version":1,"bands":[],"script":"x"}`,
		"version: is 2":                 `{"version":2,"bands":[]}`,
		"bands[0].id":                   `{"version":1,"bands":[{"id":"","name":"","tone":"card","columns":[{"width":1,"pieces":[]}]}]}`,
		"bands[0].columns":              `{"version":1,"bands":[{"id":"a","name":"","tone":"card","columns":[]}]}`,
		"bands[0].tone":                 `{"version":1,"bands":[{"id":"a","name":"","tone":"pink","columns":[{"width":1,"pieces":[]}]}]}`,
		"pieces[0].kind":                `{"version":1,"bands":[{"id":"a","name":"","tone":"card","columns":[{"width":1,"pieces":[{"id":"p","kind":"malware","fields":{}}]}]}]}`,
		"pieces[0].onclick":             `{"version":1,"bands":[{"id":"a","name":"","tone":"card","columns":[{"width":1,"pieces":[{"id":"p","kind":"heading","fields":{"onclick":"x"}}]}]}]}`,
		"pieces[0].level: \"9\" is not": `{"version":1,"bands":[{"id":"a","name":"","tone":"card","columns":[{"width":1,"pieces":[{"id":"p","kind":"heading","fields":{"level":"9"}}]}]}]}`,
		"pieces[0].text: must be a":     `{"version":1,"bands":[{"id":"a","name":"","tone":"card","columns":[{"width":1,"pieces":[{"id":"p","kind":"heading","fields":{"text":5}}]}]}]}`,
		"at most 20000 characters":      `{"version":1,"bands":[{"id":"a","name":"","tone":"card","columns":[{"width":1,"pieces":[{"id":"p","kind":"heading","fields":{"text":"` + strings.Repeat("x", m.MaxText+1) + `"}}]}]}]}`,
	} {
		_, err := schema.Parse([]byte(raw))
		assert.ErrorContains(t, err, reason)
	}
}

// drawCommand makes a command that fits the page, or one that does not.
func drawCommand(t *rapid.T, p m.Page, n int) m.Command {
	var bands, pieces []string
	for _, b := range p.Bands {
		bands = append(bands, b.ID)
	}
	p.Walk(func(_ m.Band, piece m.Piece) { pieces = append(pieces, piece.ID) })
	bands, pieces = append(bands, "gone"), append(pieces, "gone")
	text := rapid.StringN(0, 12, -1).Draw(t, "text")
	switch rapid.IntRange(0, 11).Draw(t, "op") {
	case 11:
		c := m.Command{Op: m.Several}
		for i := range rapid.IntRange(0, 3).Draw(t, "steps") {
			if step := drawCommand(t, p, n*100+i); step.Op != m.Several {
				c.Steps = append(c.Steps, step)
			}
		}
		return c
	case 0:
		fresh := band(fmt.Sprintf("b%d", n), heading(fmt.Sprintf("p%d", n), text))
		return m.Command{Op: m.AddBand, Index: rapid.IntRange(-1, 9).Draw(t, "index"), Band: &fresh}
	case 1:
		return m.Command{Op: m.RemoveBand, ID: rapid.SampledFrom(bands).Draw(t, "band")}
	case 2:
		return m.Command{Op: m.MoveBand, ID: rapid.SampledFrom(bands).Draw(t, "band"), Index: rapid.IntRange(-1, 9).Draw(t, "to")}
	case 3:
		return m.Command{Op: m.SetBand, ID: rapid.SampledFrom(bands).Draw(t, "band"), Field: "name", Value: text}
	case 4:
		fresh := heading(fmt.Sprintf("p%d", n), text)
		return m.Command{Op: m.AddPiece, ID: rapid.SampledFrom(bands).Draw(t, "band"), Column: rapid.IntRange(-1, 4).Draw(t, "column"), Index: rapid.IntRange(-1, 4).Draw(t, "index"), New: &fresh}
	case 5:
		return m.Command{Op: m.RemovePiece, Piece: rapid.SampledFrom(pieces).Draw(t, "piece")}
	case 6:
		return m.Command{Op: m.MovePiece, Piece: rapid.SampledFrom(pieces).Draw(t, "piece"), ID: rapid.SampledFrom(bands).Draw(t, "band"), Column: rapid.IntRange(-1, 4).Draw(t, "column"), Index: rapid.IntRange(-1, 4).Draw(t, "index")}
	case 7:
		return m.Command{Op: m.Arrange, ID: rapid.SampledFrom(bands).Draw(t, "band"), Widths: rapid.SampledFrom(m.Proportions).Draw(t, "widths"), Places: []m.Place{{rapid.SampledFrom(pieces).Draw(t, "piece"), rapid.IntRange(-1, 4).Draw(t, "column")}}}
	case 8:
		if rapid.IntRange(0, 9).Draw(t, "seldom") > 0 {
			return m.Command{Op: m.RemovePiece, Piece: "gone"}
		}
		return m.Command{Op: m.Replace, Bands: []m.Band{band(fmt.Sprintf("b%d", n), heading(fmt.Sprintf("p%d", n), text))}}
	case 9:
		ids := slices.Concat(bands, pieces, []string{""})
		c := m.Command{Op: m.Dress}
		for range rapid.IntRange(0, 3).Draw(t, "looks") {
			at := m.LookAt{ID: rapid.SampledFrom(ids).Draw(t, "dressed"), Set: map[string]*string{}}
			for _, name := range []string{"align", "colour"} {
				at.Set[name] = rapid.SampledFrom([]*string{nil, new("center"), new("urgent")}).Draw(t, name)
			}
			c.Looks = append(c.Looks, at)
		}
		return c
	default:
		return m.Command{Op: m.SetField, Piece: rapid.SampledFrom(pieces).Draw(t, "piece"), Field: "text", Value: text}
	}
}

// Undo through any run of changes returns the first state byte for byte, and a
// refused command changes nothing.
func TestUndoReturnsTheFirstStateByteForByte(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := page(band("a", heading("h", "Fly the dark")), band("b"))
		first := asJSON(t, p)
		var done, inverses []m.Command
		for i := range rapid.SampledFrom([]int{1, 3, 10, 40, 500}).Draw(t, "changes") {
			before := asJSON(t, p)
			c := drawCommand(t, p, i)
			next, inverse, err := schema.Apply(p, c)
			if asJSON(t, p) != before {
				t.Fatal("a command changed the page it was given")
			}
			if err == nil {
				p, done, inverses = next, append(done, c), append(inverses, inverse)
			}
		}
		for i := len(inverses) - 1; i >= 0; i-- {
			back, left := schema.Back(p, done[i], inverses[i], nil)
			if !left {
				assert.Equal(t, asJSON(t, p), asJSON(t, must(schema.Apply(p, inverses[i]))), "only what changed nothing has nothing left: %s", said(done[i], inverses[i]))
				continue
			}
			next, _, err := schema.Apply(p, back)
			require.NoError(t, err, said(done[i], inverses[i], back))
			p = next
		}
		assert.Equal(t, first, asJSON(t, p))
	})
}

func must(p m.Page, _ m.Command, err error) m.Page {
	if err != nil {
		panic(err)
	}
	return p
}

func TestDifferencesNameEachBandOnce(t *testing.T) {
	live := page(band("a", heading("h", "one")), band("b"), band("c"), band("d"))
	draft := page(band("a", heading("h", "two")), band("c"), band("b"), band("e"))
	assert.Equal(t, []m.Difference{{"a", "changed"}, {"c", "moved"}, {"b", "moved"}, {"e", "added"}, {"d", "removed"}}, m.Differences(live, draft))
	assert.Empty(t, m.Differences(live, live.Clone()))
}

func TestNamesCollectsEachReferenceOnce(t *testing.T) {
	price := func(id string) m.Piece {
		return m.Piece{ID: id, Kind: "price", Fields: m.Fields{"product": "ember"}}
	}
	assert.Equal(t, m.Names{Products: []string{"ember"}}, schema.Names(page(band("a", price("x"), price("y"), heading("h", "ember")))))
}

func ExampleSchema_Apply() {
	p := page(band("a", heading("h", "Fly the dark")))
	p, inverse, _ := schema.Apply(p, m.Command{Op: m.SetField, Piece: "h", Field: "text", Value: "Fly by night"})
	h, _ := p.Piece("h")
	fmt.Println(h.Fields.Text("text"), "— undo:", inverse.Value)
	// Output: Fly by night — undo: Fly the dark
}

func said(all ...any) string {
	raw, _ := json.Marshal(all)
	return string(raw)
}
