package offer

import (
	"fmt"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
)

// The most that one cart may hold. Beyond it a quote is refused, not computed.
const (
	MaxLines    = 500
	MaxQuantity = 10_000
	MaxCodes    = 3
)

// Item is one line of a cart before it is priced.
type Item struct {
	ProductID string `json:"product_id"`
	Quantity  int    `json:"quantity" jsonschema:"minimum=1,maximum=10000"`
	Via       Via    `json:"via,omitempty"`
}

// Adjustment says which offer changed a unit price, by how much and why.
type Adjustment struct {
	OfferID string      `json:"offer_id"`
	Name    string      `json:"name"`
	Off     money.Money `json:"off"` // taken off each unit
	Why     string      `json:"why"`
}

// Line is some units of one line of the cart that have the same price. Price
// and List are for one unit. A line of the cart whose units differ in price
// stands here as several.
type Line struct {
	Item      int          `json:"item"` // index in the cart; -1 for a gift
	ProductID string       `json:"product_id"`
	Name      string       `json:"name"`
	Via       Via          `json:"via,omitempty"`
	Quantity  int          `json:"quantity"`
	List      money.Money  `json:"list"`
	Price     money.Money  `json:"price"`
	Trail     []Adjustment `json:"trail"`
	Total     money.Money  `json:"total"`              // Price times Quantity
	Off       money.Money  `json:"order_off"`          // its share of the reductions of the order
	Net       money.Money  `json:"net"`                // Total less Off
	Tax       *money.Money `json:"tax,omitempty"`      // in Net, or on it
	TaxRate   string       `json:"tax_rate,omitempty"` // percent
	Gift      bool         `json:"gift,omitempty"`
	Margin    *Margin      `json:"margin,omitempty"` // when the cost is known
}

// Margin is what the store keeps of a price: net of tax, less cost.
type Margin struct {
	Kept    money.Money `json:"kept"`
	Percent int         `json:"percent"`           // of the price without tax, rounded down
	Partial bool        `json:"partial,omitempty"` // the cost of some goods is not known, so they are left out
}

// Reduction is what an offer takes off the order.
type Reduction struct {
	OfferID string      `json:"offer_id"`
	Name    string      `json:"name"`
	Off     money.Money `json:"off"`
	Why     string      `json:"why"`
}

// Sending is what shipping costs.
type Sending struct {
	shipping.Cost
	Trail []Adjustment `json:"trail,omitempty"`
	Total money.Money  `json:"total"` // paid
}

// Refusal says why an offer did not apply.
type Refusal struct {
	OfferID string `json:"offer_id"`
	Name    string `json:"name"`
	Reason  string `json:"reason"`
}

// CodeAnswer says what became of a code that was typed.
type CodeAnswer struct {
	Code    string `json:"code"`
	OfferID string `json:"offer_id,omitempty"`
	Applied bool   `json:"applied"`
	Say     string `json:"say"`
}

// Weighed says whether all offers that hold for a cart were weighed.
type Weighed string

// The answers. Where only some were, see [MaxWeighed].
const (
	WeighedAll  Weighed = "all"
	WeighedSome Weighed = "some"
)

// Quote is what a buyer pays for a cart at a moment, and the proof of it.
type Quote struct {
	Moment        time.Time    `json:"moment"`
	Lines         []Line       `json:"lines"`
	List          money.Money  `json:"list_total"` // the cart at list prices; gifts are not counted
	Goods         money.Money  `json:"goods"`      // after offers on units and groups
	Reductions    []Reduction  `json:"reductions"` // of the order
	Subtotal      money.Money  `json:"subtotal"`   // after those
	Shipping      Sending      `json:"shipping"`
	Taxes         []tax.Share  `json:"taxes"`
	TaxIncluded   bool         `json:"tax_included"`
	Tax           money.Money  `json:"tax"`
	Total         money.Money  `json:"total"`
	Saving        money.Money  `json:"saving"`                // List less Subtotal
	SavingPercent int          `json:"saving_percent"`        // rounded down
	NextChange    time.Time    `json:"next_change,omitzero"`  // first moment at which this quote can change by itself
	NotApplied    []Refusal    `json:"not_applied,omitempty"` // every offer that gave nothing, with the reason
	Codes         []CodeAnswer `json:"codes,omitempty"`       // every code that was handed in
	Weighed       Weighed      `json:"weighed"`               // whether all offers that hold were weighed against each other
	Margin        *Margin      `json:"margin,omitempty"`      // of the order, when any cost is known
	Warnings      []string     `json:"warnings,omitempty"`    // for the owner: sold under cost, or under the floor
}

