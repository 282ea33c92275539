package offer

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/shelf"
)

// prepared is an offer made ready for one cart.
type prepared struct {
	*Offer
	rule    *rule
	percent int64 // in 1/10000 of a percent
	age     int   // place among all offers, the oldest first
	lines   []int // of the cart that it covers, by the way they came
	units   int   // of the goods it covers, in the cart
	why     string
}

// alone tells whether the offer never shares a unit with another.
func (o *prepared) alone() bool { return o.Class == "" || (o.NotReduced && o.rule.level == Unit) }

// row is one line of the cart while it is being priced.
type row struct {
	product *goods.Product
	item    Item
	offers  []*prepared // of level Unit that hold here, the older first
}

// sheet is the paper on which a quote is worked out.
type sheet struct {
	in     Input
	zone   string
	sight  shelf.Sight
	byID   map[string]*goods.Product
	typed  map[string]bool // codes, normal
	lines  []row
	at     map[string][]int // lines of each of the goods
	every  []int            // all lines
	alone  []bool           // for trying one offer by itself
	all    []*prepared
	levels map[Level][]*prepared // usable ones, the older first
}

// prepare checks the input and sorts the offers into usable ones and others.
func prepare(in Input) (*sheet, error) {
	s := &sheet{in: in, zone: in.Zone, byID: make(map[string]*goods.Product, len(in.Goods)), typed: map[string]bool{}, at: map[string][]int{}, levels: map[Level][]*prepared{}}
	if s.zone == "" {
		s.zone = time.UTC.String()
	}
	loc, err := time.LoadLocation(s.zone)
	if err != nil {
		return nil, fmt.Errorf("zone: %q is not a time zone; write it like Europe/Lisbon", in.Zone)
	}
	s.sight = shelf.Sight{Moment: in.Moment, Zone: loc}
	if err := s.check(); err != nil {
		return nil, err
	}
	for _, c := range in.Codes {
		s.typed[Normal(c)] = true
	}
	s.lines = make([]row, len(in.Cart))
	for i, item := range in.Cart {
		s.lines[i] = row{product: s.byID[item.ProductID], item: item}
		s.at[item.ProductID] = append(s.at[item.ProductID], i)
		s.every = append(s.every, i)
	}
	s.sortOffers()
	return s, nil
}

func (s *sheet) sortOffers() {
	s.all = make([]*prepared, len(s.in.Offers))
	ready := make([]prepared, len(s.in.Offers))
	for i := range s.in.Offers {
		o := &s.in.Offers[i]
		ready[i] = prepared{Offer: o, rule: kinds[o.Kind], percent: scaled(o.Percent)}
		s.all[i] = &ready[i]
	}
	slices.SortFunc(s.all, func(a, b *prepared) int {
		return cmp.Or(a.Created.Compare(b.Created), strings.Compare(a.ID, b.ID))
	})
	for age, o := range s.all {
		o.age = age
		o.lines = s.covered(o)
		for _, i := range o.lines {
			o.units += s.lines[i].item.Quantity
		}
		for _, c := range conditions {
			if o.why = c(s, o); o.why != "" {
				break
			}
		}
		if o.why != "" {
			continue
		}
		s.levels[o.rule.level] = append(s.levels[o.rule.level], o)
		if o.rule.level == Unit {
			for _, i := range o.lines {
				s.lines[i].offers = append(s.lines[i].offers, o)
			}
		}
	}
}

// covered lists the lines that an offer is on.
func (s *sheet) covered(o *prepared) []int {
	var lines []int
	take := func(at []int) {
		for _, i := range at {
			if o.Only == Anywhere || o.Only == s.lines[i].item.Via {
				lines = append(lines, i)
			}
		}
	}
	switch {
	case o.Kind == Set:
		for _, p := range o.Parts {
			take(s.at[p.ProductID])
		}
	case o.General():
		take(s.every)
	default:
		if o.ProductID != "" {
			take(s.at[o.ProductID])
		}
		for _, id := range o.Products {
			take(s.at[id])
		}
		if o.Shelf != nil {
			for i := range s.lines {
				if o.Shelf.Meets(shelf.Entry{Product: *s.lines[i].product}, s.sight) {
					take(s.every[i : i+1])
				}
			}
		}
	}
	if len(o.Products) > 0 || o.Shelf != nil || o.Kind == Set {
		slices.Sort(lines)
		lines = slices.Compact(lines)
	}
	return lines
}

