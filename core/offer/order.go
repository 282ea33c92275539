package offer

import (
	"cmp"
	"slices"

	"chrysagon/core/money"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"
)

// outcome is a cart priced to the end with some offers on.
type outcome struct {
	parts   []part
	first   []int       // the first part of every line of the cart, and the end
	onLine  []int64     // what every line comes to after unit and group offers
	goods   int64       // and all of them
	open    int64       // of these, what no offer that stands alone touched
	bare    int64       // and of those, what is not reduced
	group   []*prepared // the order offers taken
	cuts    []cut       // what they take off, in the order of work
	off     []int64     // of every part, by all cuts; see [sheet.kept]
	sending shipping.Cost
	carry   int64 // what is paid for sending, after offers
	carried []use
	taxes   []tax.Share
	lineTax []taxed
	onTop   int64 // tax that is not in the prices
	total   int64
	used    []*prepared // sorted by age; see [sheet.used]
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

// evaluate prices the cart to the end: units, order offers, shipping, tax. What
// it answers is written over by the next call; see [sheet.kept].
func (s *sheet) evaluate(c choice) outcome {
	o := outcome{parts: s.priceUnits(c)}
	s.scratch.onLine = sized(s.scratch.onLine, len(s.lines))
	s.scratch.first = sized(s.scratch.first, len(s.lines)+1)
	o.onLine, o.first = s.scratch.onLine, s.scratch.first
	for _, p := range o.parts {
		o.first[p.line+1]++
		o.onLine[p.line] += p.minor()
		o.goods += p.minor()
		o.open += p.price * int64(p.units-p.barred)
		if len(p.uses) == 0 {
			o.bare += p.price * int64(p.units-p.barred)
		}
	}
	for i := range s.lines {
		o.first[i+1] += o.first[i]
	}
	s.cutOrder(&o, c)
	s.send(&o, c)
	o.onTop = s.taxOnTop(&o)
	o.total = o.goods + o.carry + o.onTop
	for _, cut := range o.cuts {
		o.total -= cut.off
	}
	return o
}

// kept is an outcome that stays when the next is worked out, with what the
// order offers take off each part.
func (s *sheet) kept(o outcome, c choice) outcome {
	_, o.off = s.cutBy(&o, o.group, c, 0)
	o.parts, o.first, o.onLine, o.off = slices.Clone(o.parts), slices.Clone(o.first), slices.Clone(o.onLine), slices.Clone(o.off)
	return o
}

// untie settles which of several ways to one price is taken.
func (s *sheet) untie(o *outcome, c choice) {
	for i := range o.parts {
		if p := &o.parts[i]; p.tied {
			p.option = s.unit(p.line, unkept(c.on))
		}
	}
}

// reaches tells whether the goods an offer covers come to its subtotal, after
// unit and group offers.
func (p *prepared) reaches(o *outcome) (sum int64, ok bool) {
	if p.whole {
		return o.goods, o.goods >= p.MinSubtotal.Minor
	}
	for _, line := range p.lines {
		sum += o.onLine[line]
	}
	return sum, sum >= p.MinSubtotal.Minor
}

// meetsReduced tells whether anything an offer covers is reduced.
func (p *prepared) meetsReduced(o *outcome) bool {
	return slices.ContainsFunc(o.parts, func(x part) bool { return len(x.uses) > 0 && slices.Contains(p.lines, x.line) })
}

// base is what an order offer works on in a part of a line that it covers:
// without what an offer that stands alone touched. One that stands alone itself,
// or is not given on reduced goods, leaves out all that another offer reduced.
func (p *prepared) base(x part) int64 {
	if p.unreduced() && len(x.uses) > 0 {
		return 0
	}
	return x.price * int64(x.units-x.barred)
}

func (p *prepared) unreduced() bool { return p.Alone || p.NotReduced }

// bases is what an order offer works on in the whole order.
func (p *prepared) bases(o *outcome) (sum int64) {
	switch {
	case p.whole && p.unreduced():
		return o.bare
	case p.whole:
		return o.open
	}
	for _, line := range p.lines {
		for _, x := range o.parts[o.first[line]:o.first[line+1]] {
			sum += p.base(x)
		}
	}
	return sum
}

// cutOrder takes the best order-level offers off: one by itself, or all of a
// class, whichever leaves the buyer the least to pay.
func (s *sheet) cutOrder(o *outcome, c choice) {
	var best []*prepared
	var bestCuts []cut
	bestCost := int64(0)
	take := func(group []*prepared, cuts []cut, cost int64) {
		if len(cuts) > 0 && (best == nil || cost < bestCost || (cost == bestCost && fewerOrOlder(cuts, bestCuts))) {
			best, bestCuts, bestCost = group, slices.Clone(cuts), cost
		}
	}
	weigh := func(group []*prepared) {
		cost := int64(0)
		cuts, ok := s.wholeCuts(o, group, c)
		if !ok {
			var off []int64
			cuts, off = s.cutBy(o, group, c, 1)
			cost = -s.taxSaved(o.parts, off)
		}
		for _, c := range cuts {
			cost -= c.off
		}
		take(group, cuts, cost)
	}
	list := s.scratch.list[:0]
	for i, group := range s.alternatives[Order] {
		if len(group) > 1 {
			weigh(group)
			continue
		}
		if off := s.reduction(o, group[0], c, group[0].bases(o)); off > 0 {
			list = append(list, alternative{i, off})
		}
	}
	s.scratch.list = list
	slices.SortFunc(list, func(a, b alternative) int { return cmp.Or(cmp.Compare(b.off, a.off), a.at-b.at) })
	for _, a := range list {
		group := s.alternatives[Order][a.at]
		switch {
		case best != nil && -a.off-s.mostSaved(o, a.off) > bestCost:
			// With all the tax it could save, it comes to more.
		case s.steepest > 0:
			weigh(group)
		default:
			take(group, []cut{{group[0], a.off}}, -a.off)
		}
	}
	o.group, o.cuts = best, bestCuts
	if s.steepest > 0 {
		_, o.off = s.cutBy(o, best, c, 0)
	}
}

// alternative is an order offer by itself, and what it takes off.
type alternative struct {
	at  int // among the alternatives
	off int64
}

// mostSaved is more than the tax that a reduction can save: at the highest rate,
// and by rounding on every line.
func (s *sheet) mostSaved(o *outcome, off int64) int64 {
	if s.steepest == 0 {
		return 0
	}
	return tax.OnTop(off, s.steepest) + int64(len(o.parts)) + 1
}

// reduction is what an order offer takes off a base, 0 where it does not hold.
func (s *sheet) reduction(o *outcome, p *prepared, c choice, base int64) int64 {
	if base <= 0 || !c.on[p.age] {
		return 0
	}
	if _, ok := p.reaches(o); !ok {
		return 0
	}
	does := p.rule.order(p)
	if does.percent > 0 {
		return base - lessPercents(base, []int64{does.percent})
	}
	return min(base, does.amount)
}

// taxSaved is how much less tax comes on top for what was taken off.
func (s *sheet) taxSaved(parts []part, off []int64) int64 {
	saved := int64(0)
	for i, p := range parts {
		if rate := s.lines[p.line].onTop; off[i] > 0 && rate > 0 {
			saved += tax.OnTop(p.minor(), rate) - tax.OnTop(p.minor()-off[i], rate)
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

// alternatives are the sets of offers of which one is taken: each that is by
// itself in its level, and each class together, amounts before percentages.
func alternatives(list []*prepared) [][]*prepared {
	var out [][]*prepared
	classes := map[string]int{}
	for _, o := range list {
		if o.byItself() {
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
// split over the parts it covers by largest remainder. It writes into one of the
// two rooms of the scratch.
func (s *sheet) cutBy(o *outcome, group []*prepared, c choice, room int) ([]cut, []int64) {
	s.scratch.off[room] = sized(s.scratch.off[room], len(o.parts))
	off := s.scratch.off[room]
	var cuts []cut
	for _, p := range group {
		s.scratch.weights = sized(s.scratch.weights, len(o.parts))
		weights := s.scratch.weights
		base := int64(0)
		for _, line := range p.lines {
			for j := o.first[line]; j < o.first[line+1]; j++ {
				weights[j] = min(p.base(o.parts[j]), o.parts[j].minor()-off[j])
				base += weights[j]
			}
		}
		reduction := s.reduction(o, p, c, base)
		if reduction == 0 {
			continue
		}
		shares, err := money.Of(reduction, s.in.Currency).Split(weights)
		if err != nil {
			continue
		}
		for j, share := range shares {
			off[j] += share.Minor
		}
		cuts = append(cuts, cut{p, reduction})
	}
	return cuts, off
}

// wholeCuts is cutBy where nothing need be split: each offer works on the whole
// order, of which the ones before it took their cuts, and no tax hangs on the parts.
func (s *sheet) wholeCuts(o *outcome, group []*prepared, c choice) (cuts []cut, ok bool) {
	if s.steepest > 0 || o.open != o.goods || slices.ContainsFunc(group, func(p *prepared) bool { return !p.whole || p.unreduced() }) {
		return nil, false
	}
	base := o.goods
	for _, p := range group {
		if off := s.reduction(o, p, c, base); off > 0 {
			cuts = append(cuts, cut{p, off})
			base -= off
		}
	}
	return cuts, true
}
