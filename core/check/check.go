// Package check is the launch check: what is verified before an edition goes
// out. Each check is one function in the list; each finding says what, where,
// how grave, and what to do.
package check

import (
	"fmt"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
)

// Gravity is how grave a finding is.
type Gravity string

// The gravities.
const (
	Stops  Gravity = "stops publishing"
	Mend   Gravity = "should be mended"
	Notice Gravity = "worth knowing"
)

// Finding is one thing the check found.
type Finding struct {
	What    string  `json:"what"`
	Remedy  string  `json:"remedy"`
	PieceID string  `json:"piece_id,omitempty"` // where; empty: the page itself
	Gravity Gravity `json:"gravity"`

	Mend *manuscript.Command `json:"mend,omitempty"` // what mends it at one press
}

// Page is what is checked.
type Page struct {
	Purpose     string // sales, upsell or thank_you
	Title       string
	Description string
	Manuscript  manuscript.Page
	Links       []manuscript.LinkAt
	Layout      string // bare, header or full
	Facts       facts.Facts
	Moment      time.Time
	Codes       map[string]string // codes shown on the page that do not work there, and why
	FirstView   int               // bytes of HTML and styles, compressed; 0: not known
}

// DescriptionLimit is the length in characters beyond which search results
// cut a description (common practice, no source).
const DescriptionLimit = 160

var checks = []func(Page) []Finding{titles, needs, pictures, deadlines, goodsLeft, unproved, actions, links, waysOut, misplaced, contrast, fold, buttons, codes, legal, weight}

// Run carries out every check.
func Run(p Page) []Finding {
	var all []Finding
	for _, c := range checks {
		all = append(all, c(p)...)
	}
	return all
}

// Stopping tells whether any finding stops publishing.
func Stopping(all []Finding) bool {
	for _, f := range all {
		if f.Gravity == Stops {
			return true
		}
	}
	return false
}

func titles(p Page) []Finding {
	var out []Finding
	if p.Title == "" {
		out = append(out, Finding{What: "The page has no title for search results and tabs.", Remedy: "Write one under “Name and address”.", Gravity: Mend})
	}
	if n := len([]rune(p.Description)); n > DescriptionLimit {
		out = append(out, Finding{What: fmt.Sprintf("The description is %d characters long; search results cut it at %d.", n, DescriptionLimit), Remedy: "Shorten it under “Name and address”.", Gravity: Mend})
	}
	headlines := 0
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind != "heading" {
			return
		}
		if piece.Fields.Text("level") == "1" {
			headlines++
		}
		if piece.Fields.Text("text") == "" {
			out = append(out, Finding{What: "A heading is empty.", Remedy: "Write it, or remove its band.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	if headlines != 1 {
		out = append(out, Finding{What: fmt.Sprintf("The page has %d headlines of its own; a reader needs one.", headlines), Remedy: "Keep one heading as the page's headline.", Gravity: Mend})
	}
	return out
}

// needs checks that a page can do its part in the funnel.
func needs(p Page) []Finding {
	must := map[string]string{"sales": "checkout", "upsell": "answer", "downsell": "answer", "thank_you": "receipt", "opt_in": "form"}[p.Purpose]
	count := 0
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind != must || must == "" {
			return
		}
		count++
		if _, ok := p.Facts.Products[piece.Fields.Text("product")]; !ok && must != "receipt" && must != "form" {
			out = append(out, Finding{What: "Nothing is chosen to be sold here.", Remedy: "Open the line and choose a product.", PieceID: piece.ID, Gravity: Stops})
		}
	})
	if (must != "" && must != "form" && count != 1) || (must == "form" && count == 0) {
		names := map[string]string{"form": "form", "checkout": "checkout", "answer": "yes and no", "receipt": "list of what was bought"}
		out = append(out, Finding{What: fmt.Sprintf("This page needs one %s; it has %d.", names[must], count), Remedy: "Add or remove the band.", Gravity: Stops})
	}
	return out
}

