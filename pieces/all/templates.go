package all

import (
	"slices"
	"strconv"
	"strings"

	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
)

// Template is a whole page to begin from.
type Template struct {
	Name    string // as it is stored
	Title   string
	What    string // what it is good for, in a few words
	Purpose string
	Season  string // when it is most used; empty: any time
	Layout  string
	Mood    string // how it speaks
	Bands   []Arrangement
}

// forms says of which form the goods are that a template sells; any, where it
// is not named.
var forms = map[string]goods.Form{"workshop": goods.Bookable}

// Form is the form of the goods that a template sells; empty: any.
func (t Template) Form() goods.Form { return forms[t.Name] }

// Clearance is the season in which what came back and what stood long goes.
const Clearance = "clearance"

// Seasons are those that templates are made for.
var Seasons = []string{"launch", "holidays", Clearance}

// Moods are those in which templates speak.
var Moods = []string{"quiet", "warm", "lively", "festive", "plain"}

// TemplateOf returns the template of that name.
func TemplateOf(name string) (Template, bool) {
	list := slices.Concat(Templates(), Letters(), OrderMails())
	i := slices.IndexFunc(list, func(t Template) bool { return t.Name == name })
	if i < 0 {
		return Template{}, false
	}
	return list[i], true
}

// Page makes a page of a template; id makes a new identifier each time.
func (t Template) Page(schema m.Schema, id func() string) m.Page {
	p := m.Page{Version: m.Version, Bands: []m.Band{}}
	for _, b := range t.Bands {
		p.Bands = append(p.Bands, b.Band(schema, id))
	}
	// A template names a band by its place, since it has no identifier yet.
	p.Walk(func(_ m.Band, piece m.Piece) {
		for name := range piece.Fields {
			place, named := strings.CutPrefix(piece.Fields.Text(name), "band:@")
			if n, err := strconv.Atoi(place); named && err == nil && n < len(p.Bands) {
				piece.Fields[name] = "band:" + p.Bands[n].ID
			}
		}
	})
	return p
}

// Finds tells whether a template answers a search: every word of it begins a
// word of the template's title, use, season or purpose.
func (t Template) Finds(search, purpose, season, mood string) bool {
	if (purpose != "" && t.Purpose != purpose) || (season != "" && t.Season != season) || (mood != "" && t.Mood != mood) {
		return false
	}
	words := strings.Fields(strings.ToLower(strings.Join([]string{t.Title, t.What, t.Season, t.Mood, strings.ReplaceAll(t.Purpose, "_", " ")}, " ")))
	for asked := range strings.FieldsSeq(strings.ToLower(search)) {
		if !slices.ContainsFunc(words, func(w string) bool { return strings.HasPrefix(w, asked) }) {
			return false
		}
	}
	return true
}

func band(name string, beat m.Beat, tone m.Tone, columns ...ArrangedColumn) Arrangement {
	return Arrangement{Title: name, Beat: beat, Tone: tone, Columns: columns}
}

// in sets the band in a manner.
func (a Arrangement) in(manner string) Arrangement {
	a.Manner = manner
	return a
}

// on lays a scene under the band.
func (a Arrangement) on(scene string) Arrangement {
	a.Scene = scene
	return a
}

// only shows the band to some alone.
func (a Arrangement) only(o m.Only) Arrangement {
	a.Only = o
	return a
}

func one(pieces ...ArrangedPiece) ArrangedColumn { return column(1, pieces...) }

func h1(text string) ArrangedPiece   { return piece("heading", "level", "1", "text", text) }
func h2(text string) ArrangedPiece   { return piece("heading", "text", text) }
func lead(text string) ArrangedPiece { return piece("text", "look", "lead", "text", text) }
func copied(text string) ArrangedPiece {
	return piece("text", "text", text)
}
func act(label, target string) ArrangedPiece {
	return piece("button", "label", label, "target", target)
}
func reasons(rows ...[]string) ArrangedPiece {
	return piece("perks", "items", items([]string{"icon", "title", "text"}, rows...))
}
func points(rows ...[]string) ArrangedPiece {
	return piece("bullets", "items", items([]string{"text"}, rows...))
}
func questions(rows ...[]string) ArrangedPiece {
	return piece("faq", "items", items([]string{"question", "answer"}, rows...))
}
func vows(rows ...[]string) ArrangedPiece {
	return piece("badges", "items", items([]string{"icon", "text"}, rows...))
}

func said(rows ...[]string) ArrangedPiece {
	return piece("testimonials", "items", items([]string{"words", "who", "where"}, rows...))
}
func asking(asks, label, thanks, consent string) ArrangedPiece {
	return piece("form", "asks", asks, "label", label, "thanks", thanks, "consent", consent)
}
func steps(rows ...[]string) ArrangedPiece {
	return piece("bullets", "mark", "number", "items", items([]string{"text"}, rows...))
}
func framed() ArrangedPiece { return piece("picture", "shape", "framed") }

func footer() Arrangement {
	return band("Legal footer", m.Plain, m.Paper, one(piece("legal")))
}
func promises() Arrangement {
	return band("Promises", m.Desire, m.Card, one(vows([]string{"truck-delivery", "Sent within two working days"}, []string{"arrow-back-up", "Thirty days to send it back"}, []string{"phone", "People who answer the phone"})))
}
func hurry(text string) Arrangement {
	return band("Timer", m.Interest, m.Paper, one(piece("timer", "caption", text)))
}
func till(heading string) Arrangement {
	return band("Checkout", m.Action, m.Paper, one(h2(heading), piece("checkout")))
}

// Templates lists the templates this program ships with.
func Templates() []Template {
	return slices.Concat(salesTemplates(), shelfTemplates(), askingTemplates(), afterTemplates(), tellingTemplates())
}