// Input is all that a quote depends on.
type Input struct {
	Currency string          `json:"currency"`
	Zone     string          `json:"zone,omitempty"` // in which days are counted and dates written; UTC when empty
	Goods    []goods.Product `json:"goods"`
	Offers   []Offer         `json:"offers,omitempty"`
	Cart     []Item          `json:"cart" jsonschema:"maxItems=500"`
	Codes    []string        `json:"codes,omitempty" jsonschema:"maxItems=3"`
	Context  Context         `json:"context,omitzero"`
	Moment   time.Time       `json:"moment"`
	Tax      *tax.Table      `json:"tax,omitempty"`
	Shipping *shipping.Table `json:"shipping,omitempty"`
	Floor    decimal.Decimal `json:"floor_percent,omitzero"` // least margin the store wants, in percent
}

// Compute prices a cart.
//
// The order of work: (1) offers on units and groups change unit prices, and
// the new price is what is rounded, so that the price shown times the quantity
// is the price charged; (2) offers on the order round once each and are split
// over the lines they cover by largest remainder; (3) shipping, whose
// thresholds look at the goods after (1); (4) tax on each line after all
// reductions, rounded on the line. The subtotal condition of an offer on units or
// groups looks at list prices, every other at the goods after (1). Of all sets of
// the offers that are weighed ([MaxWeighed]) the cheapest for the buyer wins, then
// that of the fewest offers, then of the oldest, then by ID, whatever the order of
// the input; then each offer without which nothing becomes dearer is left away.
func Compute(in Input) (Quote, error) {
	s, err := prepare(in)
	if err != nil {
		return Quote{}, err
	}
	if err := s.deliverable(); err != nil {
		return Quote{}, err
	}
	best := s.cheapest()
	return s.write(best), nil
}

// deliverable refuses a cart that the store does not send.
func (s *sheet) deliverable() error {
	if s.in.Shipping == nil || s.in.Context.Country == "" {
		return nil
	}
	if _, err := s.in.Shipping.Price(s.parcel, s.in.Currency); err != nil {
		return fmt.Errorf("context.%w", err)
	}
	return nil
}

// write puts an outcome down as a quote.
func (s *sheet) write(o outcome) Quote {
	s.addTax(&o)
	m := func(minor int64) money.Money { return money.Of(minor, s.in.Currency) }
	q := Quote{
		Moment: s.in.Moment, Lines: make([]Line, 0, len(o.parts)), Reductions: []Reduction{}, Taxes: o.taxes,
		Goods: m(o.goods), Subtotal: m(o.goods), Total: m(o.total), List: m(0), Tax: m(0),
	}
	if q.Taxes == nil {
		q.Taxes = []tax.Share{}
	}
	for i, p := range o.parts {
		l := s.line(p, o.off[i])
		if o.lineTax != nil && o.lineTax[i].known {
			part := m(o.lineTax[i].part)
			l.Tax, l.TaxRate = &part, o.lineTax[i].rate.Percent.String()
		}
		q.List.Minor += l.List.Minor * int64(l.Quantity)
		q.Subtotal.Minor -= o.off[i]
		q.Lines = append(q.Lines, l)
	}
	for _, c := range o.cuts {
		q.Reductions = append(q.Reductions, Reduction{c.offer.ID, c.offer.Name, m(c.off), c.offer.Describe()})
	}
	q.Shipping = Sending{Cost: o.sending, Total: m(o.carry)}
	if len(o.carried) > 0 {
		q.Shipping.Trail = trail(o.sending.Price.Minor, o.carried, s.in.Currency)
	}
	for _, share := range o.taxes {
		q.Tax.Minor += share.Tax.Minor
	}
	q.TaxIncluded = s.in.Tax == nil || s.in.Tax.Included
	q.Saving = m(q.List.Minor - q.Subtotal.Minor)
	q.SavingPercent = money.SavingPercent(q.List, q.Subtotal)
	gifts := s.addGifts(&q, o)
	q.NextChange = s.nextChange()
	used := append(gifts, o.used...)
	q.Weighed = WeighedAll
	if s.more {
		q.Weighed = WeighedSome
	}
	q.NotApplied = s.refusals(used, o)
	q.Codes = s.codes(used, q.NotApplied)
	s.margins(&q)
	return q
}

func (s *sheet) line(p part, off int64) Line {
	r := &s.lines[p.line]
	l := Line{
		Item: p.line, ProductID: r.product.ID, Name: r.product.Name, Via: r.item.Via, Quantity: p.units,
		List: r.product.Price, Price: money.Of(p.price, s.in.Currency), Trail: trail(r.product.Price.Minor, p.uses, s.in.Currency),
		Off: money.Of(off, s.in.Currency),
	}
	l.Total = l.Price.Times(l.Quantity)
	l.Net = money.Of(l.Total.Minor-off, s.in.Currency)
	return l
}
