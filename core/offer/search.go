package offer

import (
	"math/bits"
	"slices"
)

// cheapest finds the set of offers that leaves the buyer the least to pay, of
// equal ones that of the fewest, then of the oldest offers. Where more offers
// hold than are weighed, codes are also tried left out, so that a code never
// raises a total: what it brings may take another offer's place among them.
func (s *sheet) cheapest() outcome {
	best := s.search()
	for _, few := range s.leftOut() {
		if o := few.search(); beats(o, best) {
			best = o
		}
	}
	return s.sparing(best)
}

func beats(a, b outcome) bool {
	if a.total != b.total {
		return a.total < b.total
	}
	if len(a.used) != len(b.used) {
		return len(a.used) < len(b.used)
	}
	return slices.CompareFunc(a.used, b.used, func(x, y *prepared) int { return x.age - y.age }) < 0
}

// search prices every set of the weighed offers.
func (s *sheet) search() outcome {
	var least []int // the sets of the least total
	total := int64(0)
	for mask := range 1 << len(s.weighed) {
		switch o := s.evaluate(s.choose(mask)); {
		case len(least) == 0 || o.total < total:
			least, total = append(least[:0], mask), o.total
		case o.total == total:
			least = append(least, mask)
		}
	}
	// A set in which a weighed offer is idle comes to the same as the one
	// without it, so that the number of those on says how few can be used.
	byCount(least)
	var best *outcome
	for _, mask := range least {
		if best != nil && bits.OnesCount(uint(mask)) > len(best.used) {
			break
		}
		c := s.choose(mask)
		o := s.evaluate(c)
		s.untie(&o, c)
		o.used = s.used(&o)
		if best == nil || (s.tight(mask, o.used) && beats(o, *best)) {
			o = s.kept(o, c)
			best = &o
		}
	}
	return *best
}

// leftOut are the sheets without some of the codes, where more offers hold
// than are weighed and codes brought some of them.
func (s *sheet) leftOut() []*sheet {
	if !s.more {
		return nil
	}
	codes := 0
	for _, level := range []Level{Group, Unit, Order} {
		for _, o := range s.levels[level] {
			if o.Weighable() {
				codes |= o.by
			}
		}
	}
	var out []*sheet
	for some := (codes - 1) & codes; codes != 0; some = (some - 1) & codes {
		out = append(out, s.with(func(o *prepared) bool { return !o.wantsCode() || o.by&(some|^codes) != 0 }))
		if some == 0 {
			break
		}
	}
	return out
}

// sparing leaves away, the youngest first, every offer without which the buyer
// pays no more, so that none is used up for nothing.
func (s *sheet) sparing(best outcome) outcome {
	few := s.with(func(o *prepared) bool { return slices.Contains(best.used, o) })
	c := choice{mask: -1}
	begin := func() {
		c.on, c.known = make([]bool, len(s.all)), make([]*option, len(s.lines))
		for _, o := range best.used {
			c.on[o.age] = true
		}
	}
	begin()
	apart := !few.entangled() // each unit is priced for itself, so that a dearer one makes a dearer order
	for again := true; again; {
		again = false
		for _, drop := range slices.Backward(best.used) {
			if !c.on[drop.age] {
				continue // gone with another
			}
			c.on[drop.age], c.but = false, drop
			if !apart || !few.dearer(c) {
				if o := few.evaluate(c); o.total <= best.total {
					best, again = few.kept(o, unkept(c.on)), true
					best.used = few.used(&best)
					begin()
					continue
				}
			}
			c.on[drop.age] = true
		}
	}
	return best
}

// dearer tells whether a unit costs more without the offer that a choice is
// without.
func (s *sheet) dearer(c choice) bool {
	if c.but.rule.level != Unit {
		return false
	}
	for _, i := range c.but.lines {
		c.on[c.but.age] = true
		before := s.unit(i, choice{on: c.on, mask: c.mask, known: c.known}).price
		c.on[c.but.age] = false
		if s.unit(i, c).price > before {
			return true
		}
	}
	return false
}
