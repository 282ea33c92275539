// Package check is the launch check: what is verified before an edition goes
// out. Each check is one function in the list; each finding says what, where,
// how grave, and what to do.
package check

import (
	"fmt"
	"slices"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/purpose"
	"chrysagon/core/style"
	"chrysagon/core/words"
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
	Schema      manuscript.Schema // what its kinds of piece declare
	Links       []manuscript.LinkAt
	Layout      string // bare, header or full
	Address     string // where it is found, without the slash
	Facts       facts.Facts
	Moment      time.Time
	Codes       map[string]string // codes shown on the page that do not work there, and why
	FirstView   int               // bytes of HTML and styles, compressed, of a letter as they are; 0: not known
	Mailable    map[string]bool   // the kinds of piece that a letter can hold
	Template    map[string]bool   // words of templates, plain
	Taken       map[string]string // goods that an order can hold already when it comes here, and by which page
	Blank       map[string]string // what a piece that shows nothing yet says of itself, by its ID
}

// DescriptionLimit is the length in characters beyond which search results
// cut a description (common practice, no source).
const DescriptionLimit = 160

var checks = []func(Page) []Finding{titles, needs, pictures, deadlines, goodsLeft, unproved, actions, links, waysOut, misplaced, contrast, fold, buttons, codes, legal, weight, headings, deviating, fields, asked, chosen, targets, oversized, owned, unchanged, charged, again, promised, urgency, connected, unset, keywords, vague, nudged}

// Run carries out every check.
func Run(p Page) []Finding {
	var all []Finding
	list := checks
	if purpose.Of(p.Purpose).Mail {
		list = ofLetters
	}
	for _, c := range list {
		all = append(all, c(p)...)
	}
	return append(all, blank(p, all)...)
}

