package offer

import (
	"errors"
	"fmt"
	"slices"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// run is some units of one line that no group has claimed.
type run struct {
	line  int
	units int
	price int64 // of one, under the other offers it may be combined with
}

// claim is some units of one line that a group takes, and what it does there.
type claim struct {
	line  int
	units int
	does  *change // nil: they count towards the group and are paid as they are
}

var buyGet = rule{
	level: Group,
	check: func(o Offer, _ string) error {
		if o.Buy < 1 || o.Get < 1 || o.Buy+o.Get > MaxGroup {
			return fmt.Errorf("needs buy and get from 1, at most %d together", MaxGroup)
		}
		if o.Percent.IsZero() {
			return nil
		}
		return percentage(o.Percent)
	},
	says: func(o Offer) string {
		if o.Percent.IsZero() || o.Percent.Equal(decimal.NewFromInt(100)) {
			return fmt.Sprintf("buy %d, get %d free", o.Buy, o.Get)
		}
		return fmt.Sprintf("buy %d, get %d at %s%% off", o.Buy, o.Get, o.Percent)
	},
	group: func(_ *sheet, o *prepared, pool []run) []claim {
		percent := o.percent
		if percent == 0 {
			percent = hundred
		}
		total := 0
		for _, r := range pool {
			total += r.units
		}
		groups := total / (o.Buy + o.Get)
		if groups == 0 {
			return nil
		}
		// The cheapest units first; of equal ones the later lines', so that what
		// stands first is what is paid for.
		pool = slices.Clone(pool)
		slices.SortFunc(pool, func(a, b run) int {
			switch {
			case a.price < b.price:
				return -1
			case a.price > b.price:
				return 1
			}
			return b.line - a.line
		})
		var out []claim
		free, paid := groups*o.Get, groups*o.Buy
		for _, r := range pool {
			if n := min(free, r.units); n > 0 {
				out = append(out, claim{r.line, n, &change{percent: percent}})
				free -= n
				r.units -= n
			}
			if n := min(paid, r.units); n > 0 {
				out = append(out, claim{r.line, n, nil})
				paid -= n
			}
		}
		return out
	},
}

var setOfGoods = rule{
	level: Group,
	check: func(o Offer, currency string) error {
		if len(o.Parts) == 0 || len(o.Parts) > MaxParts {
			return fmt.Errorf("needs from 1 to %d parts", MaxParts)
		}
		seen, units := map[string]bool{}, 0
		for i, p := range o.Parts {
			if p.Quantity < 1 || p.ProductID == "" || seen[p.ProductID] {
				return fmt.Errorf("parts[%d]: needs one of the goods, named once, and a quantity from 1", i)
			}
			seen[p.ProductID] = true
			units += p.Quantity
		}
		if units > MaxGroup {
			return errors.New("has too many units in one set")
		}
		return amount(o.Amount, currency, 0)
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
			out = append(out, s.takeSet(p, shares[at:at+p.Quantity], sets, pool)...)
			at += p.Quantity
		}
		return out
	},
}

// takeSet claims one part's units of every set from the lines that have them.
func (s *sheet) takeSet(p Part, shares []money.Money, sets int, pool []run) []claim {
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
			out = append(out, claim{r.line, n, &change{set: &price}})
			r.units -= n
			need -= n
		}
		i = same
	}
	return out
}

// part is some units of one line at one price.
type part struct {
	line  int
	units int
	option
	why *prepared // the group that claimed them
}

// priceUnits is the first stage: every unit gets its price, first by the
// groups that are on, in the order of sets before buy-and-get and of age, then
// by the offers on units by themselves.
func (s *sheet) priceUnits(on []bool) []part {
	left := make([]int, len(s.lines))
	for i := range s.lines {
		left[i] = s.lines[i].item.Quantity
	}
	var parts []part
	for _, o := range s.groups() {
		if !on[o.age] {
			continue
		}
		var pool []run
		for _, i := range o.lines {
			if left[i] > 0 {
				pool = append(pool, run{i, left[i], s.inClass(i, o, on).price})
			}
		}
		for _, c := range o.rule.group(s, o, pool) {
			left[c.line] -= c.units
			parts = append(parts, s.claimed(o, c, on))
		}
	}
	for i := range s.lines {
		if left[i] > 0 {
			parts = append(parts, part{line: i, units: left[i], option: bestUnit(&s.lines[i], on)})
		}
	}
	slices.SortStableFunc(parts, func(a, b part) int {
		if a.line != b.line {
			return a.line - b.line
		}
		return int(min(max(b.price-a.price, -1), 1))
	})
	return parts
}

// groups are the usable offers on groups, in the order in which they claim.
func (s *sheet) groups() []*prepared {
	list := slices.Clone(s.levels[Group])
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

// inClass prices a unit under the offers that a group may be combined with.
func (s *sheet) inClass(line int, o *prepared, on []bool) option {
	if o.alone() || o.NotReduced {
		return option{price: s.lines[line].product.Price.Minor}
	}
	return bestInClass(&s.lines[line], o.Class, on)
}

// claimed prices the units that a group takes: its own change with those of
// its class.
func (s *sheet) claimed(o *prepared, c claim, on []bool) part {
	list := s.lines[c.line].product.Price.Minor
	p := part{line: c.line, units: c.units, option: s.inClass(c.line, o, on), why: o}
	if c.does == nil {
		return p
	}
	uses := []use{{o, *c.does}}
	if !o.alone() && !o.NotReduced {
		uses = append(uses, s.inClass(c.line, o, on).uses...)
		if c.does.set != nil { // the set's price stands instead of others
			uses = slices.DeleteFunc(uses, func(u use) bool { return u.offer != o && u.does.set != nil })
		}
	}
	p.option = fewest(list, inOrder(uses))
	return p
}
