package offer

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/shelf"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"
)

// prepared is an offer made ready for one cart.
type prepared struct {
	*Offer
	rule    *rule
	percent int64  // in 1/10000 of a percent
	age     int    // place among all offers, the oldest first
	lines   []int  // of the cart that it covers, by the way they came
	whole   bool   // it covers every line
	units   int    // of the goods it covers, in the cart
	list    int64  // what those come to at list price
	by      int    // a bit for each code typed by which it holds
	does    change // to a unit, where it is on units
	gives   bool   // it does anything to a unit in this cart
	takes   int64  // what it takes off this cart by itself, once ranked
	ranked  bool
	why     string
}

// byItself tells whether the offer never adds up with another of its level.
func (o *prepared) byItself() bool {
	return o.Class == "" || (o.NotReduced && (o.rule.level == Unit || o.rule.level == Group))
}

// row is one line of the cart while it is being priced.
type row struct {
	product *goods.Product
	item    Item
	offers  []*prepared // of level Unit that hold here, the older first
	ways    ways        // the same, as they can be combined
	always  option      // the best of what a search need not try
	tried   ways        // what it tries: the weighed ones, with those of their classes
	mask    int         // the weighed ones of them
	kept    []*option   // what a unit costs, by which of those are on
	rate    tax.Rate    // where taxed
	taxed   bool
	onTop   int64 // the rate in 1/10000 of a percent, where tax comes on top
}

// sheet is the paper on which a quote is worked out.
type sheet struct {
	in     Input
	zone   string
	sight  shelf.Sight
	byID   map[string]*goods.Product
	typed  map[string]int // codes, normal, with a bit each
	lines  []row
	at     map[string][]int // lines of each of the goods
	every  []int            // all lines
	one    []bool           // for trying one offer by itself
	all    []*prepared
	levels map[Level][]*prepared // usable ones, the older first
	parcel shipping.Parcel       // what travels; its total is not known yet

	shippingRate *tax.Rate // nil: shipping is not taxed
	steepest     int64     // the highest rate that comes on top, in 1/10000 of a percent

	// Made ready by begin.
	weighed      []*prepared
	more         bool  // more offers hold than are weighed
	bits         []int // by age: the bit of a weighed offer, 0 of others
	groups       []*prepared
	alternatives map[Level][][]*prepared
	pools        map[poolKey][]run
	plain        map[int][]run // by age: the pools of groups by themselves, the same for every choice
	scratch      scratch
}

// prepare checks the input and sorts the offers into usable ones and others.
func prepare(in Input) (*sheet, error) {
	s := &sheet{in: in, zone: in.Zone, byID: make(map[string]*goods.Product, len(in.Goods)), typed: map[string]int{}, at: map[string][]int{}, levels: map[Level][]*prepared{}, plain: map[int][]run{}}
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
	for i, c := range in.Codes {
		s.typed[Normal(c)] |= 1 << i
	}
	s.lines = make([]row, len(in.Cart))
	for i, item := range in.Cart {
		s.lines[i] = row{product: s.byID[item.ProductID], item: item}
		s.at[item.ProductID] = append(s.at[item.ProductID], i)
		s.every = append(s.every, i)
	}
	s.sortOffers()
	s.readPlace()
	s.begin()
	return s, nil
}

// readPlace looks up what depends on where the order goes: what travels there,
// and what is taxed at which rate.
func (s *sheet) readPlace() {
	s.parcel.Country = s.in.Context.Country
	for i := range s.lines {
		r := &s.lines[i]
		if r.product.Sent() {
			s.parcel.Goods = true
			s.parcel.Weight += int64(r.product.Weight) * int64(r.item.Quantity)
		}
		if s.in.Tax != nil {
			r.rate, r.taxed = s.in.Tax.Find(s.place(), r.product.Class())
			if r.taxed && !s.in.Tax.Included {
				r.onTop = scaled(r.rate.Percent)
				s.steepest = max(s.steepest, r.onTop)
			}
		}
	}
	if s.in.Tax != nil {
		if r, ok := s.in.Tax.Find(s.place(), tax.ShippingClass); ok {
			s.shippingRate = &r
		}
	}
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
			o.list += s.lines[i].product.Price.Minor * int64(s.lines[i].item.Quantity)
		}
		o.whole = len(o.lines) == len(s.lines)
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
			o.does, o.gives = o.rule.unit(o, o.units)
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
	case o.rule.onParts:
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
	if len(o.Products) > 0 || o.Shelf != nil || o.rule.onParts {
		slices.Sort(lines)
		lines = slices.Compact(lines)
	}
	return lines
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
