package offer

import (
	"container/heap"
	"fmt"
	"slices"

	"chrysagon/core/shipping"
)

// MaxGroups is how many offers on groups of goods, usable in one cart, are
// weighed against each other. All their combinations are tried.
const MaxGroups = 12

// maxTries bounds the search for offers that are better left alone. What it
// looks for is rare: a lower price that costs more, because it loses a
// threshold.
const maxTries = 4_000

// cheapest finds the set of offers that leaves the buyer the least to pay, of
// equal ones that of the fewest, then of the oldest offers.
func (s *sheet) cheapest() (outcome, error) {
	groups := s.groups()
	if len(groups) > MaxGroups {
		return outcome{}, fmt.Errorf("offers: %d offers on groups of goods hold for this cart; at most %d can be weighed against each other", len(groups), MaxGroups)
	}
	var best *outcome
	for mask := range 1 << len(groups) {
		on := make([]bool, len(s.all))
		for i := range on {
			on[i] = true
		}
		for i, g := range groups {
			on[g.age] = mask&(1<<i) != 0
		}
		o := s.search(on)
		if best == nil || beats(o, *best) {
			best = &o
		}
	}
	return s.sparing(*best), nil
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

// node is a set of unit offers that are left alone, waiting to be tried.
type node struct {
	on    []bool
	bound int64 // no set that leaves alone these and more comes to less
	parts []part
}

type queue []node

func (q queue) Len() int           { return len(q) }
func (q queue) Less(i, j int) bool { return q[i].bound < q[j].bound }
func (q queue) Swap(i, j int)      { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)        { *q = append(*q, x.(node)) } //nolint:forcetypeassert // heap hands back what was pushed
func (q *queue) Pop() any {
	old := *q
	last := old[len(old)-1]
	*q = old[:len(old)-1]
	return last
}

// search finds the best outcome with these offers or fewer. With every offer
// on, the goods cost the least; only where a subtotal, a threshold of shipping
// or a condition on unreduced goods is missed by that can it pay to leave one
// alone. Sets are tried in the order of what they can come to at best, and the
// search ends when none left can be better.
func (s *sheet) search(on []bool) outcome {
	parts := s.priceUnits(on)
	best := s.finish(parts, false)
	if !s.coupled() {
		return best
	}
	open := &queue{}
	s.branch(open, best, node{on: on, parts: parts}, best.total)
	seen := map[string]bool{}
	for tries := 0; open.Len() > 0 && tries < maxTries; {
		n, _ := heap.Pop(open).(node)
		if n.bound >= best.total {
			break
		}
		for _, o := range working(n.parts) {
			fewer := slices.Clone(n.on)
			fewer[o.age] = false
			key := keyOf(fewer)
			if seen[key] {
				continue
			}
			seen[key] = true
			tries++
			parts := s.priceUnits(fewer)
			out := s.finish(parts, false)
			if beats(out, best) {
				best = out
			}
			s.branch(open, out, node{on: fewer, parts: parts}, best.total)
		}
	}
	return best
}

// branch keeps a set whose subsets may come to less than the best so far: they
// would have to reach a threshold that this one misses, and the goods would
// cost more by at least what it is missed by.
func (s *sheet) branch(open *queue, out outcome, n node, best int64) {
	gap, missed := s.gap(out)
	if !missed {
		return
	}
	least := s.finish(n.parts, true).total
	n.bound = least + gap*(hundred-s.steepest())/hundred
	if n.bound < best {
		heap.Push(open, n)
	}
}

// gap is by how much the goods miss the nearest threshold; missed is false when
// none is.
func (s *sheet) gap(out outcome) (gap int64, missed bool) {
	near := func(by int64) {
		if !missed || by < gap {
			gap, missed = by, true
		}
	}
	for _, level := range []Level{Order, Carry} {
		for _, o := range s.levels[level] {
			if o.NotReduced {
				near(0)
			}
			if sum, ok := s.reaches(o, out.parts); !ok {
				near(o.MinSubtotal.Minor - sum)
			}
		}
	}
	if s.in.Shipping == nil || out.sending.Zone == "" || out.sending.Price.Minor == 0 {
		return gap, missed
	}
	z, _ := s.in.Shipping.Zone(s.in.Context.Country)
	if z.FreeFrom != nil && out.goods < z.FreeFrom.Minor {
		near(z.FreeFrom.Minor - out.goods)
	}
	for _, step := range z.Steps {
		if z.By == shipping.Total && step.From > out.goods && step.Price.Minor < out.sending.Price.Minor {
			near(step.From - out.goods)
		}
	}
	return gap, missed
}

// steepest is the greatest part of the goods, in 1/10000 of a percent, that
// order offers together could take off: of each more that the goods cost, at
// least the rest is paid.
func (s *sheet) steepest() int64 {
	most := int64(0)
	for _, group := range alternatives(s.levels[Order]) {
		left := hundred
		for _, o := range group {
			left = left * (hundred - o.rule.order(o).percent) / hundred
		}
		most = max(most, hundred-left+1)
	}
	return min(most, hundred)
}

func keyOf(on []bool) string {
	key := make([]byte, len(on))
	for i, yes := range on {
		if yes {
			key[i] = 1
		}
	}
	return string(key)
}

// working lists the unit offers that change a price.
func working(parts []part) []*prepared {
	var out []*prepared
	for _, p := range parts {
		for _, u := range p.uses {
			if u.offer.rule.level == Unit && !slices.Contains(out, u.offer) {
				out = append(out, u.offer)
			}
		}
	}
	return out
}

// coupled tells whether anything looks at the goods after unit offers.
func (s *sheet) coupled() bool {
	for _, level := range []Level{Order, Carry} {
		for _, o := range s.levels[level] {
			if o.MinSubtotal.Minor > 0 || o.NotReduced {
				return true
			}
		}
	}
	if s.in.Shipping == nil || s.in.Context.Country == "" {
		return false
	}
	z, ok := s.in.Shipping.Zone(s.in.Context.Country)
	return ok && z.Watches()
}

// sparing leaves away offers that change nothing in the end, the youngest
// first: where two offers come to the same on one line and one of them works
// on another line too, that one is enough.
func (s *sheet) sparing(best outcome) outcome {
	for {
		found := false
		for _, drop := range slices.Backward(best.used) {
			if drop.rule.level != Unit {
				continue
			}
			on := make([]bool, len(s.all))
			for _, o := range best.used {
				on[o.age] = o != drop
			}
			if !s.rivalled(drop, best.parts, on) {
				continue
			}
			if o := s.finish(s.priceUnits(on), false); o.total == best.total && len(o.used) < len(best.used) {
				best, found = o, true
				break
			}
		}
		if !found {
			return best
		}
	}
}

// rivalled tells whether every unit that an offer works on costs the same
// without it: by another offer that is on.
func (s *sheet) rivalled(drop *prepared, parts []part, on []bool) bool {
	for _, p := range parts {
		if !slices.ContainsFunc(p.uses, func(u use) bool { return u.offer == drop }) {
			continue
		}
		if p.why == nil && bestUnit(&s.lines[p.line], on).price != p.price {
			return false
		}
	}
	return true
}
