package manuscript

import (
	"html"
	"strings"
)

// Good is one of the goods for which a page can stand.
type Good struct{ ID, Name string }

// NameHere is what stands in the words of a page where the name of the product at hand
// belongs.
const NameHere = "{name}"

// Its is the shelf, on the page of a product, of what stands beside the product on its own
// shelves.
const Its = "its"

// Beside is the product beside which the goods of a shelf stand; false: it is a shelf of the
// store.
func Beside(shelf string) (product string, is bool) { return strings.CutPrefix(shelf, Its+":") }

// In puts the product's name into words.
func (g Good) In(text string) string { return strings.ReplaceAll(text, NameHere, g.Name) }

// Stand is the page of a product for one of the goods: whatever could name a product and
// names none has it, and its name stands in the words. The page handed in stays as it is.
func (s Schema) Stand(p Page, g Good) Page {
	bands := make([]Band, len(p.Bands))
	for i, b := range p.Bands {
		columns := make([]Column, len(b.Columns))
		for j, c := range b.Columns {
			pieces := make([]Piece, len(c.Pieces))
			for k, piece := range c.Pieces {
				pieces[k] = s.standing(piece, g)
			}
			c.Pieces = pieces
			columns[j] = c
		}
		b.Columns = columns
		bands[i] = b
	}
	p.Bands = bands
	return p
}

func (s Schema) standing(p Piece, g Good) Piece {
	p.Fields = worded(s[p.Kind].Fields, p.Fields, g)
	options, _ := s.Options(p)
	if s.names(p.Kind) && p.Fields.Text(product) == "" && len(options) == 0 {
		p.Fields[product] = g.ID
	}
	return p
}

// worded are fields with the product's name in their words.
func worded(declared []Field, values Fields, g Good) Fields {
	out := Fields{}
	for name, value := range values {
		out[name] = value
	}
	for _, f := range declared {
		switch f.Type { //nolint:exhaustive // the others hold no words
		case Shelf:
			if values.Text(f.Name) == Its {
				out[f.Name] = Its + ":" + g.ID
			}
		case Line, Prose:
			if text := values.Text(f.Name); strings.Contains(text, NameHere) {
				out[f.Name] = g.In(text)
			}
		case Rich:
			if text := values.Text(f.Name); strings.Contains(text, NameHere) {
				out[f.Name] = strings.ReplaceAll(text, NameHere, html.EscapeString(g.Name))
			}
		case List:
			var items []any
			for _, item := range values.List(f.Name) {
				items = append(items, map[string]any(worded(f.Items, item, g)))
			}
			if items != nil {
				out[f.Name] = items
			}
		}
	}
	return out
}
