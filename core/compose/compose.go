// Package compose says how a band is composed: in which of its family's manners, from what it holds.
// It knows pieces by their roles alone, and nothing of how they are drawn.
package compose

import (
	"slices"
	"unicode/utf8"

	"chrysagon/core/manuscript"
)

// Version is the composition in which this program draws what is published now. An
// edition names the one it went out with and is drawn in that as long as it is live.
const Version = 2

// First is the composition of editions that name none: every band in one measure, its
// columns as they are given.
const First = 1

// Manner is one way to set what a band holds. Manners of a family differ in composition
// alone: all say the same words.
type Manner struct {
	Name  string // as it is stored, and its class and style sheet
	Title string
	What  string // what it does, in a few words
	// Sketch is a little picture of it: boxes on a field of 24 by 16, each a letter for
	// what it stands for and its place and size. See [Manner.Boxes].
	Sketch string
	// On is what its words lie on, where that is not the band's own ground.
	On    Ground
	fits  func(Holds) bool // whether it suits what a band holds; nil: always
	Leans bool             // it declares its asymmetry: what it holds stands to one side on purpose
}

// Ground is what words of a band lie on.
type Ground string

// The grounds.
const (
	OnBand   Ground = ""       // the band's own
	OnCard   Ground = "card"   // a sheet of the house's card
	OnTurned Ground = "turned" // a plate of night on a light band, of card on a dark one
)

// Tone is the ground on which the words of a band lie, by the tone of the band.
func (g Ground) Tone(of manuscript.Tone) manuscript.Tone {
	switch {
	case g == OnBand:
		return of
	case g == OnTurned && of != manuscript.Night:
		return manuscript.Night
	case g == OnCard && of == manuscript.Card: // a sheet of card is not seen on card
		return manuscript.Paper
	}
	return manuscript.Card
}

// Family is a kind of band, told from what it holds.
type Family struct {
	Name, Title string
	is          func(Holds) bool
	alone       []Manner           // where all stands in one column
	best        func(Holds) string // the manner that suits best where it is not the first
}

// Families are all families. A band belongs to the first that claims it; the last
// claims every one. A new one is one line here.
var Families = []Family{
	notice, opening, footer, till, catching, goods, groups, proof, questions, reasons, clock, offer, table, closing, story,
}

// Holds is what a band holds, as families ask of it.
type Holds struct {
	Roles   map[manuscript.Role]int // pieces of each role
	Columns int
	Paired  bool // two columns, one of which holds pictures alone
	Opens   bool // it holds the page's headline
	Items   int  // entries of its longest list
	Words   int  // characters of what can be read in it
}

func (h Holds) has(roles ...manuscript.Role) bool {
	return slices.ContainsFunc(roles, func(r manuscript.Role) bool { return h.Roles[r] > 0 })
}

// only tells whether it holds nothing but pieces of these roles.
func (h Holds) only(roles ...manuscript.Role) bool {
	for r, n := range h.Roles {
		if n > 0 && !slices.Contains(roles, r) {
			return false
		}
	}
	return true
}

// Look tells what a band holds.
func Look(s manuscript.Schema, b manuscript.Band) Holds {
	h := Holds{Roles: map[manuscript.Role]int{}, Columns: len(b.Columns)}
	pictures := 0
	for _, c := range b.Columns {
		figures := 0
		for _, p := range c.Pieces {
			kind := s[p.Kind]
			h.Roles[kind.Role]++
			h.Opens = h.Opens || s.Headline(p)
			if kind.Role == manuscript.Figure {
				figures++
			}
			for _, f := range kind.Fields {
				if f.Type == manuscript.List {
					h.Items = max(h.Items, len(p.Fields.List(f.Name)))
				}
			}
			p.Fields.EachText(func(_, text string) { h.Words += utf8.RuneCountInString(text) })
		}
		if figures == len(c.Pieces) && figures > 0 {
			pictures++
		}
	}
	h.Paired = len(b.Columns) == 2 && pictures == 1
	return h
}

// Set is how a band is composed.
type Set struct {
	Family Family
	Manner Manner
	Shape  Shape
	Few    bool // several columns hold few words
}

// Shape says how a band's columns stand to each other. It names where the style sheet
// of a manner is found: that of its family's own, or one shared by all families.
type Shape string

// The shapes.
const (
	Alone Shape = "alone" // one column
	Pair  Shape = "pair"  // words beside a picture
	Sides Shape = "sides" // several columns of which none is a picture alone
)

// Sheets names the style sheets of the set: that of its family, of its shape, and of its
// manner.
func (s Set) Sheets() []string {
	room := string(s.Shape)
	if s.Shape == Alone {
		room = s.Family.Name
	}
	return []string{s.Family.Name, room, room + "/" + s.Manner.Name}
}

// few is up to how many signs a band's columns hold few words, so that they are drawn
// together and their picture held back.
const few = 170

// Class are the names by which those sheets find a band, and what else they ask of it.
func (s Set) Class() string {
	class := "f-" + s.Family.Name + " " + string(s.Shape) + " m-" + s.Manner.Name
	if s.Few {
		class += " few"
	}
	if s.Manner.Leans {
		class += " leans"
	}
	return class
}

// Of says how a band is composed: in the manner it names, where its family has that for
// what it holds, and else in the one that suits best.
func Of(s manuscript.Schema, b manuscript.Band) Set {
	h := Look(s, b)
	f := familyOf(h)
	list := f.manners(h)
	at := index(list, b.Manner)
	if at < 0 {
		at = f.fitting(h, list)
	}
	return Set{f, list[at], h.shape(), h.few()}
}

// Manners lists those in which a band can be set, the best first.
func Manners(s manuscript.Schema, b manuscript.Band) []Manner {
	h := Look(s, b)
	f := familyOf(h)
	list := f.manners(h)
	best := f.fitting(h, list)
	return slices.Concat(list[best:best+1], list[:best], list[best+1:])
}

func index(list []Manner, name string) int {
	return slices.IndexFunc(list, func(m Manner) bool { return m.Name == name })
}

func familyOf(h Holds) Family {
	for _, f := range Families {
		if f.is(h) {
			return f
		}
	}
	return story
}

func (f Family) manners(h Holds) []Manner {
	switch h.shape() {
	case Pair:
		return pairs
	case Sides:
		return sides
	case Alone:
	}
	return slices.DeleteFunc(slices.Clone(f.alone), func(m Manner) bool { return m.fits != nil && !m.fits(h) })
}

func (h Holds) few() bool {
	return h.shape() != Alone && h.Words < few && !h.has(manuscript.Ask, manuscript.Till, manuscript.Goods)
}

func (h Holds) shape() Shape {
	switch {
	case h.Paired:
		return Pair
	case h.Columns > 1:
		return Sides
	}
	return Alone
}

// fitting is the place of the manner that suits best.
func (f Family) fitting(h Holds, list []Manner) int {
	if f.best == nil {
		return 0
	}
	return max(index(list, f.best(h)), 0)
}