// check refuses input that cannot be priced, with the place and reason.
func (s *sheet) check() error {
	in := s.in
	if _, err := money.Digits(in.Currency); err != nil {
		return fmt.Errorf("currency: %w", err)
	}
	if in.Moment.IsZero() {
		return fmt.Errorf("moment: missing; write it like 2026-11-27T23:59:00Z")
	}
	if err := s.checkGoods(); err != nil {
		return err
	}
	seen := make(map[string]bool, len(in.Offers))
	for i := range in.Offers {
		o := &in.Offers[i]
		if seen[o.ID] || o.ID == "" {
			return fmt.Errorf("offers[%d]: its id %q is empty or used twice", i, o.ID)
		}
		seen[o.ID] = true
		if err := o.Validate(in.Currency); err != nil {
			return fmt.Errorf("offers[%d]: %w", i, err)
		}
	}
	if len(in.Cart) > MaxLines {
		return fmt.Errorf("cart: %d lines; at most %d can be quoted at once", len(in.Cart), MaxLines)
	}
	if len(in.Codes) > MaxCodes {
		return fmt.Errorf("codes: %d of them; at most %d can be handed in at once", len(in.Codes), MaxCodes)
	}
	for i, item := range in.Cart {
		if s.byID[item.ProductID] == nil {
			return fmt.Errorf("cart[%d].product_id: there is no product %q among the goods", i, item.ProductID)
		}
		if item.Quantity < 1 || item.Quantity > MaxQuantity {
			return fmt.Errorf("cart[%d].quantity: %d; it must be from 1 to %d", i, item.Quantity, MaxQuantity)
		}
	}
	if in.Tax != nil {
		if err := in.Tax.Validate(); err != nil {
			return fmt.Errorf("tax.%w", err)
		}
	}
	if in.Shipping != nil {
		if err := in.Shipping.Validate(in.Currency); err != nil {
			return fmt.Errorf("shipping.%w", err)
		}
	}
	return nil
}

func (s *sheet) checkGoods() error {
	for i := range s.in.Goods {
		p := &s.in.Goods[i]
		if s.byID[p.ID] != nil || p.ID == "" {
			return fmt.Errorf("goods[%d]: its id %q is empty or used twice", i, p.ID)
		}
		if p.Price.Currency != s.in.Currency || (p.Cost != nil && p.Cost.Currency != s.in.Currency) {
			return fmt.Errorf("goods[%d].price: not in %s, the cart's currency: %w", i, s.in.Currency, money.ErrMixed)
		}
		if p.Price.Minor < 0 || p.Price.Minor > money.Limit || (p.Cost != nil && (p.Cost.Minor < 0 || p.Cost.Minor > money.Limit)) {
			return fmt.Errorf("goods[%d].price: must be from 0 to %d minor units", i, money.Limit)
		}
		if p.Weight < 0 || p.Weight > 100_000_000 {
			return fmt.Errorf("goods[%d].weight_grams: must be from 0 to 100000000", i)
		}
		s.byID[p.ID] = p
	}
	return nil
}

// nextChange is the first moment, after this one, at which the quote can
// change by itself: an offer's window opens or closes, or a rule's days pass.
func (s *sheet) nextChange() time.Time {
	var next time.Time
	sooner := func(at time.Time) {
		if at.After(s.in.Moment) && (next.IsZero() || at.Before(next)) {
			next = at
		}
	}
	for _, o := range s.all {
		if o.wantsCode() && withCode(s, o) != "" {
			continue
		}
		if o.Shelf != nil {
			sooner(shelf.Shelf{Rule: *o.Shelf}.Changes(s.sight))
		}
		if len(o.lines) > 0 || o.Shelf != nil {
			sooner(o.Edge(s.in.Moment))
		}
	}
	return next
}
