package offer

import (
	"cmp"
	"slices"
)

// run is some units of one line that no group has claimed.
type run struct {
	line  int
	units int
	plain *option // of one, under the other offers it may be combined with
	with  []use   // those offers, also where they come to nothing by themselves
	less  *option // of one that the group reduces, where it does the same to all
}

// claim is some units of one line that a group takes, and what it makes of
// their price.
type claim struct {
	line  int
	units int
	*option
}

// priceUnits is the first stage: every unit gets its price, first by the
// groups that are on, in the order of sets before buy-and-get and of age, then
// by the offers on units by themselves. Units of one line that come to the same
// by the same offers are one part.
func (s *sheet) priceUnits(c choice) []part {
	parts := s.scratch.parts[:0]
	var left []int
	for _, o := range s.groups {
		if !c.on[o.age] {
			continue
		}
		if left == nil {
			s.scratch.left = sized(s.scratch.left, len(s.lines))
			left = s.scratch.left
			for i := range s.lines {
				left[i] = s.lines[i].item.Quantity
			}
		}
		barred := 0
		claims := o.rule.group(s, o, s.pool(o, c, left))
		if !s.helps(o, claims) {
			continue
		}
		for _, taken := range claims {
			left[taken.line] -= taken.units
			if o.Alone {
				barred = taken.units
			}
			parts = append(parts, part{line: taken.line, units: taken.units, option: taken.option, barred: barred})
		}
	}
	claimed := len(parts)
	for i := range s.lines {
		units := s.lines[i].item.Quantity
		if left != nil {
			units = left[i]
		}
		if units == 0 {
			continue
		}
		p := part{line: i, units: units, option: s.unit(i, c)}
		if p.alone() {
			p.barred = units
		}
		parts = append(parts, p)
	}
	s.scratch.parts = parts
	if claimed == 0 {
		return parts
	}
	return s.joined(s.byLine(parts))
}

// byLine sorts parts by line, the dearest first.
func (s *sheet) byLine(parts []part) []part {
	s.scratch.at = sized(s.scratch.at, len(s.lines)+1)
	at := s.scratch.at
	for _, p := range parts {
		at[p.line+1]++
	}
	for i := range s.lines {
		at[i+1] += at[i]
	}
	s.scratch.sorted = sized(s.scratch.sorted, len(parts))
	sorted := s.scratch.sorted
	for _, p := range parts {
		i := at[p.line]
		at[p.line]++
		for ; i > 0 && sorted[i-1].line == p.line && sorted[i-1].option != nil && sorted[i-1].price < p.price; i-- {
			sorted[i] = sorted[i-1]
		}
		sorted[i] = p
	}
	return sorted
}

// helps tells whether a group makes any unit cheaper. One that does not claims
// nothing, or it would only keep other offers away.
func (s *sheet) helps(o *prepared, claims []claim) bool {
	return slices.ContainsFunc(claims, func(c claim) bool {
		if len(c.uses) == 0 {
			return false
		}
		c.settle(s.lines[c.line].product.Price.Minor)
		return slices.ContainsFunc(c.uses, func(u use) bool { return u.offer == o })
	})
}

// joined puts units of one line together that have one price and one trail.
func (s *sheet) joined(parts []part) []part {
	out := parts[:0]
	for _, p := range parts {
		i := len(out) - 1
		for i >= 0 && out[i].line == p.line && out[i].price == p.price && !sameTrail(s, out[i], p) {
			i--
		}
		if i >= 0 && out[i].line == p.line && out[i].price == p.price {
			out[i].units += p.units
			out[i].barred += p.barred
			continue
		}
		out = append(out, p)
	}
	return out
}

func sameTrail(s *sheet, a, b part) bool {
	if a.option == b.option {
		return true
	}
	list := s.lines[a.line].product.Price.Minor
	a.settle(list)
	b.settle(list)
	return slices.EqualFunc(a.uses, b.uses, func(x, y use) bool {
		return x.offer == y.offer && x.does.same(y.does)
	})
}

// inTurn are the offers on groups in the order in which they claim.
func inTurn(list []*prepared) []*prepared {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b *prepared) int {
		if a.rule.onParts != b.rule.onParts {
			if a.rule.onParts {
				return -1
			}
			return 1
		}
		return a.age - b.age
	})
	return list
}

// poolKey names what a pool depends on: the group, and which weighed offers of
// its class are on.
type poolKey struct{ age, mask int }

// pool is what a group may claim from: where it does the same to every unit it
// reduces, the cheapest units first, and of equal ones the later lines', so
// that what stands first is what is paid for; else in the order of the cart.
func (s *sheet) pool(o *prepared, c choice, left []int) []run {
	whole := s.whole(o, c)
	pool := s.scratch.pool[:0]
	for _, r := range whole {
		if r.units = left[r.line]; r.units > 0 {
			pool = append(pool, r)
		}
	}
	s.scratch.pool = pool
	return pool
}

// whole is the pool of a group before any other has claimed from it.
func (s *sheet) whole(o *prepared, c choice) []run {
	if o.byItself() {
		if s.plain[o.age] == nil {
			s.plain[o.age] = s.fill(o, c)
		}
		return s.plain[o.age]
	}
	if c.mask < 0 {
		return s.fill(o, c)
	}
	key := poolKey{o.age, 0}
	for _, w := range s.weighed {
		if w.rule.level == Unit && w.Class == o.Class {
			key.mask |= c.mask & s.bits[w.age]
		}
	}
	pool, kept := s.pools[key]
	if !kept {
		pool = s.fill(o, c)
		s.pools[key] = pool
	}
	return pool
}

func (s *sheet) fill(o *prepared, c choice) []run {
	pool := make([]run, 0, len(o.lines))
	for _, i := range o.lines {
		r := s.inClass(i, o, c)
		if o.rule.each != nil {
			r.less = s.claimed(o, i, r.with, o.rule.each(o))
		}
		pool = append(pool, r)
	}
	if o.rule.each != nil {
		slices.SortFunc(pool, func(a, b run) int { return cmp.Or(cmp.Compare(a.plain.price, b.plain.price), b.line-a.line) })
	}
	return pool
}

// inClass prices a unit under the offers that a group may be combined with.
func (s *sheet) inClass(line int, o *prepared, c choice) run {
	r := &s.lines[line]
	if o.byItself() {
		return run{line: line, plain: &option{price: r.product.Price.Minor, settled: true}}
	}
	by := r.ways
	if c.mask >= 0 {
		by = r.tried
	}
	_, all := bestInClass(r.product.Price.Minor, by.of(o.Class), c.on)
	with := all.list()
	plain := fullest(r.product.Price.Minor, with)
	return run{line: line, plain: &plain, with: with}
}

// claimed prices a unit that a group reduces: by its own change with those of
// its class.
func (s *sheet) claimed(o *prepared, line int, with []use, does change) *option {
	uses := []use{{o, does}}
	for _, u := range with {
		if does.set == nil || u.does.set == nil { // a set's price stands instead of others
			uses = append(uses, u)
		}
	}
	best := fullest(s.lines[line].product.Price.Minor, inOrder(uses))
	return &best
}
