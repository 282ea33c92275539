package offer

import (
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/country"
	"chrysagon/core/money"
	"chrysagon/core/shelf"

	"github.com/shopspring/decimal"
)

// Fault says what is wrong with an offer, and in which of its members.
type Fault struct {
	Place string // such as steps[1].from
	Say   string // what stands there and what could
}

func (f Fault) Error() string { return f.Place + ": " + f.Say }

func fault(place, say string, args ...any) error { return Fault{place, fmt.Sprintf(say, args...)} }

// MaxTotal is the most that the goods of one cart may come to at list price,
// with the tax that comes on top, in minor units: no sum of a quote is above
// that and a parcel, which 64 bits hold.
const MaxTotal = 9_000_000 * money.Limit

// Validate says what is wrong with an offer, or nil. The error is a [Fault].
func (o *Offer) Validate(currency string) error {
	rule, known := kinds[o.Kind]
	if !known {
		return fault("kind", "%q; it must be one of %s", o.Kind, strings.Join(KindNames(), ", "))
	}
	if err := o.onlyItsOwn(rule); err != nil {
		return err
	}
	if o.Alone && !o.Kind.StandsAlone() {
		return fault("alone", "an offer of the kind %s works on no unit, so it cannot stand alone; leave it out", o.Kind)
	}
	if o.Alone && o.Class != "" {
		return fault("alone", "an offer that stands alone adds up with no other, and this one is of the class %q; leave out one of the two", o.Class)
	}
	if len(o.Products) > MaxProducts {
		return fault("products", "%d of them; at most %d can be named, pick them by a shelf", len(o.Products), MaxProducts)
	}
	if o.Shelf != nil {
		if err := (shelf.Shelf{Rule: *o.Shelf}).Validate(); err != nil {
			return fault("shelf", "%s", strings.TrimPrefix(err.Error(), "rule: "))
		}
	}
	if err := rule.check(*o, currency); err != nil {
		return err
	}
	return o.validate(currency)
}

// onlyItsOwn refuses members that belong to other kinds of offer: what would
// change nothing is a mistake.
func (o *Offer) onlyItsOwn(r *rule) error {
	for _, m := range every {
		if m.has(o) && !slices.ContainsFunc(r.members, func(own Member) bool { return own.Name == m.Name }) {
			return fault(m.Name, "an offer of the kind %s has none; it takes %s", o.Kind, r.takes())
		}
	}
	if !r.onParts {
		return nil
	}
	for name, has := range map[string]bool{"product_id": o.ProductID != "", "products": len(o.Products) > 0, "shelf": o.Shelf != nil} {
		if has {
			return fault(name, "a set is on its parts; name its goods there")
		}
	}
	return nil
}

func (c *Conditions) validate(currency string) error {
	for i, w := range c.windows() {
		if !w.Starts.IsZero() && !w.Ends.IsZero() && !w.Starts.Before(w.Ends) {
			place := "ends"
			if len(c.Windows) > 0 {
				place = fmt.Sprintf("windows[%d].ends", i)
			}
			return fault(place, "%s is not after its start, %s", w.Ends.Format(rfc3339), w.Starts.Format(rfc3339))
		}
	}
	if m := c.MinSubtotal; m.Minor != 0 && m.Currency != currency {
		return fault("min_subtotal", "is in %q, the goods are in %s; amounts of two currencies cannot be computed together", m.Currency, currency)
	}
	for name, n := range map[string]int64{
		"min_quantity": int64(c.MinQuantity), "max_uses": int64(c.MaxUses), "max_uses_each": int64(c.MaxUsesEach), "min_subtotal.minor": c.MinSubtotal.Minor,
	} {
		if n < 0 {
			return fault(name, "%d; it cannot be below zero", n)
		}
	}
	if !c.Only.Known() {
		return fault("only", "%q; it must be %s", c.Only, viaSays)
	}
	for i, code := range c.Codes {
		if Normal(code.Code) == "" {
			return fault(fmt.Sprintf("codes[%d].code", i), "empty; write its letters and digits")
		}
		if code.MaxUses < 0 || code.Used < 0 {
			return fault(fmt.Sprintf("codes[%d]", i), "its uses cannot be below zero")
		}
	}
	for i, code := range c.Countries {
		if !country.Known(code) {
			return fault(fmt.Sprintf("countries[%d]", i), "%v", country.CheckTable(code))
		}
	}
	return nil
}

