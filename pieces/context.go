package pieces

import (
	"fmt"
	"html/template"
	"slices"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/rich"
	"chrysagon/core/target"
)

// Place is where in its funnel and shop a page stands.
type Place struct {
	Address string // path on the shopfront, without the slash
	Upsell  bool   // the page is offered after a payment
	Till    string // origin of the till, for its card frame
}

// Form is what a visitor typed into a page's checkout and what came of it.
type Form struct {
	Values map[string]string
	Errors map[string]string
	Notice string // said above the form, such as why a card was declined
	Again  string // token of an order this visitor already placed here
	Piece  string // ID of the form it was typed into; empty: the checkout
	Sent   bool   // that form has been taken
}

// Sealer signs what carts come to by these facts at a moment.
type Sealer func(c *Context, carts ...[]offer.Item) string

// Context is what a page is drawn from, beside its manuscript.
type Context struct {
	Facts  facts.Facts
	Moment time.Time
	// Composition is the one in which the page is drawn.
	Composition int
	Place       Place
	Form        Form
	Whole       func(href string) string   // makes an address of ours whole, with what it carries, for where it stands on no page of ours; nil: it stands on one
	Proof       bool                       // drawn in the studio: nothing may be sent from it
	Icon        func(string) template.HTML // inline SVG of a shipped icon
	Ornament    func(string) string        // address of a drawn ornament that ships, in the house's colours; "": there is none
	Seal        Sealer                     // signs what a visitor is shown
	// Leading is what links ask of the page; its facts, address and bands are the context’s.
	Leading target.On
	Band    func(id string) string // name of a band of the page; "" when it is gone
	Cart    func() []offer.Item    // what the page's checkout would order; nil where it has none, or it is closed
	Lists   func() []string        // IDs of the goods on the page's lists, each once; nil: it has none
	Filling func() *Filling        // what of them stands in the page's checkout; nil: they are not put into one
	Paged   string                 // ID of the one piece that shows its list in pages; "": none does
	Sells   string                 // ID of the product that the page sells; "": none
	until   time.Time
	own     bool
	closed  string
	lead    string
	headed  bool
	drawn   map[string]bool
	quotes  map[string]offer.Quote // by cart
}

// Holds notes that what was drawn changes by itself at that moment.
func (c *Context) Holds(until time.Time) {
	if until.After(c.Moment) && (c.until.IsZero() || until.Before(c.until)) {
		c.until = until
	}
}

// Deadline is a deadline as it stands for whom the page is drawn, and notes
// until when that holds.
func (c *Context) Deadline(id string) (deadline.Instance, bool) {
	d, ok := c.Facts.Deadline(id, c.Moment)
	if ok {
		c.Holds(d.Next(c.Moment))
		c.own = c.own || d.Personal
	}
	return d, ok
}

// Ends is the deadline at which the price of what the page sells ends: that of an
// offer at work on it now. It is "" where nothing ends by itself.
func (c *Context) Ends() string {
	if c.Sells == "" {
		return ""
	}
	q, err := c.Quote(offer.Item{ProductID: c.Sells, Quantity: 1, Via: c.Via()})
	if err != nil {
		return ""
	}
	for _, l := range q.Lines {
		for _, a := range l.Trail {
			if id := c.Facts.Ends[a.OfferID]; id != "" {
				return id
			}
		}
	}
	for _, r := range q.Reductions {
		if id := c.Facts.Ends[r.OfferID]; id != "" {
			return id
		}
	}
	return ""
}

// Enter begins to draw a band and tells whether it is shown: what happens to it
// at its deadline is decided here.
func (c *Context) Enter(b manuscript.Band) bool {
	c.closed = ""
	if !c.meant(b.Only) {
		return false
	}
	if b.Deadline == "" || b.AtZero == manuscript.Stays {
		return true
	}
	d, ok := c.Deadline(b.Deadline)
	if !ok {
		return true
	}
	passed := d.Passed(c.Moment)
	switch b.AtZero {
	case manuscript.Hides:
		return !passed
	case manuscript.Appears:
		return passed
	case manuscript.Closes:
		if passed {
			c.closed = "Orders closed on " + d.Told() + "."
		}
	case manuscript.Leads:
		if passed && c.lead == "" {
			c.lead = b.LeadTo
		}
	case manuscript.Stays:
	}
	return true
}

