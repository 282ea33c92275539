package offer

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/money"
)

// Conditions say when an offer holds. An empty one always does.
type Conditions struct {
	Starts  time.Time `json:"starts,omitzero"`   // the one window, when there is one
	Ends    time.Time `json:"ends,omitzero"`     //
	Windows []Window  `json:"windows,omitempty"` // or several

	NeedsCode bool   `json:"needs_code,omitempty"` // holds only with one of its codes
	Codes     []Code `json:"codes,omitempty"`      // any of them; naming some means that one is needed

	Only  Via    `json:"only,omitempty"`   // holds only for what is added as a bump or an upsell
	Link  string `json:"link,omitempty"`   // only for who came by this link
	PopUp string `json:"pop_up,omitempty"` // only in this pop-up
	Step  string `json:"step,omitempty"`   // only on this step of a funnel

	MinQuantity int         `json:"min_quantity,omitempty" jsonschema:"minimum=0"` // units of the goods covered
	MinSubtotal money.Money `json:"min_subtotal,omitzero"`                         // of the goods covered: at list price for offers on units and groups, after those for all others
	FirstOrder  bool        `json:"first_order,omitempty"`                         // the buyer has not bought before
	MaxUses     int         `json:"max_uses,omitempty" jsonschema:"minimum=0"`     // orders in all
	MaxUsesEach int         `json:"max_uses_each,omitempty" jsonschema:"minimum=0"`
	NotReduced  bool        `json:"not_reduced,omitempty"` // not on goods that another offer reduced
	Countries   []string    `json:"countries,omitempty"`   // where the order goes
}

// Code is one code of an offer.
type Code struct {
	Code    string `json:"code" jsonschema:"minLength=1"`
	MaxUses int    `json:"max_uses,omitempty" jsonschema:"minimum=0"` // orders; 0: no limit
	Used    int    `json:"used,omitempty" jsonschema:"minimum=0"`
}

// Context is what a quote knows of the buyer and the way here.
type Context struct {
	Country    string         `json:"country,omitempty"` // ISO 3166-1, two letters
	Region     string         `json:"region,omitempty"`
	FirstOrder bool           `json:"first_order,omitempty"`
	Link       string         `json:"link,omitempty"`
	PopUp      string         `json:"pop_up,omitempty"`
	Step       string         `json:"step,omitempty"`
	Uses       map[string]int `json:"uses,omitempty"`       // orders that used an offer, by its ID
	BuyerUses  map[string]int `json:"buyer_uses,omitempty"` // this buyer's orders that did
}

func (c *Conditions) windows() []Window {
	if len(c.Windows) > 0 {
		return c.Windows
	}
	return []Window{{c.Starts, c.Ends}}
}

// Holds tells whether the moment lies in one of the windows.
func (c *Conditions) Holds(moment time.Time) bool {
	return slices.ContainsFunc(c.windows(), func(w Window) bool { return w.Holds(moment) })
}

// Edge is the first start or end of a window after the moment; zero: none.
func (c *Conditions) Edge(moment time.Time) time.Time {
	var next time.Time
	for _, w := range c.windows() {
		for _, edge := range []time.Time{w.Starts, w.Ends} {
			if edge.After(moment) && (next.IsZero() || edge.Before(next)) {
				next = edge
			}
		}
	}
	return next
}

// wantsCode tells whether a code is needed.
func (c *Conditions) wantsCode() bool { return c.NeedsCode || len(c.Codes) > 0 }

// condition says why an offer does not hold for a cart, or "". Those that
// look at reduced prices come later: the subtotal of offers on the order, on
// shipping and of gifts, and goods already reduced.
type condition func(*sheet, *prepared) string

var conditions = []condition{inWindow, withCode, byWay, inCountry, firstOrder, notUsedUp, coversSome, enough, enoughForUnits}

func inWindow(s *sheet, o *prepared) string {
	if o.Holds(s.in.Moment) {
		return ""
	}
	if next := o.Edge(s.in.Moment); !next.IsZero() {
		return "It begins on " + deadline.Written(next, s.zone) + "."
	}
	var ended time.Time
	for _, w := range o.windows() {
		if w.Ends.After(ended) {
			ended = w.Ends
		}
	}
	return "It ended on " + deadline.Written(ended, s.zone) + "."
}

func withCode(s *sheet, o *prepared) string {
	if !o.wantsCode() {
		return ""
	}
	say := "It needs a code."
	for _, code := range o.Codes {
		typed := s.typed[Normal(code.Code)]
		if typed == 0 {
			continue
		}
		if code.MaxUses == 0 || code.Used < code.MaxUses {
			o.by |= typed
			continue
		}
		say = fmt.Sprintf("The code %s has been used up.", code.Code)
	}
	if o.by != 0 {
		return ""
	}
	return say
}

func byWay(s *sheet, o *prepared) string {
	c := s.in.Context
	switch {
	case o.Link != "" && o.Link != c.Link:
		return "It holds only for who comes by its link."
	case o.PopUp != "" && o.PopUp != c.PopUp:
		return "It holds only in its pop-up."
	case o.Step != "" && o.Step != c.Step:
		return "It holds only on its own step."
	}
	return ""
}

func inCountry(s *sheet, o *prepared) string {
	if len(o.Countries) == 0 || slices.Contains(o.Countries, s.in.Context.Country) {
		return ""
	}
	return "It holds only for orders that go to " + strings.Join(o.Countries, ", ") + "."
}

func firstOrder(s *sheet, o *prepared) string {
	if !o.FirstOrder || s.in.Context.FirstOrder {
		return ""
	}
	return "It holds only for a buyer's first order."
}

func notUsedUp(s *sheet, o *prepared) string {
	if o.MaxUses > 0 && s.in.Context.Uses[o.ID] >= o.MaxUses {
		return fmt.Sprintf("It has been used %d times, which is all it allows.", o.MaxUses)
	}
	if o.MaxUsesEach > 0 && s.in.Context.BuyerUses[o.ID] >= o.MaxUsesEach {
		return fmt.Sprintf("This buyer has used it %d times, which is all it allows.", o.MaxUsesEach)
	}
	return ""
}

func coversSome(s *sheet, o *prepared) string {
	if len(o.lines) > 0 {
		return ""
	}
	if o.Only != Anywhere {
		for i := range s.lines {
			if o.Covers(*s.lines[i].product, s.sight) {
				return fmt.Sprintf("It holds only for what is added as %s.", o.Only.phrase())
			}
		}
	}
	return "None of its goods is in the cart."
}

func enough(_ *sheet, o *prepared) string {
	if o.units < o.MinQuantity {
		return fmt.Sprintf("It needs %d of its goods; the cart has %d.", o.MinQuantity, o.units)
	}
	return ""
}

// enoughForUnits is the subtotal of an offer on units or groups: of the units
// that it covers, at list price.
func enoughForUnits(s *sheet, o *prepared) string {
	if (o.rule.level != Unit && o.rule.level != Group) || o.list >= o.MinSubtotal.Minor {
		return ""
	}
	return fmt.Sprintf("It needs goods for %s; the cart has %s of them, at list price.", o.MinSubtotal, money.Of(o.list, s.in.Currency))
}

func (v Via) phrase() string {
	switch v {
	case Bump:
		return "an order bump"
	case Upsell:
		return "an upsell"
	case Page, Anywhere:
		return "the page's own product"
	}
	return string(v)
}
