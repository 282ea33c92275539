package all

import (
	"slices"
	"strings"

	m "chrysagon/core/manuscript"
	page "chrysagon/core/purpose"
	"chrysagon/core/style"
	"chrysagon/core/words"
)

// Arrangement is a ready-made band: what is added when a band is added.
type Arrangement struct {
	Name  string // in commands
	Title string
	What  string // what it is for, in a few words
	Beat  m.Beat
	Tone  m.Tone
	Words []string // plain words by which a line of a plan finds it
	// Columns lists, column by column, the width and the pieces.
	Columns []ArrangedColumn
	Only    m.Only // for whom alone the band is shown
	Manner  string // in which it is composed; empty: as suits it
	Scene   string // on which it stands
}

// ArrangedColumn is one column of an arrangement.
type ArrangedColumn struct {
	Width  int
	Pieces []ArrangedPiece
}

// ArrangedPiece is one piece of an arrangement with its first values.
type ArrangedPiece struct {
	Kind   string
	Fields m.Fields
}

// piece makes an arranged piece from names and values by turns.
func piece(kind string, values ...any) ArrangedPiece {
	p := ArrangedPiece{Kind: kind, Fields: m.Fields{}}
	for i := 0; i+1 < len(values); i += 2 {
		name, _ := values[i].(string)
		p.Fields[name] = values[i+1]
	}
	return p
}

func arranged(name, title, what string, beat m.Beat, tone m.Tone, words []string, columns []ArrangedColumn) Arrangement {
	return Arrangement{Name: name, Title: title, What: what, Beat: beat, Tone: tone, Words: words, Columns: columns}
}

func column(width int, pieces ...ArrangedPiece) ArrangedColumn { return ArrangedColumn{width, pieces} }

// alone is a band of one column.
func alone(pieces ...ArrangedPiece) []ArrangedColumn { return []ArrangedColumn{column(1, pieces...)} }

// items makes the items of a list from the names of their fields and rows of
// values.
func items(names []string, rows ...[]string) []any {
	list := make([]any, len(rows))
	for i, row := range rows {
		item := map[string]any{}
		for k, name := range names {
			if k < len(row) {
				item[name] = row[k]
			}
		}
		list[i] = item
	}
	return list
}

// made names the bands that pages of a purpose are most often made of, in their
// order.
var made = map[string][]string{
	"opt_in":      {"opening-form", "opening", "list", "quote", "optin", "badges", "legal"},
	"bridge":      {"opening-words", "opening", "video", "copy", "call", "legal"},
	"product":     {"opening-product", "opening", "details", "product", "timer", "badges", "faq", "checkout", "shelf", "legal"},
	"sales":       {"opening", "opening-scene", "opening-words", "product", "timer", "perks", "testimonials", "badges", "faq", "checkout", "summed", "legal"},
	"shelf":       {"opening", "timer", "shelf", "groups", "code", "newsletter"},
	"appointment": {"opening", "rotate", "appointment", "visit"},
	"upsell":      {"opening-words", "product", "list", "answer", "legal"},
	"downsell":    {"opening-words", "product", "answer", "legal"},
	"thank_you":   {"receipt", "copy", "posted"},
	"coming_soon": {"opening-scene", "opening", "timer", "optin"},
	"about":       {"opening", "beside", "copy", "perks", "gallery", "visit"},
	"contact":     {"contact-form", "visit"},
	"legal":       {"copy"},
	"letter":      {"copy", "list", "product", "timer", "quote", "code", "shelf", "call"},
}

// ArrangementsFor lists the bands that pages of a purpose are made of, and all
// others.
func ArrangementsFor(name string) (fitting, others []Arrangement) {
	list, purpose := Arrangements(), name
	if page.Of(name).Order != "" { // the mails of orders are made of what letters are
		purpose = page.Letter
	}
	for _, name := range made[purpose] {
		if i := slices.IndexFunc(list, func(a Arrangement) bool { return a.Name == name }); i >= 0 {
			fitting = append(fitting, list[i])
		}
	}
	for _, a := range list {
		if !slices.Contains(made[purpose], a.Name) {
			others = append(others, a)
		}
	}
	return fitting, others
}

// Fit finds the arrangement that a line of plain words asks for: the one with
// the most of its words in the line, the earlier of equals; copy when none has
// any.
func Fit(line string) Arrangement {
	found, _ := fit(line)
	return found
}

// fit is what [Fit] finds, and whether any word asked for it.
func fit(line string) (Arrangement, bool) {
	list := Arrangements()
	asked := strings.FieldsFunc(strings.ToLower(line), func(r rune) bool { return !strings.ContainsRune("abcdefghijklmnopqrstuvwxyz-", r) })
	said := " " + strings.Join(asked, " ") + " "
	best, most := slices.IndexFunc(list, func(a Arrangement) bool { return a.Name == "copy" }), 0
	for i, a := range list {
		n := 0
		for _, words := range a.Words { // words that belong together count each, and once more for it
			if strings.Contains(said, " "+words+" ") {
				n += 1 + 2*strings.Count(words, " ")
			}
		}
		if n > most {
			best, most = i, n
		}
	}
	return list[best], most > 0
}

// Planned is the band that a line of a plan becomes: named by the line, with
// the line as its heading where it has an empty one.
func Planned(line string, schema m.Schema, id func() string) m.Band {
	line = words.Tidy(line)
	band := Fit(line).Band(schema, id)
	if name := []rune(line); len(name) > 0 {
		band.Name = string(name[:min(len(name), 80)])
	}
	for _, c := range band.Columns {
		for _, p := range c.Pieces {
			if schema[p.Kind].Traits.Heads && p.Fields.Text("text") == "" {
				p.Fields["text"] = line
				return band
			}
		}
	}
	return band
}

// Band makes a band of an arrangement. Choices take their defaults; id makes
// a new identifier each time.
func (a Arrangement) Band(schema m.Schema, id func() string) m.Band {
	band := m.Band{ID: id(), Name: a.Title, Beat: a.Beat, Tone: a.Tone, Only: a.Only, Manner: a.Manner}
	if a.Scene != "" {
		band.Look = style.Look{"scene": a.Scene}
	}
	for _, c := range a.Columns {
		column := m.Column{Width: c.Width}
		for _, p := range c.Pieces {
			piece := Piece(schema[p.Kind], id)
			for name, value := range p.Fields {
				piece.Fields[name] = value
			}
			column.Pieces = append(column.Pieces, piece)
		}
		band.Columns = append(band.Columns, column)
	}
	return band
}

// Piece makes a piece of a kind: its choices at their defaults, its lists with
// a few items to fill in.
func Piece(kind m.Kind, id func() string) m.Piece {
	piece := m.Piece{ID: id(), Kind: kind.Name, Fields: m.Fields{}}
	for _, f := range kind.Fields {
		if f.Default != "" {
			piece.Fields[f.Name] = f.Default
		}
		if f.Type == m.List && !f.Bare {
			piece.Fields[f.Name] = blank(f, 3)
		}
	}
	return piece
}

func blank(f m.Field, n int) []any {
	items := make([]any, n)
	for i := range items {
		items[i] = BlankItem(f)
	}
	return items
}

// BlankItem is an item of a list with nothing written in it yet.
func BlankItem(f m.Field) map[string]any {
	item := map[string]any{}
	for _, sub := range f.Items {
		item[sub.Name] = sub.Default
	}
	return item
}