// meant tells whether a band is for whom the page is drawn. A proof without an order shows
// what it would show to any buyer.
func (c *Context) meant(only manuscript.Only) bool {
	if id, is := only.Shelf(); is {
		return slices.Contains(c.Facts.Shelves[id].Named, c.Sells)
	}
	if only == "" || c.Facts.Order == nil {
		return only == "" || c.Proof
	}
	holds := c.Facts.Order.Holds
	return map[manuscript.Only]bool{
		manuscript.OnlySent: holds.Sent, manuscript.OnlyCollected: holds.Collected, manuscript.OnlyDownloaded: holds.Downloaded, manuscript.OnlyBooked: holds.Booked,
	}[only]
}

// Href is where a link leads, as an href has it; false when it leads nowhere.
func (c *Context) Href(text string) (template.URL, bool) {
	to, err := target.Parse(text)
	if err != nil {
		return "", false
	}
	href, ok := to.Href(c.on())
	if c.Whole != nil {
		href = c.Whole(href)
	}
	return template.URL(href), ok //nolint:gosec // target.Parse lets through only https, http, tel, mailto and our own addresses
}

// on is the page as its links ask for it.
func (c *Context) on() target.On {
	on := c.Leading
	on.Facts, on.Address, on.Band = &c.Facts, c.Place.Address, c.Band
	return on
}

// Rich writes copy with structure. Links of which nothing is known keep their
// words only.
func (c *Context) Rich(text string) template.HTML {
	return template.HTML(rich.HTML(text, c.sub(), func(target string) (string, bool) { //nolint:gosec // rich writes elements of copy and escapes all words
		href, ok := c.Href(target)
		return string(href), ok
	}))
}

// sub is the level of sub-headings: one below the last heading that was drawn,
// so that none is left out (WCAG 2.2, 1.3.1).
func (c *Context) sub() int {
	if c.headed {
		return 3
	}
	return 2
}

// Once tells whether something is drawn for the first time, such as an anchor
// that a page may have only once.
func (c *Context) Once(name string) bool {
	if c.drawn == nil {
		c.drawn = map[string]bool{}
	}
	first := !c.drawn[name]
	c.drawn[name] = true
	return first
}

// Headed notes that a heading of the second level was drawn.
func (c *Context) Headed() { c.headed = true }

// Leads says in words where a link leads.
func (c *Context) Leads(text string) string {
	to, err := target.Parse(text)
	if err != nil {
		return "nowhere"
	}
	return to.Words(c.on())
}

// Closed says why the band that is being drawn takes no orders, or "".
func (c *Context) Closed() string { return c.closed }

// Lead is the ID of the page to which this one leads since a deadline, or "".
func (c *Context) Lead() string { return c.lead }

// Personal tells whether something drawn differs from visitor to visitor, so
// that the page must not be kept for others.
func (c *Context) Personal() bool {
	for _, id := range c.Facts.Bound {
		if d, ok := c.Facts.Deadlines[id]; ok && d.Personal() {
			return true
		}
	}
	return c.own
}

// Show prices a cart and marks it with the former prices that are proved.
func (c *Context) Show(items ...offer.Item) (facts.Shown, error) {
	q, err := c.Quote(items...)
	return c.Facts.Show(q), err
}

// Until is the earliest moment at which anything drawn changes by itself; zero
// when nothing does.
func (c *Context) Until() time.Time { return c.until }

// Via is the way by which this page's own product is bought.
func (c *Context) Via() offer.Via {
	if c.Place.Upsell {
		return offer.Upsell
	}
	return offer.Page
}

// Quote prices a cart at the page's moment and notes until when that holds. Price,
// checkout, summary and seal ask for the same carts: each is priced once.
func (c *Context) Quote(items ...offer.Item) (offer.Quote, error) {
	cart := fmt.Sprintf("%+v", items)
	if q, known := c.quotes[cart]; known {
		return q, nil
	}
	q, err := c.Facts.Quote(items, c.Moment)
	if err != nil {
		return q, err
	}
	c.Holds(q.NextChange)
	if c.quotes == nil {
		c.quotes = map[string]offer.Quote{}
	}
	c.quotes[cart] = q
	return q, nil
}

// Lines cuts a prose text into its non-empty lines.
func Lines(text string) []string {
	var lines []string
	for line := range strings.SplitSeq(text, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			lines = append(lines, line)
		}
	}
	return lines
}

// Or returns the first text that is not blank.
func Or(texts ...string) string {
	for _, t := range texts {
		if strings.TrimSpace(t) != "" {
			return t
		}
	}
	return ""
}

// Label is the label of a choice's value; of none, that of the default.
func Label(options []manuscript.Option, value, otherwise string) string {
	value = Or(value, otherwise)
	for _, o := range options {
		if o.Value == value {
			return o.Label
		}
	}
	return value
}