// blank finds pieces that show nothing yet, as far as nothing else was found of
// them.
func blank(p Page, found []Finding) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		says := p.Blank[piece.ID]
		if says != "" && !p.idle(piece) && !slices.ContainsFunc(found, func(f Finding) bool { return f.PieceID == piece.ID }) {
			out = append(out, Finding{What: "In “" + b.Name + "”: " + says + ".", Remedy: "Fill it in, or take it away.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	return out
}

// idle tells whether a piece is left out as it should be: a timer on the page of a product
// is there for those goods on which an offer ends.
func (p Page) idle(piece manuscript.Piece) bool {
	return p.Purpose == purpose.Product && p.of(piece).Counts && p.Blank[piece.ID] != ""
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
		if !p.of(piece).Heads {
			return
		}
		if p.Schema.Headline(piece) {
			headlines++
		}
		if piece.Fields.Text("text") == "" {
			out = append(out, Finding{What: "A heading is empty.", Remedy: "Write it, or remove its band.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	if headlines != 1 {
		out = append(out, manyHeadlines(headlines))
	}
	return out
}

// manyHeadlines is the finding of a page that has another number than one.
func manyHeadlines(n int) Finding {
	if n == 0 {
		return Finding{What: "The page has no headline; a reader needs one.", Remedy: "Make one heading the page's headline: choose level 1 in its slip.", Gravity: Mend}
	}
	return Finding{What: fmt.Sprintf("The page has %s; a reader needs one.", words.Count(n, "headline")), Remedy: "Keep one heading as the page's headline.", Gravity: Mend}
}

// need is what a page must have to do its part in the funnel.
type need struct {
	name   string
	is     func(manuscript.Traits) bool
	many   bool // more than one will do
	stocks bool // it sells what it names
}

var needed = map[string]need{
	"sales":     {name: "checkout", is: orders, stocks: true},
	"product":   {name: "checkout", is: orders},
	"upsell":    {name: "yes and no", is: answer, stocks: true},
	"downsell":  {name: "yes and no", is: answer, stocks: true},
	"thank_you": {name: "list of what was bought", is: func(t manuscript.Traits) bool { return t.Listed }},
	"opt_in":    {name: "form", is: func(t manuscript.Traits) bool { return t.Asks }, many: true},
}

func orders(t manuscript.Traits) bool { return t.Takes == manuscript.TakesOrder }
func answer(t manuscript.Traits) bool { return t.Takes == manuscript.TakesAnswer }
func takes(t manuscript.Traits) bool  { return t.Takes != manuscript.TakesNothing }

// of are the traits of a piece.
func (p Page) of(piece manuscript.Piece) manuscript.Traits { return p.Schema[piece.Kind].Traits }

// needs checks that a page can do its part in the funnel.
func needs(p Page) []Finding {
	must, some := needed[p.Purpose]
	if !some {
		return nil
	}
	count := 0
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if !must.is(p.of(piece)) {
			return
		}
		count++
		sells, _ := p.Schema.Buys(piece)
		if p.Schema.Fills(piece) {
			out = append(out, p.unfilled(piece)...)
			return
		}
		if known := slices.ContainsFunc(sells, func(id string) bool { _, there := p.Facts.Products[id]; return there }); !known && must.stocks {
			out = append(out, Finding{What: "Nothing is chosen to be sold here.", Remedy: "Open the line and choose a product.", PieceID: piece.ID, Gravity: Stops})
		}
	})
	if count == 0 || (count > 1 && !must.many) {
		out = append(out, Finding{What: fmt.Sprintf("This page needs one %s; it has %d.", must.name, count), Remedy: "Add or remove the band.", Gravity: Stops})
	}
	return out
}

func pictures(p Page) []Finding {
	var out []Finding
	for _, b := range p.Manuscript.Bands {
		for _, name := range []string{"picture", style.Wide + "picture"} {
			if id := b.Look[name]; id != "" && p.Facts.Pictures[id].ID == "" {
				out = append(out, Finding{What: "The picture behind “" + b.Name + "” is missing.", Remedy: "Choose another, or none.", PieceID: firstPiece(b), Gravity: Mend, Mend: dressing(b.ID, map[string]string{name: ""})})
			}
		}
	}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		missing, wordless := 0, 0
		for _, id := range p.picturesOf(piece) {
			pic, ok := p.Facts.Pictures[id]
			switch {
			case !ok:
				missing++
			case pic.Alt == "" && p.of(piece).Pictured: // elsewhere words stand beside it
				wordless++
			}
		}
		if missing > 0 {
			out = append(out, Finding{What: several(missing, "A picture is missing.", "%d pictures are missing."), Remedy: "Choose another, or take it away.", PieceID: piece.ID, Gravity: Mend})
		}
		if wordless > 0 {
			out = append(out, Finding{What: several(wordless, "A picture has no words for those who cannot see it.", "%d pictures have no words for those who cannot see them."), Remedy: "Describe it in a few words, under Pictures.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	return out
}

// picturesOf are the pictures that a piece names, by itself and in its lists;
// a picture that names none yet is one that is missing.
func (p Page) picturesOf(piece manuscript.Piece) []string {
	var out []string
	_, named := p.Schema[piece.Kind].Field("picture")
	id := piece.Fields.Text("picture")
	if id == "" && named && p.of(piece).Pictured { // it shows that of what the page sells
		id = p.Facts.Products[p.Schema.Sells(p.Manuscript, "")].PictureID
	}
	if id != "" || (named && p.of(piece).Pictured) {
		out = append(out, id)
	}
	for name := range piece.Fields {
		out = append(out, piece.Fields.Texts(name, "picture")...)
	}
	return out
}

// several says one thing, or how many.
func several(n int, one, many string) string {
	if n == 1 {
		return one
	}
	return fmt.Sprintf(many, n)
}

func deadlines(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if !p.of(piece).Counts {
			return
		}
		d, ok := p.Facts.Deadline(piece.Fields.Text("deadline"), p.Moment)
		switch {
		case !ok && piece.Fields.Text("deadline") == "" && (p.follows() || p.Purpose == purpose.Product):
			// It counts to the end of the offer on what is sold here, where there is one.
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

// follows tells whether an offer at hand ends by a deadline, for timers to follow.
func (p Page) follows() bool {
	return slices.ContainsFunc(p.Facts.Offers, func(o offer.Offer) bool { return o.Holds(p.Moment) && p.Facts.Ends[o.ID] != "" })
}

// oddDeadline finds a timer at whose zero nothing changes: no offer on the page's
// goods ends, no band is hidden, shown or closed, no checkout closes.
func oddDeadline(p Page, piece manuscript.Piece, d deadline.Instance) []Finding {
	for _, o := range p.Facts.Offers {
		if o.Ends.Equal(d.At) || p.Facts.Bound[o.ID] == d.ID {
			return nil
		}
	}
	changes := false
	p.Manuscript.Walk(func(b manuscript.Band, other manuscript.Piece) {
		changes = changes || (b.Deadline == d.ID && b.AtZero != manuscript.Stays) ||
			(orders(p.of(other)) && other.Fields.Text("deadline") == d.ID && other.Fields.Text("after") == "close")
	})
	if changes {
		return nil
	}
	return []Finding{{What: "The timer counts to a moment at which nothing changes: no offer on this page ends, and nothing is hidden or closed.", Remedy: "Give an offer on these goods the same deadline, or take the timer away.", PieceID: piece.ID, Gravity: Stops}}
}

// goodsLeft finds goods that are sold here, shown large or stand on a shelf and
// of which none is left; and shelves on which next to nothing stands.
func goodsLeft(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		product, known := p.Facts.Products[piece.Fields.Text("product")]
		switch {
		case p.of(piece).Stands:
			out = append(out, onShelf(p, piece)...)
		case takes(p.of(piece)):
			sells, _ := p.Schema.Buys(piece)
			for _, id := range sells {
				product, known := p.Facts.Products[id]
				if known && product.Archived {
					out = append(out, Finding{What: product.Name + " is archived; nobody can order it here.", Remedy: "Bring it back under Goods, or sell something else.", PieceID: piece.ID, Gravity: Mend})
				} else if known && product.SoldOut() {
					out = append(out, Finding{What: product.Name + " is sold out; nobody can order it here.", Remedy: "Bring in stock, or sell something else.", PieceID: piece.ID, Gravity: Mend})
				}
			}
		case !known || !product.SoldOut():
		case p.of(piece).Shows || p.of(piece).Prices:
			out = append(out, Finding{What: product.Name + " is shown and sold out.", Remedy: "Bring in stock, or show something else.", PieceID: piece.ID, Gravity: Notice})
		}
	})
	return out
}

func onShelf(p Page, piece manuscript.Piece) []Finding {
	s, known := p.Facts.Shelves[piece.Fields.Text("shelf")]
	if !known {
		return nil
	}
	find := func(gravity Gravity, what, remedy string) []Finding {
		return []Finding{{What: what, Remedy: remedy, PieceID: piece.ID, Gravity: gravity}}
	}
	if _, beside := manuscript.Beside(piece.Fields.Text("shelf")); beside {
		if len(s.Goods) == 0 {
			return find(Notice, "Nothing stands beside this product on shelves of its own.", "Put it on a shelf with others, under Goods, Shelves: what shows them is left out until then.")
		}
		return nil
	}
	const loosen = "Loosen its rule under Goods, Shelves, where it says what would bring more."
	switch len(s.Goods) {
	case 0:
		return find(Mend, "Nothing stands on the shelf “"+s.Name+"” now.", loosen)
	case 1:
		return find(Notice, "Only one thing stands on the shelf “"+s.Name+"” now.", loosen)
	}
	gone, unsold := 0, 0
	for _, id := range shown(p, piece) {
		if p.Facts.Products[id].SoldOut() {
			gone++
		}
		if _, ok := p.Facts.Sold[id]; !ok {
			unsold++
		}
	}
	var out []Finding
	if gone > 0 {
		out = append(out, find(Notice, several(gone, "One of the goods shown on “"+s.Name+"” is sold out.", "%d of the goods shown on “"+s.Name+"” are sold out."), "Add to its rule that some must be in stock.")...)
	}
	if unsold > 0 && !p.Schema.Filled(p.Manuscript) {
		out = append(out, find(Notice, several(unsold, "One of the goods shown on “"+s.Name+"” leads nowhere: no live page sells it.", "%d of the goods shown on “"+s.Name+"” lead nowhere: no live page sells them."), "Publish a page that sells them, or say how to ask for them.")...)
	}
	return out
}

// unproved finds prices that are reduced without a former price that could be
// shown beside them.
func unproved(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		switch is := p.of(piece); {
		case is.Prices || is.Shows:
			if remedy, why := p.unproved(piece.Fields.Text("product")); why != "" {
				out = append(out, Finding{What: "The price is reduced, but no former price is shown. " + why, Remedy: remedy, PieceID: piece.ID, Gravity: Notice})
			}
		case is.Stands:
			n, remedy := 0, ""
			for _, id := range shown(p, piece) {
				if later, why := p.unproved(id); why != "" {
					n, remedy = n+1, later
				}
			}
			if n > 0 {
				out = append(out, Finding{What: several(n, "One price on the shelf is reduced without a former price that could be proved.", "%d prices on the shelf are reduced without former prices that could be proved."), Remedy: remedy, PieceID: piece.ID, Gravity: Notice})
			}
		}
	})
	return out
}

// unproved says why no former price of one of the goods can be shown though it
// is reduced, and when one could be; "" where all is well.
func (p Page) unproved(id string) (remedy, why string) {
	via := offer.Page
	if p.Purpose == "upsell" || p.Purpose == "downsell" {
		via = offer.Upsell
	}
	q, err := p.Facts.Quote([]offer.Item{{ProductID: id, Quantity: 1, Via: via}}, p.Moment)
	if err != nil || len(q.Lines) == 0 || len(q.Lines[0].Trail) == 0 {
		return "", ""
	}
	s := p.Facts.Struck(id, q.Lines[0].Price, p.Moment)
	if s.Struck != nil {
		return "", ""
	}
	remedy = "Nothing is struck out on the page until it can be."
	if !s.ProvableFrom.IsZero() {
		remedy = "A reduction that begins from " + deadline.Written(s.ProvableFrom, p.Facts.Store.Zone) + " on can be proved."
	}
	return remedy, s.Reason
}

// actions finds a sales page on which nothing leads to its checkout.
func actions(p Page) []Finding {
	if p.Purpose != "sales" {
		return nil
	}
	if !p.Schema.Has(p.Manuscript, func(t manuscript.Traits) bool { return t.Button }) {
		return []Finding{{What: "No button leads to the checkout.", Remedy: "Add one to the opening.", Gravity: Notice}}
	}
	return nil
}
