package all

import m "chrysagon/core/manuscript"

// Arrangement is a ready-made band: what is added when a band is added.
type Arrangement struct {
	Name  string // in commands
	Title string
	What  string // what it is for, in a few words
	Beat  m.Beat
	Tone  m.Tone
	// Columns lists, column by column, the width and the pieces.
	Columns []ArrangedColumn
}

// ArrangedColumn is one column of an arrangement.
type ArrangedColumn struct {
	Width  int
	Pieces []ArrangedPiece
}

// ArrangedPiece is one piece of an arrangement with its first values.
type ArrangedPiece struct {
	Kind   string
	Fields map[string]string
}

// Arrangements lists the bands that can be added, in the order a page has them.
func Arrangements() []Arrangement {
	return []Arrangement{
		{"opening", "Opening", "headline, sub-headline, picture and button", m.Attention, m.Night, []ArrangedColumn{
			{7, []ArrangedPiece{{"heading", map[string]string{"level": "1"}}, {"text", map[string]string{"look": "lead"}}, {"button", nil}}},
			{5, []ArrangedPiece{{"picture", nil}}},
		}},
		{"product", "Product", "picture, copy, price and saving", m.Interest, m.Card, []ArrangedColumn{
			{5, []ArrangedPiece{{"picture", map[string]string{"shape": "framed"}}}},
			{7, []ArrangedPiece{{"heading", nil}, {"text", nil}, {"price", nil}}},
		}},
		{"shelf", "Shelf of goods", "goods picked by a rule, each with its price", m.Interest, m.Card, []ArrangedColumn{{1, []ArrangedPiece{{"heading", nil}, {"shelf", nil}}}}},
		{"timer", "Timer", "counts down to a deadline", m.Interest, m.Paper, []ArrangedColumn{{1, []ArrangedPiece{{"timer", nil}}}}},
		{"perks", "Perks", "three reasons with icons", m.Desire, m.Card, []ArrangedColumn{{1, []ArrangedPiece{{"heading", nil}, {"perks", nil}}}}},
		{"copy", "Copy", "a heading and text", m.Desire, m.Card, []ArrangedColumn{{1, []ArrangedPiece{{"heading", nil}, {"text", nil}}}}},
		{"checkout", "Checkout", "the form in which visitors order", m.Action, m.Paper, []ArrangedColumn{{1, []ArrangedPiece{{"heading", nil}, {"checkout", nil}}}}},
		{"answer", "Yes and no", "an upsell's two buttons", m.Action, m.Card, []ArrangedColumn{{1, []ArrangedPiece{{"price", nil}, {"answer", nil}}}}},
		{"receipt", "What was bought", "the order, its total, the mail to come", m.Action, m.Card, []ArrangedColumn{{1, []ArrangedPiece{{"heading", nil}, {"receipt", nil}}}}},
		{"legal", "Legal footer", "who sells, privacy, terms", m.Plain, m.Paper, []ArrangedColumn{{1, []ArrangedPiece{{"legal", nil}}}}},
	}
}

// Band makes a band of an arrangement. Choices take their defaults; id makes
// a new identifier each time.
func (a Arrangement) Band(schema m.Schema, id func() string) m.Band {
	band := m.Band{ID: id(), Name: a.Title, Beat: a.Beat, Tone: a.Tone}
	for _, c := range a.Columns {
		column := m.Column{Width: c.Width}
		for _, p := range c.Pieces {
			piece := m.Piece{ID: id(), Kind: p.Kind, Fields: m.Fields{}}
			for _, f := range schema[p.Kind].Fields {
				if f.Default != "" {
					piece.Fields[f.Name] = f.Default
				}
				if f.Type == m.List {
					piece.Fields[f.Name] = blank(f, 3)
				}
			}
			for name, value := range p.Fields {
				piece.Fields[name] = value
			}
			column.Pieces = append(column.Pieces, piece)
		}
		band.Columns = append(band.Columns, column)
	}
	return band
}

func blank(f m.Field, n int) []any {
	items := make([]any, n)
	for i := range items {
		item := map[string]any{}
		for _, sub := range f.Items {
			item[sub.Name] = sub.Default
		}
		items[i] = item
	}
	return items
}