const rfc3339 = "2006-01-02T15:04:05Z07:00"

// viaSays says which ways into the cart there are.
const viaSays = "page, bump or upsell, or be left out"

// Known tells whether it is one of [Ways].
func (v Via) Known() bool { return slices.Contains(Ways, v) }

// check refuses input that cannot be priced, with the place and reason.
func (s *sheet) check() error {
	in := s.in
	if _, err := money.Digits(in.Currency); err != nil {
		return fmt.Errorf("currency: %w", err)
	}
	if in.Moment.IsZero() {
		return fmt.Errorf("moment: missing; write it like 2026-11-27T23:59:00Z")
	}
	if err := country.Check(in.Context.Country); err != nil {
		return fmt.Errorf("context.country: %w", err)
	}
	if in.Floor.IsNegative() || in.Floor.GreaterThan(decimal.NewFromInt(100)) {
		return fmt.Errorf("floor_percent: %s; it must be from 0 to 100", in.Floor)
	}
	if err := s.checkGoods(); err != nil {
		return err
	}
	seen := make(map[string]bool, len(in.Offers))
	for i := range in.Offers {
		o := &in.Offers[i]
		if seen[o.ID] || o.ID == "" {
			return fmt.Errorf("offers[%d].id: %q is empty or used twice", i, o.ID)
		}
		seen[o.ID] = true
		if err := o.Validate(in.Currency); err != nil {
			return fmt.Errorf("offers[%d].%w", i, err)
		}
	}
	if len(in.Codes) > MaxCodes {
		return fmt.Errorf("codes: %d of them; at most %d can be handed in at once", len(in.Codes), MaxCodes)
	}
	if in.Tax != nil {
		if err := in.Tax.Validate(); err != nil {
			return fmt.Errorf("tax.%w", err)
		}
	}
	if err := s.checkCart(); err != nil {
		return err
	}
	if in.Shipping != nil {
		if err := in.Shipping.Validate(in.Currency); err != nil {
			return fmt.Errorf("shipping.%w", err)
		}
	}
	return nil
}

// checkCart refuses lines that cannot be priced, and more goods than can be
// counted.
func (s *sheet) checkCart() error {
	if len(s.in.Cart) > MaxLines {
		return fmt.Errorf("cart: %d lines; at most %d can be quoted at once", len(s.in.Cart), MaxLines)
	}
	sum := int64(0)
	for i, item := range s.in.Cart {
		p := s.byID[item.ProductID]
		if p == nil {
			return fmt.Errorf("cart[%d].product_id: there is no product %q among the goods", i, item.ProductID)
		}
		if item.Quantity < 1 || item.Quantity > MaxQuantity {
			return fmt.Errorf("cart[%d].quantity: %d; it must be from 1 to %d", i, item.Quantity, MaxQuantity)
		}
		if !item.Via.Known() {
			return fmt.Errorf("cart[%d].via: %q; it must be %s", i, item.Via, viaSays)
		}
		line := money.Of(p.Price.Minor*int64(item.Quantity), s.in.Currency)
		sum += line.Minor
		if s.in.Tax != nil && !s.in.Tax.Included {
			if r, ok := s.in.Tax.Find(s.place(), p.Class()); ok {
				sum += s.in.Tax.Of(line, r).Minor
			}
		}
		if sum > MaxTotal {
			return fmt.Errorf("cart[%d].quantity: with %d of these the order comes to more than %d minor units, which is the most that is computed", i, item.Quantity, MaxTotal)
		}
	}
	return nil
}

func (s *sheet) checkGoods() error {
	for i := range s.in.Goods {
		p := &s.in.Goods[i]
		if s.byID[p.ID] != nil || p.ID == "" {
			return fmt.Errorf("goods[%d].id: %q is empty or used twice", i, p.ID)
		}
		if err := p.Check(s.in.Currency); err != nil {
			return fmt.Errorf("goods[%d].%w", i, err)
		}
		s.byID[p.ID] = p
	}
	return nil
}
