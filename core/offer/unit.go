package offer

import (
	"slices"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// use is an offer at work on a unit, with what it does there.
type use struct {
	offer *prepared
	does  change
}

// rank is the order in which combined offers work on one unit: a set price,
// then amounts, then percentages of what is left.
func (u use) rank() int {
	switch {
	case u.does.set != nil:
		return 0
	case u.does.amount > 0:
		return 1
	}
	return 2
}

// option is one way to price a unit.
type option struct {
	price int64
	uses  []use
}

// better tells whether a beats b: cheaper for the buyer, then by fewer offers,
// then by older ones.
func better(a, b option) bool {
	if a.price != b.price {
		return a.price < b.price
	}
	if len(a.uses) != len(b.uses) {
		return len(a.uses) < len(b.uses)
	}
	return slices.CompareFunc(a.uses, b.uses, func(x, y use) int { return x.offer.age - y.offer.age }) < 0
}

// bestUnit finds the cheapest way to price a unit of a row, with n units of
// each offer's goods in the basket. Only offers that are on are looked at.
func bestUnit(r *row, on []bool) option {
	best := option{price: r.product.Price.Minor}
	var classes []string
	for _, o := range r.offers {
		if !on[o.age] {
			continue
		}
		if !o.alone() {
			if !slices.Contains(classes, o.Class) {
				classes = append(classes, o.Class)
			}
			continue
		}
		does, ok := o.rule.unit(o, o.units)
		if !ok {
			continue
		}
		if price := single(r.product.Price.Minor, does); price < best.price {
			best = option{price: price, uses: []use{{o, does}}}
		}
	}
	for _, class := range classes {
		if c := bestInClass(r, class, on); better(c, best) {
			best = c
		}
	}
	return best
}

// single prices a unit under one offer. A set price never raises a price.
func single(price int64, c change) int64 {
	switch {
	case c.set != nil:
		return min(price, *c.set)
	case c.amount > 0:
		return max(0, price-c.amount)
	}
	return lessPercent(price, c.percent)
}

// lessPercent takes a percentage off and rounds what is left half away from
// zero. A price of at most 10^12 times 10^6 fits.
func lessPercent(price, percent int64) int64 { return (price*(hundred-percent) + hundred/2) / hundred }

// bestInClass prices a unit under the offers of one class together: with the
// lowest of their set prices, or none, then all else. Of equal prices the one
// by fewest offers is taken.
func bestInClass(r *row, class string, on []bool) option {
	var sets, rest []use
	for _, o := range r.offers {
		if !on[o.age] || o.alone() || o.Class != class {
			continue
		}
		does, ok := o.rule.unit(o, o.units)
		switch {
		case !ok:
		case does.set != nil:
			sets = append(sets, use{o, does})
		default:
			rest = append(rest, use{o, does})
		}
	}
	list := r.product.Price.Minor
	best := fewest(list, inOrder(rest))
	for _, u := range sets {
		if *u.does.set >= list {
			continue
		}
		if c := fewest(list, inOrder(append([]use{u}, rest...))); better(c, best) {
			best = c
		}
	}
	return best
}

func inOrder(uses []use) []use {
	uses = slices.Clone(uses)
	slices.SortStableFunc(uses, func(a, b use) int {
		if a.rank() != b.rank() {
			return a.rank() - b.rank()
		}
		return a.offer.age - b.offer.age
	})
	return uses
}

// exactly is up to how many combined offers the smallest set is looked for by
// trying all. Beyond it those that do least are dropped first.
const exactly = 8

// fewest leaves away the offers that change nothing in the end.
func fewest(list int64, uses []use) option {
	full := chain(list, uses)
	price := full[len(full)-1]
	if len(uses) <= 1 {
		if price == list {
			uses = nil
		}
		return option{price, uses}
	}
	if len(uses) <= exactly {
		best := option{price, uses}
		for mask := range 1 << len(uses) {
			var some []use
			for i, u := range uses {
				if mask&(1<<i) != 0 {
					some = append(some, u)
				}
			}
			if len(some) > len(best.uses) {
				continue
			}
			after := chain(list, some)
			if o := (option{after[len(after)-1], some}); better(o, best) {
				best = o
			}
		}
		return best
	}
	order := slices.Clone(uses)
	slices.SortStableFunc(order, func(a, b use) int {
		x, y := list-single(list, a.does), list-single(list, b.does)
		if x != y {
			return int(min(max(x-y, -1), 1))
		}
		return b.offer.age - a.offer.age
	})
	for _, u := range order {
		i := slices.IndexFunc(uses, func(x use) bool { return x.offer == u.offer })
		without := slices.Delete(slices.Clone(uses), i, i+1)
		if after := chain(list, without); after[len(after)-1] == price {
			uses = without
		}
	}
	return option{price, uses}
}

// chain is the price before the first offer and after each, in the order of
// work. Percentages of what is left are rounded once, at the end: the steps
// between are the rounded prices of the exact ones.
func chain(list int64, uses []use) []int64 {
	prices := []int64{list}
	price := list
	var percents []int64
	for _, u := range uses {
		switch {
		case u.does.set != nil:
			price = min(price, *u.does.set)
		case u.does.amount > 0:
			price = max(0, price-u.does.amount)
		default:
			percents = append(percents, u.does.percent)
			prices = append(prices, lessPercents(price, percents))
			continue
		}
		prices = append(prices, price)
	}
	return prices
}

func lessPercents(price int64, percents []int64) int64 {
	if len(percents) == 1 {
		return lessPercent(price, percents[0])
	}
	exact := decimal.NewFromInt(price)
	for _, p := range percents {
		exact = exact.Mul(decimal.New(hundred-p, -6))
	}
	return exact.Round(0).IntPart()
}

// trail writes down what each offer did to one unit.
func trail(list int64, uses []use, currency string) []Adjustment {
	out := make([]Adjustment, 0, len(uses))
	prices := chain(list, uses)
	for i, u := range uses {
		out = append(out, Adjustment{OfferID: u.offer.ID, Name: u.offer.Name, Off: money.Of(prices[i]-prices[i+1], currency), Why: u.offer.Describe()})
	}
	return out
}
