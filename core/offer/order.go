package offer

import (
	"slices"

	"chrysagon/core/money"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"
)

// outcome is a cart priced to the end with some offers on.
type outcome struct {
	parts   []part
	goods   int64   // after unit and group offers
	cuts    []cut   // order-level reductions, in the order of work
	off     []int64 // of every part, by all cuts
	sending shipping.Cost
	carry   int64 // what is paid for sending, after offers
	carried []use
	taxes   []tax.Share
	lineTax []taxed
	onTop   int64 // tax that is not in the prices
	total   int64
	used    []*prepared // sorted by age
}

// cut is one order-level reduction.
type cut struct {
	offer *prepared
	off   int64
}

// taxed is the tax of one part.
type taxed struct {
	rate  tax.Rate
	part  int64
	known bool
}

// finish prices the order after the units: order offers, shipping, tax.
// Easy leaves away the conditions that look at reduced prices, so that the
// total is a bound below which no choice of unit offers can come.
func (s *sheet) finish(parts []part, easy bool) outcome {
	o := outcome{parts: parts, off: make([]int64, len(parts))}
	for _, p := range parts {
		o.goods += p.price * int64(p.units)
	}
	s.cutOrder(&o, easy)
	s.send(&o, easy)
	s.addTax(&o)
	o.total = o.goods + o.carry + o.onTop
	for _, off := range o.off {
		o.total -= off
	}
	o.used = s.usedIn(o)
	return o
}

func (s *sheet) usedIn(o outcome) []*prepared {
	on := make([]bool, len(s.all))
	for _, p := range o.parts {
		for _, u := range p.uses {
			on[u.offer.age] = true
		}
	}
	for _, c := range o.cuts {
		on[c.offer.age] = true
	}
	for _, u := range o.carried {
		on[u.offer.age] = true
	}
	var used []*prepared
	for age, yes := range on {
		if yes {
			used = append(used, s.all[age])
		}
	}
	return used
}

// reaches tells whether the goods an offer covers come to its subtotal, after
// unit and group offers.
func (s *sheet) reaches(p *prepared, parts []part) (sum int64, ok bool) {
	for _, part := range parts {
		if slices.Contains(p.lines, part.line) {
			sum += part.price * int64(part.units)
		}
	}
	return sum, sum >= p.MinSubtotal.Minor
}

// cutOrder takes the best order-level offers off: one that stands alone, or
// all of a class, whichever leaves the buyer the least to pay.
func (s *sheet) cutOrder(o *outcome, easy bool) {
	var candidates [][]*prepared
	for _, group := range alternatives(s.levels[Order]) {
		group = slices.DeleteFunc(group, func(p *prepared) bool {
			if easy {
				return false
			}
			_, ok := s.reaches(p, o.parts)
			return !ok
		})
		if len(group) > 0 {
			candidates = append(candidates, group)
		}
	}
	var best []cut
	var bestOff []int64
	bestCost := int64(0)
	for _, group := range candidates {
		cuts, off := s.cutBy(o.parts, group, easy)
		if len(cuts) == 0 {
			continue
		}
		cost := int64(0)
		for _, c := range cuts {
			cost -= c.off
		}
		cost -= s.taxSaved(o.parts, off)
		if best == nil || cost < bestCost || (cost == bestCost && fewerOrOlder(cuts, best)) {
			best, bestOff, bestCost = cuts, off, cost
		}
	}
	if best != nil {
		o.cuts, o.off = best, bestOff
	}
}

// taxSaved is how much less tax comes on top for what was taken off.
func (s *sheet) taxSaved(parts []part, off []int64) int64 {
	if s.in.Tax == nil || s.in.Tax.Included {
		return 0
	}
	saved := int64(0)
	for i := range parts {
		if off[i] > 0 {
			saved += s.taxOn(parts[i], 0).part - s.taxOn(parts[i], off[i]).part
		}
	}
	return saved
}

func fewerOrOlder(a, b []cut) bool {
	if len(a) != len(b) {
		return len(a) < len(b)
	}
	ages := func(list []cut) []int {
		var out []int
		for _, c := range list {
			out = append(out, c.offer.age)
		}
		slices.Sort(out)
		return out
	}
	return slices.Compare(ages(a), ages(b)) < 0
}

// alternatives are the sets of offers of which one is taken: each that stands
// alone, and each class together, amounts before percentages.
func alternatives(list []*prepared) [][]*prepared {
	var out [][]*prepared
	classes := map[string]int{}
	for _, o := range list {
		if o.alone() {
			out = append(out, []*prepared{o})
			continue
		}
		i, ok := classes[o.Class]
		if !ok {
			i = len(out)
			classes[o.Class] = i
			out = append(out, nil)
		}
		out[i] = append(out[i], o)
	}
	for _, group := range out {
		slices.SortStableFunc(group, func(a, b *prepared) int {
			if x, y := a.rule.order(a).percent, b.rule.order(b).percent; (x == 0) != (y == 0) {
				if x == 0 {
					return -1
				}
				return 1
			}
			return a.age - b.age
		})
	}
	return out
}

