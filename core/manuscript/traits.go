package manuscript

import (
	"maps"
	"slices"

	"chrysagon/core/checkout"
	"chrysagon/core/order"
)

// Traits say what pieces of a kind are to the page around them. The launch check,
// drawing and publishing read them, and know no kind by its name: a new kind says its
// own, and all of them follow.
type Traits struct {
	Heads     bool   // it is a heading; its field “level” says of which level
	Reads     string // the style in which its texts stand in the sheet; "" small
	Takes     Taking // what pressing it does to an order
	Prices    bool   // it shows the price of its product
	Priced    bool   // prices stand in it, of whatever it shows, and take looks of their own
	Shows     bool   // it shows its product
	Stands    bool   // it shows what stands on its shelf
	Grouped   bool   // it shows groups of goods, in its items
	Counts    bool   // it counts down to its deadline
	Left      bool   // it counts what is left
	Describes bool   // it shows what is said of its product
	Listed    bool   // it lists what was bought
	Asks      bool   // visitors fill it in, and it is sent to the store
	Books     bool   // visitors choose a time in it
	Code      bool   // it shows a code, of its field “code”
	Button    bool   // it is drawn as the house's button
	Pressed   bool   // a button is among what it shows
	Acts      bool   // something can be done with it
	Silent    bool   // it writes no words on the band itself: it has none, or a ground of its own
	Pictured  bool   // its pictures stand for themselves, so each needs words for who cannot see it
	Menu      bool   // it leads to the pages of the store's menu
	Legal     bool   // it leads to privacy, terms and contact
	Asked     bool   // it holds questions and their answers, in its items

	Sold   func(Fields) (options [][]string, bumps []string) // IDs of the goods of each thing that its press can buy, and of its order bumps; nil: its product
	Fills  func(Fields) bool                                 // whether goods of the page's lists are put into its order; nil: never
	Pages  func(Fields) (Paged, bool)                        // how it shows its shelf in pages; nil: never
	Orders func(Fields) checkout.Form                        // what its order form asks; nil: it has none
	Pays   func(Fields) []order.Way                          // the ways to pay that it offers beside the card; nil: none
	Calls  func(Fields) []Call                               // its calls to action; nil: it has none
	Mails  func(Fields) bool                                 // whether it promises a mail; nil: never
	Tall   func(Fields, func(string) Shape) int              // its height on a phone in CSS pixels; nil: some 60
	Row    *Row                                              // it is a row of links; nil: it is none
}

// Paged is a shelf that is shown in pages.
type Paged struct {
	Piece, Shelf string
	Size         int      // goods on a page
	By           []string // attributes by which visitors narrow it
	Alone        bool     // nothing else on the page shows that shelf, or asks what stands on it
}

// Taking is what pressing a piece does to an order.
type Taking string

// The ways to take an order.
const (
	TakesNothing Taking = ""
	TakesOrder   Taking = "order"  // the press places an order
	TakesAnswer  Taking = "answer" // yes or no adds to an order that is paid for, or not
)

// Sells tells whether pieces of a kind take orders, so that what one names is what its
// page sells.
func (k Kind) Sells() bool { return k.Traits.Takes != TakesNothing }

// Call is one call to action: what it says, and the target to which it leads.
type Call struct{ Says, Target string }

// Shape is the width and height of a picture in pixels; zero: it is not known.
type Shape struct{ Width, Height int }

// Row is the size of a row of links: of its words, and of the room above and below
// each, in CSS pixels, as its style has it.
type Row struct{ Words, Room float64 }

// Lines estimates how many lines a text takes where so many signs fit on one.
func Lines(text string, signs int) int { return 1 + len([]rune(text))/signs }

// Headline tells whether a piece is a heading of the first level.
func (s Schema) Headline(p Piece) bool {
	return s[p.Kind].Traits.Heads && p.Fields.Text("level") == "1"
}

// Has tells whether a page holds a piece of a trait.
func (s Schema) Has(p Page, trait func(Traits) bool) bool { return s.Count(p, trait) > 0 }

// Named is the name of the kind of a trait, the first by name; "" where none is.
func (s Schema) Named(trait func(Traits) bool) string {
	for _, name := range slices.Sorted(maps.Keys(s)) {
		if trait(s[name].Traits) {
			return name
		}
	}
	return ""
}

// Count counts the pieces of a trait.
func (s Schema) Count(p Page, trait func(Traits) bool) int {
	n := 0
	p.Walk(func(_ Band, piece Piece) {
		if trait(s[piece.Kind].Traits) {
			n++
		}
	})
	return n
}

// Here is the target of a call that leads to the band in which it stands.
const Here = "band:"
