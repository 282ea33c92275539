// Package offer computes what a buyer pays, and proves it line by line.
//
// A price is never typed into a page: it follows from goods, offers and the
// moment, by [Compute], and everything that shows a price shows that one.
//
// Every kind of offer is one [rule] in a file of its own and one name in the
// list of kinds (kinds.go): what it is called, what a form asks for it, what may
// stand in it, and how it changes a price. What no other kind asks is a [Member]
// in member.go. Every condition is one function in the list of conditions.
package offer

import (
	"slices"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/shelf"

	"github.com/shopspring/decimal"
)

// Kind says what an offer does. Each is declared in a file of its own, kind_….go.
type Kind string

// Via says on what way a line came into the cart.
type Via string

// The ways into the cart. An offer bound to one of them holds only there.
const (
	Anywhere Via = ""
	Page     Via = "page"
	Bump     Via = "bump"
	Upsell   Via = "upsell"
)

// Ways lists them all.
var Ways = []Via{Anywhere, Page, Bump, Upsell}

// Offer changes what a buyer pays, where its conditions are met.
type Offer struct {
	ID      string    `json:"id"`
	Name    string    `json:"name,omitempty"`
	Kind    Kind      `json:"kind"`
	Created time.Time `json:"created,omitzero"` // the older of two equal offers wins
	// Class says what the offer may be combined with. An offer without one is by
	// itself in its level: no other offer of the level works on the same units (or
	// the same order, or its shipping). Offers of one class add up.
	Class string `json:"class,omitempty"`
	// Alone says that the offer shares no unit with any other: see [Offer.Validate]
	// for where it may stand and docs/formats/quote.md for what it means.
	Alone bool `json:"alone,omitempty"`

	Percent decimal.Decimal `json:"percent,omitzero"`
	Amount  money.Money     `json:"amount,omitzero"`
	Steps   []Step          `json:"steps,omitempty" jsonschema:"maxItems=50"`          // steps: by rising quantity
	Buy     int             `json:"buy,omitempty" jsonschema:"minimum=0,maximum=1000"` // buy_get: units paid in full
	Get     int             `json:"get,omitempty" jsonschema:"minimum=0,maximum=1000"` // buy_get: units reduced by Percent; 100 and 0 are free
	Parts   []Part          `json:"parts,omitempty" jsonschema:"maxItems=50"`          // set: what belongs to it
	GiftID  string          `json:"gift_id,omitempty"`

	// What it covers. Without any, it covers all goods.
	ProductID string      `json:"product_id,omitempty"` // one of the goods
	Products  []string    `json:"products,omitempty"`   // or several
	Shelf     *shelf.Rule `json:"shelf,omitempty"`      // or by rule; prices in it are list prices

	Conditions
}

// Step is what holds from a quantity on.
type Step struct {
	From    int             `json:"from" jsonschema:"minimum=1"` // units of all the goods covered, in the basket
	Percent decimal.Decimal `json:"percent,omitzero"`
	Amount  *money.Money    `json:"amount,omitempty"` // set price of each unit, instead of Percent
}

// Part is one of the goods of a set.
type Part struct {
	ProductID string `json:"product_id"`
	Quantity  int    `json:"quantity" jsonschema:"minimum=1,maximum=1000"`
}

// Window is a span of time, closed at its start and open at its end.
type Window struct {
	Starts time.Time `json:"starts,omitzero"` // zero: it always has
	Ends   time.Time `json:"ends,omitzero"`   // zero: never
}

// Holds tells whether a moment lies in the window.
func (w Window) Holds(moment time.Time) bool {
	return !moment.Before(w.Starts) && (w.Ends.IsZero() || moment.Before(w.Ends))
}

// Covers tells whether the offer is on one of the goods.
func (o Offer) Covers(p goods.Product, at shelf.Sight) bool {
	if o.ProductID == "" && len(o.Products) == 0 && o.Shelf == nil {
		return true
	}
	return o.ProductID == p.ID && p.ID != "" || slices.Contains(o.Products, p.ID) ||
		(o.Shelf != nil && o.Shelf.Meets(shelf.Entry{Product: p}, at))
}

// General tells whether the offer is on everything.
func (o *Offer) General() bool { return o.ProductID == "" && len(o.Products) == 0 && o.Shelf == nil }

// Limits of what is accepted from outside.
const (
	MaxGroup    = 1000 // units in one group of buy_get or set
	MaxParts    = 50
	MaxProducts = 10_000
)

// Level is the stage of a quote at which the offer works.
func (o *Offer) Level() Level { return kinds[o.Kind].level }

// Describe says what the offer does in a few words: 25% off, or €5.00 off.
func (o Offer) Describe() string {
	if rule, known := kinds[o.Kind]; known {
		return rule.says(o)
	}
	return string(o.Kind)
}

// Public tells whether everybody meets the offer on one unit without doing
// anything for it: then the price ledger keeps what it makes of a price.
func (o *Offer) Public() bool {
	c := o.Conditions
	level := o.Level()
	return level == Unit && !c.NeedsCode && len(c.Codes) == 0 && c.Only == Anywhere && c.Link == "" && c.PopUp == "" && c.Step == "" &&
		!c.FirstOrder && c.MaxUses == 0 && c.MaxUsesEach == 0 && c.MinQuantity <= 1 && c.MinSubtotal.Minor == 0 && len(c.Countries) == 0
}
