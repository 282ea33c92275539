package pieces

import (
	"html/template"
	"strings"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/money"
)

// Block is one thing in a letter: what a piece comes to where there is no style sheet and
// no script. The same blocks are written as HTML and as plain text.
type Block struct {
	As      BlockKind
	Text    string        // its words, plain
	Copy    template.HTML // its words with structure, as [Context.Rich] draws them
	Second  string        // who said it; what a code gives; what a card says beneath
	Href    template.URL  // where it leads; empty: nowhere
	Picture *facts.Picture
	Struck  *money.Money // a former price that is proved
	Price   *money.Money
	Points  []string
	Rows    []facts.ToldRow
}

// BlockKind is how a block is set.
type BlockKind string

// How blocks are set.
const (
	Headline BlockKind = "headline"
	Heading  BlockKind = "heading"
	Copy     BlockKind = "copy"
	Lead     BlockKind = "lead"
	Figure   BlockKind = "figure"
	Press    BlockKind = "press"
	Card     BlockKind = "card" // a product with its price
	Cost     BlockKind = "cost"
	Moment   BlockKind = "moment" // until when something holds, written out
	Voice    BlockKind = "voice"
	Box      BlockKind = "box"
	Code     BlockKind = "code"
	Points   BlockKind = "points"
	Rule     BlockKind = "rule"
	Rows     BlockKind = "rows" // of a table: what, and how much
)

// InLetters tells whether pieces of a kind can stand in a letter.
func (k Kind) InLetters() bool { return k.Letter != nil }

// Written is what the pieces of a band come to in a letter.
type Written struct {
	Band   string // its ID
	Pieces []WrittenPiece
}

// WrittenPiece is a piece with what it comes to.
type WrittenPiece struct {
	ID     string
	Blocks []Block
}

// Letter is what a page's bands come to as a letter, as of the context's moment.
func (r *Registry) Letter(c *Context, page manuscript.Page) []Written {
	var out []Written
	for _, b := range r.schema.Follow(page).Bands {
		if !c.Enter(b) {
			continue
		}
		band := Written{Band: b.ID}
		for _, col := range b.Columns {
			for _, p := range col.Pieces {
				if k := r.kinds[p.Kind]; k.Letter != nil {
					if blocks := k.Letter(c, p); len(blocks) > 0 {
						band.Pieces = append(band.Pieces, WrittenPiece{p.ID, blocks})
					}
				}
			}
		}
		if len(band.Pieces) > 0 {
			out = append(out, band)
		}
	}
	return out
}

// InLetters are the kinds that a letter can hold, by name.
func (r *Registry) InLetters() map[string]bool {
	out := map[string]bool{}
	for name, k := range r.kinds {
		if k.InLetters() {
			out[name] = true
		}
	}
	return out
}

// Paragraph is plain words as copy of a letter, line by line.
func Paragraph(words string) template.HTML {
	return template.HTML("<p>" + strings.ReplaceAll(template.HTMLEscapeString(words), "\n", "<br>") + "</p>") //nolint:gosec // escaped
}
