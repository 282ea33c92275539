package offer

import (
	"cmp"
	"math/bits"
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
func (c change) rank() int {
	switch {
	case c.set != nil:
		return 0
	case c.amount > 0:
		return 1
	}
	return 2
}

func (c change) isPercent() bool { return c.set == nil && c.amount <= 0 }

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

// ways are offers on a unit as they can be combined: those by themselves, and
// those of each class in the order of work.
type ways struct {
	single  []*prepared
	classes [][]*prepared
}

func waysOf(offers []*prepared) ways {
	var w ways
	at := map[string]int{}
	for _, o := range offers {
		if !o.gives {
			continue
		}
		if o.byItself() {
			w.single = append(w.single, o)
			continue
		}
		i, known := at[o.Class]
		if !known {
			i = len(w.classes)
			at[o.Class] = i
			w.classes = append(w.classes, nil)
		}
		w.classes[i] = append(w.classes[i], o)
	}
	for _, class := range w.classes {
		slices.SortStableFunc(class, func(a, b *prepared) int { return a.does.rank() - b.does.rank() })
	}
	return w
}

// of are the offers of one class.
func (w ways) of(class string) []*prepared {
	for _, c := range w.classes {
		if c[0].Class == class {
			return c
		}
	}
	return nil
}

// unit is the cheapest way to price a unit of a line that no group claims.
func (s *sheet) unit(i int, c choice) *option {
	r := &s.lines[i]
	if c.known != nil && !slices.Contains(r.offers, c.but) {
		if c.known[i] == nil {
			best := bestUnit(r, option{price: r.product.Price.Minor, settled: true}, r.ways, c.on, true)
			c.known[i] = &best
		}
		return c.known[i]
	}
	if c.mask < 0 || r.kept == nil {
		best := bestUnit(r, option{price: r.product.Price.Minor, settled: true}, r.ways, c.on, true)
		return &best
	}
	kept := &r.kept[c.mask&r.mask]
	if *kept == nil {
		best := bestUnit(r, r.always, r.tried, c.on, false)
		*kept = &best
	}
	return *kept
}

// bestUnit finds the cheapest way to price a unit of a row, if it is better than
// one that is known. Only offers that are on are looked at. While sets are tried
// only the price counts; exact tells also which of equal ways is taken.
func bestUnit(r *row, best option, by ways, on []bool, exact bool) option {
	list := r.product.Price.Minor
	for _, o := range by.single {
		if !on[o.age] {
			continue
		}
		price := single(list, o.does)
		if price > best.price || price == list {
			continue
		}
		if c := (option{price: price, uses: []use{{o, o.does}}, settled: true}); better(c, best) {
			best = c
		}
	}
	var cheapest combined // of a class, written down once it is known
	for _, class := range by.classes {
		price, together := bestInClass(list, class, on)
		if price > best.price || price == list {
			continue
		}
		if price == best.price && !exact && !best.alone() {
			best.tied = true // who is at work is asked once a set is chosen
			continue
		}
		if !exact && price < best.price {
			best, cheapest = option{price: price}, together
			continue
		}
		c := fullest(list, together.list())
		if c.price == best.price {
			c.settle(list)
			best.settle(list)
		}
		if better(c, best) {
			best, cheapest = c, combined{}
		}
	}
	if uses := cheapest.list(); len(uses) > 0 {
		tied := best.tied
		best = fullest(list, uses)
		best.tied = tied
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

// MaxTogether is how many offers of one class add up on a unit: of those that cover
// it the ones that take most off the cart by themselves, of equal ones the older.
const MaxTogether = 5

// combined are the offers of one class at work on a unit, in the order of work.
type combined struct {
	set  use // where its offer is not nil
	rest [MaxTogether]use
	n    int
}

func (c *combined) list() []use {
	uses := make([]use, 0, c.n+1)
	if c.set.offer != nil {
		uses = append(uses, c.set)
	}
	return append(uses, c.rest[:c.n]...)
}

func (c *combined) price(list int64) int64 {
	if c.set.offer != nil {
		list = min(list, *c.set.does.set)
	}
	return last(list, c.rest[:c.n])
}

// bestInClass prices a unit under the offers of one class together: with the
// best of their set prices, or none, then all else. Offers that come to nothing
// are still among its uses.
func bestInClass(list int64, class []*prepared, on []bool) (int64, combined) {
	var best combined
	for _, o := range class {
		if on[o.age] && o.does.set == nil {
			best.rest[best.n] = use{o, o.does}
			best.n++
		}
	}
	price := best.price(list)
	for _, o := range class {
		if !on[o.age] || o.does.set == nil || *o.does.set >= list {
			continue
		}
		with := best
		with.set = use{o, o.does}
		if p := with.price(list); p < price {
			price, best = p, with
		}
	}
	return price, best
}

// fullest prices a unit under all of these offers. Those that are not needed
// for the price are left away when it is settled.
func fullest(list int64, uses []use) option {
	price := last(list, uses)
	if price == list {
		return option{price: price, settled: true}
	}
	return option{price: price, uses: uses, settled: len(uses) == 1}
}

func inOrder(uses []use) []use {
	uses = slices.Clone(uses)
	slices.SortStableFunc(uses, func(a, b use) int {
		return cmp.Or(a.does.rank()-b.does.rank(), a.offer.age-b.offer.age)
	})
	return uses
}

// fewest leaves away the offers that change nothing in the end. There are at most
// [MaxTogether] of them with a set price and a group's, so all subsets are tried.
func fewest(list int64, uses []use) option {
	best := option{price: last(list, uses), uses: uses}
	if best.price == list {
		return option{price: list}
	}
	var room [MaxTogether + 2]use
	for mask := range 1<<len(uses) - 1 {
		if bits.OnesCount(uint(mask)) > len(best.uses) {
			continue
		}
		some := room[:0]
		for i, u := range uses {
			if mask&(1<<i) != 0 {
				some = append(some, u)
			}
		}
		if last(list, some) == best.price && better(option{price: best.price, uses: some}, best) {
			best.uses = slices.Clone(some)
		}
	}
	return best
}

// last is the price after all of these offers, in the order of work.
func last(list int64, uses []use) int64 {
	price := list
	var few [MaxTogether + 2]int64
	percents := few[:0]
	for _, u := range uses {
		if u.does.isPercent() {
			percents = append(percents, u.does.percent)
		} else {
			price = single(price, u.does)
		}
	}
	if len(percents) == 0 {
		return price
	}
	return lessPercents(price, percents)
}

// chain is the price before the first offer and after each, in the order of
// work. Percentages of what is left are rounded once, at the end: the steps
// between are the rounded prices of the exact ones.
func chain(list int64, uses []use) []int64 {
	prices := []int64{list}
	price := list
	var percents []int64
	for _, u := range uses {
		if u.does.isPercent() {
			percents = append(percents, u.does.percent)
			prices = append(prices, lessPercents(price, percents))
			continue
		}
		price = single(price, u.does)
		prices = append(prices, price)
	}
	return prices
}

// lessPercents takes percentages off one after the other and rounds what is
// left once, half away from zero.
func lessPercents(price int64, percents []int64) int64 {
	if len(percents) == 1 && price <= money.Limit {
		return lessPercent(price, percents[0])
	}
	// In 128 bits while they last, and with no power of ten too many.
	hi, lo, below := uint64(0), uint64(price), uint64(1)
	for _, p := range percents {
		keep, of := uint64(hundred-p), uint64(hundred)
		for keep%10 == 0 && of > 1 {
			keep, of = keep/10, of/10
		}
		over, _ := bits.Mul64(below, of)
		if top, _ := bits.Mul64(hi, keep); over != 0 || top != 0 || below*of > 1e18 {
			return beyond(price, percents)
		}
		carry, low := bits.Mul64(lo, keep)
		hi, lo, below = hi*keep+carry, low, below*of
		if hi < carry {
			return beyond(price, percents)
		}
	}
	lo, carry := bits.Add64(lo, below/2, 0)
	if hi += carry; hi >= below {
		return beyond(price, percents)
	}
	whole, _ := bits.Div64(hi, lo, below)
	return int64(whole)
}

// beyond is lessPercents by large numbers.
func beyond(price int64, percents []int64) int64 {
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
