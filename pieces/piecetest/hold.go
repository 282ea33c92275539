// Package piecetest holds a kind of piece to what every kind must bear, whatever it draws.
package piecetest

import (
	"html/template"
	"strings"
	"testing"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/pieces"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Hostile is what a visitor's browser must never run, and a text that is no trouble.
const Hostile = `"><script>alert(1)</script><img src=x onerror=alert(1)>{{.}} & ’`

// noon is when everything is drawn.
var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

// Facts are those of a small store: one product, a deadline, a picture, a shelf.
func Facts() facts.Facts {
	return facts.Facts{
		Store:     facts.Store{Name: "Gustwell Kiteworks", Currency: "EUR", Zone: "Europe/Lisbon", ContactEmail: "hello@example.org", Phone: "+351 255 000 111"},
		Products:  map[string]goods.Product{"ember": {ID: "ember", Name: "Ember 180", Price: money.Of(6800, "EUR"), Stock: 2, Form: goods.Physical}},
		Deadlines: map[string]deadline.Deadline{"friday": {ID: "friday", Name: "Friday", Kind: deadline.Fixed, At: noon.Add(96 * time.Hour), Zone: "Europe/Lisbon"}},
		Shelves:   map[string]facts.Shelf{"night": {ID: "night", Name: "Night", Goods: []string{"ember"}}},
		Described: map[string]facts.Described{"ember": {Text: "It glows.", Has: []facts.Has{{Label: Hostile, Words: Hostile}}}},
	}
}

// Context is a page to draw on, with those facts or with none.
func Context(f facts.Facts) *pieces.Context {
	return &pieces.Context{
		Facts: f, Moment: noon, Place: pieces.Place{Address: "night-flight"},
		Icon: func(string) template.HTML { return "<svg></svg>" }, Seal: func(*pieces.Context, ...[]offer.Item) string { return "seal" },
		Band: func(string) string { return "Opening" },
	}
}

// Hold draws a kind in every way in which it must not fail: as it is begun, with each
// of its choices, with words that are code, and where nothing that it names is there.
func Hold(t *testing.T, kind pieces.Kind) {
	t.Helper()
	registry, err := pieces.NewRegistry(kind)
	require.NoError(t, err)
	require.NotEmpty(t, kind.Title)
	draw := func(why string, c *pieces.Context, fields m.Fields) {
		p := m.Piece{ID: "p", Kind: kind.Name, Fields: fields}
		if kind.Tell != nil {
			assert.NotEmpty(t, kind.Tell(c, p).Parts, "%s: it says something of itself", why)
		}
		value := kind.View(c, p)
		if value == nil {
			return
		}
		var out strings.Builder
		require.NoError(t, registry.View(kind.Name).Execute(&out, value), why)
		for _, code := range []string{"<script>alert", "<img src=x", "onerror=alert(1)>", "ZgotmplZ"} {
			assert.NotContains(t, out.String(), code, why)
		}
	}
	full := func() *pieces.Context { return Context(Facts()) }
	draw("as it is begun", full(), begun(kind.Fields))
	draw("in a store without anything", Context(facts.Facts{Store: facts.Store{Currency: "EUR", Zone: "Europe/Lisbon"}}), begun(kind.Fields))
	draw("where what it names is gone", full(), filled(kind.Fields, "gone", "Words"))
	draw("with words that are code", full(), filled(kind.Fields, "", Hostile))
	for _, f := range kind.Fields {
		for _, o := range f.Options {
			fields := filled(kind.Fields, "", "Words")
			fields[f.Name] = o.Value
			draw(f.Name+" is "+o.Label, full(), fields)
		}
	}
}

// begun are the fields of a new piece.
func begun(list []m.Field) m.Fields {
	fields := m.Fields{}
	for _, f := range list {
		if f.Default != "" {
			fields[f.Name] = f.Default
		}
	}
	return fields
}

// known is what there is in [Facts], by the type of field that names it.
var known = map[m.FieldType]string{m.Product: "ember", m.Deadline: "friday", m.Shelf: "night", m.Link: "home"}

// filled fills every field: with words, and with names of what is there, or with one
// that is not.
func filled(list []m.Field, name, words string) m.Fields {
	fields := m.Fields{}
	for _, f := range list {
		switch {
		case f.Type == m.List:
			fields[f.Name] = []any{map[string]any(filled(f.Items, name, words)), map[string]any(filled(f.Items, name, words))}
		case f.Type == m.Rich:
			fields[f.Name] = "<p>" + template.HTMLEscapeString(words) + "</p>"
		case f.Type == m.Line || f.Type == m.Prose:
			fields[f.Name] = words
		case len(f.Options) > 0:
			fields[f.Name] = f.Options[len(f.Options)-1].Value
		case name != "":
			fields[f.Name] = name
		default:
			fields[f.Name] = known[f.Type]
		}
	}
	return fields
}