// cutBy works out a set of order offers: each rounds once on the order, and is
// split over the parts it covers by largest remainder.
func (s *sheet) cutBy(parts []part, group []*prepared, easy bool) ([]cut, []int64) {
	off := make([]int64, len(parts))
	var cuts []cut
	for _, o := range group {
		base := int64(0)
		weights := make([]int64, len(parts))
		for i, p := range parts {
			if !slices.Contains(o.lines, p.line) || (o.NotReduced && !easy && len(p.uses) > 0) {
				continue
			}
			weights[i] = p.price*int64(p.units) - off[i]
			base += weights[i]
		}
		if base <= 0 {
			continue
		}
		does := o.rule.order(o)
		reduction := min(base, does.amount)
		if does.percent > 0 {
			reduction = base - lessPercentBig(base, does.percent)
		}
		if reduction == 0 {
			continue
		}
		shares, err := money.Of(reduction, s.in.Currency).Split(weights)
		if err != nil {
			continue
		}
		for i, share := range shares {
			off[i] += share.Minor
		}
		cuts = append(cuts, cut{o, reduction})
	}
	return cuts, off
}

// lessPercentBig is lessPercent for amounts that times 10^6 may not fit.
func lessPercentBig(amount, percent int64) int64 {
	if amount <= money.Limit {
		return lessPercent(amount, percent)
	}
	return lessPercents(amount, []int64{percent, 0})
}

// send prices the parcel and takes shipping offers off.
func (s *sheet) send(o *outcome, easy bool) {
	o.sending = shipping.Cost{Price: money.Of(0, s.in.Currency), Why: "included"}
	if s.in.Shipping == nil {
		return
	}
	parcel := shipping.Parcel{Country: s.in.Context.Country, Total: o.goods}
	for _, l := range s.lines {
		if l.product.Sent() {
			parcel.Goods = true
			parcel.Weight += int64(l.product.Weight) * int64(l.item.Quantity)
		}
	}
	if parcel.Country == "" {
		if parcel.Goods {
			o.sending.Why = "not known before the country is"
		}
		return
	}
	cost, err := s.in.Shipping.Price(parcel, s.in.Currency)
	if err != nil {
		return // said by check before anything is priced
	}
	if easy {
		if z, ok := s.in.Shipping.Zone(parcel.Country); ok && parcel.Goods {
			cost.Price.Minor = min(cost.Price.Minor, z.Least())
		}
	}
	o.sending, o.carry = cost, cost.Price.Minor
	best := cost.Price.Minor
	for _, group := range alternatives(s.levels[Carry]) {
		price := cost.Price.Minor
		var uses []use
		for _, p := range group {
			if _, ok := s.reaches(p, o.parts); !ok && !easy {
				continue
			}
			does := p.rule.order(p)
			if less := single(price, does); less < price {
				price = less
				uses = append(uses, use{p, does})
			}
		}
		if price < best || (price == best && len(uses) > 0 && len(uses) < len(o.carried)) {
			best, o.carried = price, uses
		}
	}
	o.carry = best
}

// addTax computes the tax of every part after all reductions, rounded on it.
func (s *sheet) addTax(o *outcome) {
	if s.in.Tax == nil {
		return
	}
	o.lineTax = make([]taxed, len(o.parts))
	for i, p := range o.parts {
		t := s.taxOn(p, o.off[i])
		o.lineTax[i] = t
		if t.known {
			o.taxes = tax.Add(o.taxes, t.rate, money.Of(p.price*int64(p.units)-o.off[i], s.in.Currency), money.Of(t.part, s.in.Currency))
		}
	}
	if r, ok := s.in.Tax.Find(s.place(), tax.ShippingClass); ok && o.carry > 0 {
		paid := money.Of(o.carry, s.in.Currency)
		o.taxes = tax.Add(o.taxes, r, paid, s.in.Tax.Of(paid, r))
	}
	if !s.in.Tax.Included {
		for _, share := range o.taxes {
			o.onTop += share.Tax.Minor
		}
	}
}

func (s *sheet) taxOn(p part, off int64) taxed {
	r, ok := s.in.Tax.Find(s.place(), s.lines[p.line].product.Class())
	if !ok {
		return taxed{}
	}
	return taxed{rate: r, part: s.in.Tax.Of(money.Of(p.price*int64(p.units)-off, s.in.Currency), r).Minor, known: true}
}

func (s *sheet) place() tax.Place {
	return tax.Place{Country: s.in.Context.Country, Region: s.in.Context.Region}
}