func pictures(p Page) []Finding {
	var out []Finding
	for _, b := range p.Manuscript.Bands {
		if id := b.Look["picture"]; id != "" && p.Facts.Pictures[id].ID == "" {
			out = append(out, withPiece(Finding{What: "The picture behind “" + b.Name + "” is missing.", Remedy: "Choose another, or none.", Gravity: Mend, Mend: dressing(b.ID, map[string]string{"picture": ""})}, b))
		}
	}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind != "picture" {
			return
		}
		pic, ok := p.Facts.Pictures[piece.Fields.Text("picture")]
		switch {
		case !ok:
			out = append(out, Finding{What: "A picture is missing.", Remedy: "Choose one, or remove its band.", PieceID: piece.ID, Gravity: Mend})
		case pic.Alt == "":
			out = append(out, Finding{What: "A picture has no words for those who cannot see it.", Remedy: "Describe it in a few words.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	return out
}

func deadlines(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind != "timer" {
			return
		}
		d, ok := p.Facts.Deadline(piece.Fields.Text("deadline"), p.Moment)
		switch {
		case !ok:
			out = append(out, Finding{What: "A timer has no deadline and will not show.", Remedy: "Choose a deadline for it.", PieceID: piece.ID, Gravity: Mend})
		case d.Passed(p.Moment):
			out = append(out, Finding{What: "The timer's deadline, " + d.Written() + ", has passed.", Remedy: "Move the deadline, or remove the timer.", PieceID: piece.ID, Gravity: Mend})
		default:
			out = append(out, oddDeadline(p, piece, d)...)
		}
	})
	return out
}

// oddDeadline finds a timer at odds with the offer it stands beside: no offer
// on the page's goods ends when the timer does.
func oddDeadline(p Page, piece manuscript.Piece, d deadline.Instance) []Finding {
	if len(p.Facts.Offers) == 0 {
		return nil
	}
	for _, o := range p.Facts.Offers {
		if o.Ends.Equal(d.At) || p.Facts.Bound[o.ID] == d.ID {
			return nil
		}
	}
	return []Finding{{What: "The timer counts to a moment at which no offer on this page ends.", Remedy: "Give the offer the same deadline.", PieceID: piece.ID, Gravity: Mend}}
}

func goodsLeft(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind != "checkout" && piece.Kind != "answer" {
			return
		}
		if product, ok := p.Facts.Products[piece.Fields.Text("product")]; ok && product.SoldOut() {
			out = append(out, Finding{What: product.Name + " is sold out; nobody can order it here.", Remedy: "Bring in stock, or sell something else.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	return out
}

// unproved finds prices that are reduced without a former price that could be
// shown beside them.
func unproved(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind != "price" {
			return
		}
		id := piece.Fields.Text("product")
		via := offer.Page
		if p.Purpose == "upsell" || p.Purpose == "downsell" {
			via = offer.Upsell
		}
		q, err := p.Facts.Quote([]offer.Item{{ProductID: id, Quantity: 1, Via: via}}, p.Moment)
		if err != nil || len(q.Lines) == 0 || len(q.Lines[0].Trail) == 0 {
			return
		}
		s := p.Facts.Struck(id, q.Lines[0].Price, p.Moment)
		if s.Struck != nil {
			return
		}
		remedy := "Nothing is struck out on the page until it can be."
		if !s.ProvableFrom.IsZero() {
			remedy = "A reduction that begins from " + deadline.Written(s.ProvableFrom, p.Facts.Store.Zone) + " on can be proved."
		}
		out = append(out, Finding{What: "The price is reduced, but no former price is shown. " + s.Reason, Remedy: remedy, PieceID: piece.ID, Gravity: Notice})
	})
	return out
}

// actions finds a sales page on which nothing leads to its checkout.
func actions(p Page) []Finding {
	if p.Purpose != "sales" {
		return nil
	}
	if Count(p.Manuscript, "button") == 0 {
		return []Finding{{What: "No button leads to the checkout.", Remedy: "Add one to the opening.", Gravity: Notice}}
	}
	return nil
}

// Count tells how many pieces of a kind a page has.
func Count(p manuscript.Page, kind string) int {
	n := 0
	p.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind == kind {
			n++
		}
	})
	return n
}
