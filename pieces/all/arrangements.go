package all

import (
	"slices"
	"strings"

	m "chrysagon/core/manuscript"
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

// Arrangements lists the bands that can be added, in the order a page has them.
func Arrangements() []Arrangement {
	return []Arrangement{
		{"announcement", "Announcement", "one line across the page", m.Plain, m.Night, []string{"announce", "announcement", "strip", "bar", "notice"}, alone(piece("announcement")), ""},
		{"opening", "Opening", "headline, sub-headline, picture and button", m.Attention, m.Night, []string{"opening", "hero", "headline", "start", "welcome", "top"}, []ArrangedColumn{
			column(7, piece("heading", "level", "1"), piece("text", "look", "lead"), piece("button")),
			column(5, piece("picture")),
		}, ""},
		{"product", "Product", "picture, copy, price and saving", m.Interest, m.Card, []string{"product", "picture-and-price"}, []ArrangedColumn{
			column(5, piece("picture", "shape", "framed")),
			column(7, piece("heading"), piece("text"), piece("price")),
		}, ""},
		{"shelf", "Shelf of goods", "goods picked by a rule, each with its price", m.Interest, m.Card, []string{"shelf", "grid", "clearance", "collection", "products", "list"}, alone(piece("heading"), piece("shelf")), ""},
		{"groups", "Groups of goods", "cards that lead to shelves", m.Interest, m.Card, []string{"groups", "group", "categories", "cards"}, alone(piece("heading"), piece("groups")), ""},
		{"gallery", "Gallery", "several pictures", m.Interest, m.Card, []string{"gallery", "pictures", "photos", "images"}, alone(piece("heading"), piece("gallery")), ""},
		{"video", "Video", "plays when it is asked to", m.Interest, m.Card, []string{"video", "film", "clip", "watch"}, alone(piece("heading"), piece("video")), ""},
		{"posted", "Posted pictures", "what was posted elsewhere, from the shelf or a feed file", m.Desire, m.Card, []string{"posted", "posts", "feed", "social"}, alone(piece("heading"), piece("social")), ""},
		{"timer", "Timer", "counts down to a deadline", m.Interest, m.Paper, []string{"timer", "countdown", "deadline", "hurry", "ends", "clock"}, alone(piece("timer")), ""},
		{"stock", "Stock left", "how many are left, truly", m.Interest, m.Paper, []string{"stock", "left", "last", "scarce"}, alone(piece("stock")), ""},
		{"rotate", "Offers by turns", "two offers that take turns", m.Interest, m.Paper, []string{"rotating", "turns", "slides", "carousel"}, alone(piece("rotate")), ""},
		{"perks", "Perks", "three reasons with icons", m.Desire, m.Card, []string{"perks", "benefits", "reasons", "why", "advantages", "features"}, alone(piece("heading"), piece("perks")), ""},
		{"list", "List", "a heading and points with a mark", m.Desire, m.Card, []string{"points", "bullets", "includes", "contents", "inside", "learn"}, alone(piece("heading"), piece("bullets")), ""},
		{"copy", "Copy", "a heading and text", m.Desire, m.Card, []string{"copy", "text", "story", "letter", "words"}, alone(piece("heading"), piece("text")), ""},
		{"aside", "Boxed aside", "something set apart", m.Desire, m.Paper, []string{"aside", "box", "note", "tip", "guarantee", "promise"}, alone(piece("aside")), ""},
		{"compare", "Comparison", "a table of this against that", m.Desire, m.Card, []string{"compare", "comparison", "versus", "against", "table"}, alone(piece("heading"), piece("compare")), ""},
		{"quote", "Quote", "one sentence that says it", m.Desire, m.Paper, []string{"quote", "saying", "motto"}, alone(piece("quote")), ""},
		{"testimonials", "Testimonials", "what buyers say, and who they are", m.Desire, m.Paper, []string{"testimonials", "testimonial", "reviews", "customers", "said", "proof"}, alone(piece("heading"), piece("rating"), piece("testimonials")), ""},
		{"badges", "Trust badges", "short promises with icons", m.Desire, m.Card, []string{"badges", "trust", "secure", "safe"}, alone(piece("badges")), ""},
		{"faq", "Questions", "questions and answers that unfold", m.Desire, m.Card, []string{"faq", "questions", "answers", "doubts", "objections"}, alone(piece("heading"), piece("faq")), ""},
		{"code", "Code to copy", "a coupon that is copied with one press", m.Action, m.Paper, []string{"code", "coupon", "voucher"}, alone(piece("heading"), piece("code")), ""},
		{"call", "Call to action", "a heading and a button", m.Action, m.Night, []string{"call", "action", "button", "buy", "go"}, alone(piece("heading"), piece("button")), ""},
		{"optin", "Opt-in form", "asks for an email", m.Action, m.Paper, []string{"optin", "opt-in", "email", "subscribe", "sign", "free", "guide"}, alone(piece("heading"), piece("form", "asks", "opt_in")), ""},
		{"newsletter", "Newsletter form", "asks for an email, for letters to come", m.Action, m.Paper, []string{"newsletter", "letters", "news"}, alone(piece("heading"), piece("form", "asks", "newsletter", "consent", "Yes, you may write to me.")), ""},
		{"contact-form", "Contact form", "a message to the store", m.Action, m.Card, []string{"contact", "message", "write", "ask"}, alone(piece("heading"), piece("form", "asks", "message")), ""},
		{"appointment", "Appointment", "times that can be taken, into the visitor’s calendar", m.Action, m.Paper, []string{"appointment", "appointments", "booking", "fitting", "lesson", "slot"}, alone(piece("heading"), piece("appointment")), ""},
		{"visit", "Call or visit", "number, address and opening hours", m.Action, m.Card, []string{"phone", "visit", "address", "hours", "map", "shop"}, []ArrangedColumn{
			column(1, piece("phone")), column(1, piece("hours")),
		}, ""},
		{"checkout", "Checkout", "the form in which visitors order", m.Action, m.Paper, []string{"checkout", "order", "pay", "payment", "card"}, alone(piece("heading"), piece("checkout")), ""},
		{"summed", "Checkout beside its summary", "the form, and what the order comes to", m.Action, m.Paper, []string{"summary", "summed", "basket"}, []ArrangedColumn{
			column(7, piece("heading"), piece("checkout")), column(5, piece("summary")),
		}, ""},
		{"answer", "Yes and no", "an upsell's two buttons", m.Action, m.Card, []string{"yes", "no", "upsell", "add"}, alone(piece("price"), piece("answer")), ""},
		{"receipt", "What was bought", "the order, its total, the mail to come", m.Action, m.Card, []string{"receipt", "bought", "thanks", "thank"}, alone(piece("heading"), piece("receipt")), ""},
		{"menu", "Menu", "links to the store's pages", m.Plain, m.Card, []string{"menu", "navigation", "links"}, alone(piece("menu")), ""},
		{"legal", "Legal footer", "who sells, privacy, terms", m.Plain, m.Paper, []string{"legal", "footer", "imprint", "terms"}, alone(piece("legal")), ""},
	}
}

// made names the bands that pages of a purpose are most often made of, in their
// order.
var made = map[string][]string{
	"opt_in":      {"opening", "list", "quote", "optin", "badges", "legal"},
	"bridge":      {"opening", "video", "copy", "call", "legal"},
	"product":     {"opening", "product", "timer", "badges", "faq", "checkout", "shelf", "legal"},
	"sales":       {"opening", "product", "timer", "perks", "testimonials", "badges", "faq", "checkout", "summed", "legal"},
	"shelf":       {"opening", "timer", "shelf", "groups", "code", "newsletter"},
	"appointment": {"opening", "rotate", "appointment", "visit"},
	"upsell":      {"opening", "list", "answer", "legal"},
	"downsell":    {"opening", "answer", "legal"},
	"thank_you":   {"receipt", "copy", "posted"},
	"coming_soon": {"opening", "timer", "optin"},
	"about":       {"opening", "copy", "perks", "gallery", "visit"},
	"contact":     {"contact-form", "visit"},
	"legal":       {"copy"},
}

// ArrangementsFor lists the bands that pages of a purpose are made of, and all
// others.
func ArrangementsFor(purpose string) (fitting, others []Arrangement) {
	list := Arrangements()
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
	list := Arrangements()
	asked := strings.FieldsFunc(strings.ToLower(line), func(r rune) bool { return !strings.ContainsRune("abcdefghijklmnopqrstuvwxyz-", r) })
	best, most := slices.IndexFunc(list, func(a Arrangement) bool { return a.Name == "copy" }), 0
	for i, a := range list {
		n := 0
		for _, word := range asked {
			if slices.Contains(a.Words, word) {
				n++
			}
		}
		if n > most {
			best, most = i, n
		}
	}
	return list[best]
}

// Planned is the band that a line of a plan becomes: named by the line, with
// the line as its heading where it has an empty one.
func Planned(line string, schema m.Schema, id func() string) m.Band {
	line = strings.Join(strings.Fields(line), " ")
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
	band := m.Band{ID: id(), Name: a.Title, Beat: a.Beat, Tone: a.Tone, Only: a.Only}
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
