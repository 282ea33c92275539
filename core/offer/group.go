package offer

import (
	"cmp"
	"fmt"
	"slices"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
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

var buyGet = rule{
	level: Group,
	takes: []string{"buy", "get", "percent"},
	check: func(o Offer, _ string) error {
		if o.Buy < 1 || o.Get < 1 || o.Buy+o.Get > MaxGroup {
			return fault("buy", "%d, and get %d; both must be at least 1, and together at most %d", o.Buy, o.Get, MaxGroup)
		}
		if o.Percent.IsZero() {
			return nil
		}
		return percentage("percent", o.Percent)
	},
	says: func(o Offer) string {
		if o.Percent.IsZero() || o.Percent.Equal(decimal.NewFromInt(100)) {
			return fmt.Sprintf("buy %d, get %d free", o.Buy, o.Get)
		}
		return fmt.Sprintf("buy %d, get %d at %s%% off", o.Buy, o.Get, o.Percent)
	},
	each: func(o *prepared) change {
		if o.percent == 0 {
			return change{percent: hundred}
		}
		return change{percent: o.percent}
	},
	group: func(_ *sheet, o *prepared, pool []run) []claim {
		total := 0
		for _, r := range pool {
			total += r.units
		}
		groups := total / (o.Buy + o.Get)
		if groups == 0 {
			return nil
		}
		out := make([]claim, 0, len(pool)+1)
		free, paid := groups*o.Get, groups*o.Buy
		for _, r := range pool { // the cheapest first
			if n := min(free, r.units); n > 0 {
				out = append(out, claim{r.line, n, r.less})
				free -= n
				r.units -= n
			}
			if n := min(paid, r.units); n > 0 {
				out = append(out, claim{r.line, n, r.plain})
				paid -= n
			}
		}
		return out
	},
}

var setOfGoods = rule{
	level: Group,
	takes: []string{"parts", "amount"},
	check: func(o Offer, currency string) error {
		if len(o.Parts) == 0 || len(o.Parts) > MaxParts {
			return fault("parts", "%d of them; there must be from 1 to %d", len(o.Parts), MaxParts)
		}
		seen, units := map[string]bool{}, 0
		for i, p := range o.Parts {
			if p.Quantity < 1 || p.ProductID == "" || seen[p.ProductID] {
				return fault(fmt.Sprintf("parts[%d]", i), "%d of %q; a part is one of the goods, named once, and a quantity from 1", p.Quantity, p.ProductID)
			}
			seen[p.ProductID] = true
			units += min(p.Quantity, MaxGroup+1)
		}
		if units > MaxGroup {
			return fault("parts", "%d units in one set; at most %d can belong to it", units, MaxGroup)
		}
		return amount("amount", o.Amount, currency, 0)
	},
	says: func(o Offer) string { return "the set for " + o.Amount.String() },
	group: func(s *sheet, o *prepared, pool []run) []claim {
		have := map[string]int{}
		for _, r := range pool {
			have[s.lines[r.line].product.ID] += r.units
		}
		sets := -1
		var weights []int64
		list := int64(0)
		for _, p := range o.Parts {
			if n := have[p.ProductID] / p.Quantity; sets < 0 || n < sets {
				sets = n
			}
			if product := s.byID[p.ProductID]; product != nil {
				for range p.Quantity {
					weights = append(weights, product.Price.Minor)
					list += product.Price.Minor
				}
			}
		}
		if sets <= 0 || list <= o.Amount.Minor {
			return nil // none complete, or the set is dearer than its parts
		}
		// The set's price over its units, by largest remainder.
		shares, err := o.Amount.Split(weights)
		if err != nil {
			return nil
		}
		var out []claim
		at := 0
		for _, p := range o.Parts {
			out = append(out, s.takeSet(o, p, shares[at:at+p.Quantity], sets, pool)...)
			at += p.Quantity
		}
		return out
	},
}

// takeSet claims one part's units of every set from the lines that have them.
func (s *sheet) takeSet(o *prepared, p Part, shares []money.Money, sets int, pool []run) []claim {
	var out []claim
	for i := 0; i < len(shares); {
		same := i + 1
		for same < len(shares) && shares[same] == shares[i] {
			same++
		}
		price, need := shares[i].Minor, (same-i)*sets
		for j := range pool {
			r := &pool[j]
			if s.lines[r.line].product.ID != p.ProductID || r.units == 0 || need == 0 {
				continue
			}
			n := min(need, r.units)
			out = append(out, claim{r.line, n, s.claimed(o, r.line, r.with, change{set: &price})})
			r.units -= n
			need -= n
		}
		i = same
	}
	return out
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
		if (a.Kind == Set) != (b.Kind == Set) {
			if a.Kind == Set {
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
