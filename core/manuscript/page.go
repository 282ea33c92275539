// Package manuscript is the typed tree of a page being written: a page holds
// bands, a band columns, a column pieces. It is stored as JSON with a version,
// checked against what each kind of piece declares, and changed only by
// commands that have an inverse.
package manuscript

import (
	"maps"
	"slices"

	"chrysagon/core/own"
	"chrysagon/core/publish"
	"chrysagon/core/style"
)

// Version is the version of the stored form that this program writes.
const Version = 1

// Limits that keep a hostile or runaway manuscript from harm.
const (
	MaxBands  = 200
	MaxPieces = 2000
	MaxText   = 20_000 // characters in one text
	MaxItems  = 100    // in one list

	MaxKeywords = 300 // characters in all keywords of a page
)

// Beat is what a band does to the reader: the published four-step model of
// advertising (attention, interest, desire, action).
type Beat string

// The beats, in the order a buyer's mind moves.
const (
	Attention Beat = "attention"
	Interest  Beat = "interest"
	Desire    Beat = "desire"
	Action    Beat = "action"
	Plain     Beat = "" // a band that serves no beat, such as the legal footer
)

// Beats lists all beats a band may have.
var Beats = []Beat{Attention, Interest, Desire, Action, Plain}

// Letter is the beat's initial, as the margin shows it.
func (b Beat) Letter() string {
	if b == Plain {
		return "·"
	}
	return string(b[0] - 'a' + 'A')
}

// Tone is a band's ground, a colour token of the house style.
type Tone string

// The tones.
const (
	Card  Tone = "card"
	Paper Tone = "paper"
	Night Tone = "night"
)

// Tones lists all tones a band may have.
var Tones = []Tone{Card, Paper, Night}

// Page is a whole manuscript.
type Page struct {
	Version int        `json:"version"`
	Bands   []Band     `json:"bands"`
	Look    style.Look `json:"look,omitempty"` // how it departs from the house

	Sharing Sharing  `json:"sharing,omitzero"` // what it says beside its title and description
	Own     own.Code `json:"own,omitempty"`    // code the owner brings along for it

	Naming publish.Naming `json:"-"` // what it is called and where it is found, which is kept beside it
}

// Sharing is what a page says to search engines and to those who share it,
// beside its title and description.
type Sharing struct {
	Keywords string `json:"keywords,omitempty"` // separated by commas
	Picture  string `json:"picture,omitempty"`  // ID of the picture a shared card shows; empty: the first that will do
}

// Band is one full-width stretch of a page.
type Band struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Beat    Beat     `json:"beat,omitempty"`
	Tone    Tone     `json:"tone"`
	Manner  string   `json:"manner,omitempty"` // how it is composed; empty: as suits what it holds
	Columns []Column `json:"columns"`

	Deadline string `json:"deadline,omitempty"` // ID of the deadline at which something happens to the band
	AtZero   AtZero `json:"at_zero,omitempty"`  // what happens then
	LeadTo   string `json:"lead_to,omitempty"`  // ID of the page to which it then leads

	Only Only `json:"only,omitempty"` // for whom alone it is shown

	Look style.Look `json:"look,omitempty"` // how it departs from the page
}

// AtZero says what happens to a band at its deadline.
type AtZero string

// What can happen at zero. A band that is replaced is one that hides beside
// one that appears.
const (
	Stays   AtZero = ""       // nothing
	Hides   AtZero = "hide"   // the band is gone from then on
	Appears AtZero = "appear" // the band is shown only from then on
	Closes  AtZero = "close"  // the checkout in it takes no more orders
	Leads   AtZero = "lead"   // the page leads to another from then on
)

// AtZeros lists all that can happen.
var AtZeros = []AtZero{Stays, Hides, Appears, Closes, Leads}

// Column is a part of a band's width; Width weighs it against its neighbours.
type Column struct {
	Width  int     `json:"width"`
	Pieces []Piece `json:"pieces"`
}

// Piece is one thing inside a band. Its fields are those its kind declares.
type Piece struct {
	ID     string `json:"id"`
	Kind   string `json:"kind"`
	Fields Fields `json:"fields"`

	Look style.Look `json:"look,omitempty"` // how it departs from its band
}

// Fields are the values of a piece: texts, or lists of such.
type Fields map[string]any

// Text returns a text field, or "" when it is not set.
func (f Fields) Text(name string) string {
	text, _ := f[name].(string)
	return text
}

// List returns the items of a list field.
func (f Fields) List(name string) []Fields {
	raw, _ := f[name].([]any)
	items := make([]Fields, 0, len(raw))
	for _, one := range raw {
		if m, ok := one.(map[string]any); ok {
			items = append(items, Fields(m))
		}
	}
	return items
}

// Texts returns one field of every item of a list, without the empty ones.
func (f Fields) Texts(list, name string) []string {
	var out []string
	for _, item := range f.List(list) {
		if text := item.Text(name); text != "" {
			out = append(out, text)
		}
	}
	return out
}

// EachText calls visit for every text, those of lists' items too, with the name of
// its field.
func (f Fields) EachText(visit func(field, text string)) {
	for name, value := range f {
		if text, ok := value.(string); ok {
			visit(name, text)
			continue
		}
		for _, item := range f.List(name) {
			item.EachText(visit)
		}
	}
}

// Walk calls visit for every piece in reading order.
func (p Page) Walk(visit func(Band, Piece)) {
	for _, b := range p.Bands {
		for _, c := range b.Columns {
			for _, piece := range c.Pieces {
				visit(b, piece)
			}
		}
	}
}

// Band returns the band of that ID and its place.
func (p Page) Band(id string) (Band, int, bool) {
	for i, b := range p.Bands {
		if b.ID == id {
			return b, i, true
		}
	}
	return Band{}, -1, false
}

// Piece returns the piece of that ID.
func (p Page) Piece(id string) (Piece, bool) {
	var found Piece
	p.Walk(func(_ Band, piece Piece) {
		if piece.ID == id {
			found = piece
		}
	})
	return found, found.ID != ""
}

// Kinds returns the kinds of piece on the page, each once, sorted.
func (p Page) Kinds() []string {
	var kinds []string
	p.Walk(func(_ Band, piece Piece) { kinds = append(kinds, piece.Kind) })
	slices.Sort(kinds)
	return slices.Compact(kinds)
}

// Clone returns a copy that shares nothing with p.
func (p Page) Clone() Page {
	p.Look, p.Own = maps.Clone(p.Look), slices.Clone(p.Own)
	p.Bands = slices.Clone(p.Bands)
	for i, b := range p.Bands {
		p.Bands[i] = b.clone()
	}
	return p
}

func (b Band) clone() Band {
	b.Look, b.Columns = maps.Clone(b.Look), slices.Clone(b.Columns)
	for i, c := range b.Columns {
		c.Pieces = slices.Clone(c.Pieces)
		for j, piece := range c.Pieces {
			c.Pieces[j] = piece.clone()
		}
		b.Columns[i] = c
	}
	return b
}

func (p Piece) clone() Piece {
	p.Look = maps.Clone(p.Look)
	if fields, ok := copied(map[string]any(p.Fields)).(map[string]any); ok {
		p.Fields = fields
	}
	return p
}

// copied copies a value of a field: a text, a list, or an item.
func copied(value any) any {
	switch v := value.(type) {
	case map[string]any:
		if v == nil {
			return v
		}
		next := make(map[string]any, len(v))
		for name, one := range v {
			next[name] = copied(one)
		}
		return next
	case []any:
		next := make([]any, len(v))
		for i, one := range v {
			next[i] = copied(one)
		}
		return next
	}
	return value
}
