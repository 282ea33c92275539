package offer

import (
	"slices"
	"strings"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// Level is the stage of a quote at which a kind of offer works.
type Level string

// The levels, in the order of work.
const (
	Unit    Level = "unit"     // the price of each unit by itself
	Group   Level = "group"    // units of several lines together
	Order   Level = "order"    // the goods of the order, after the above
	Carry   Level = "shipping" // what sending costs
	Present Level = "gift"     // what is added
)

// rule is how one kind of offer works. A kind has the functions of its level.
type rule struct {
	kind    Kind
	level   Level
	label   string   // in the sentence that an offer is: the offer … takes percent off each
	members []Member // by which it says what it does
	onParts bool     // it names its goods itself, and is on those
	check   func(o Offer, currency string) error
	says    func(o Offer) string
	// least is how many units it takes before the offer does anything, where
	// that is more than one.
	least func(o Offer) int
	// unit gives the change of one unit's price where n units are covered;
	// ok is false where it gives none.
	unit func(o *prepared, n int) (change, bool)
	// group claims units of the pool; each is what it does to every unit that
	// it reduces, where it does the same to all.
	group func(s *sheet, o *prepared, pool []run) []claim
	each  func(o *prepared) change
	// order and carry give the change of the order's goods, or of shipping.
	order func(o *prepared) change
}

// takes names the members, as JSON has them.
func (r *rule) takes() string {
	var names []string
	for _, m := range r.members {
		names = append(names, m.Name)
	}
	return strings.Join(names, ", ")
}

// Label is what the kind does, in the sentence that an offer is.
func (k Kind) Label() string { return kinds[k].label }

// Members are what a form asks for a kind of offer; none where there is no such kind.
func (k Kind) Members() []Member {
	if rule, known := kinds[k]; known {
		return rule.members
	}
	return nil
}

// Needs tells whether offers of the kind always have the member, and positive
// whether it is then above zero.
func (k Kind) Needs(member string) (needed, positive bool) {
	for _, m := range k.Members() {
		if m.Name == member {
			return !m.Optional, !m.Optional && m.Positive
		}
	}
	return false, false
}

// OnParts tells whether offers of the kind name their goods themselves and are
// on those: nothing else is chosen that they cover.
func (k Kind) OnParts() bool { return kinds[k] != nil && kinds[k].onParts }

// StandsAlone tells whether offers of the kind can: they work on units, or on
// what units come to.
func (k Kind) StandsAlone() bool {
	return kinds[k] != nil && kinds[k].level != Carry && kinds[k].level != Present
}

// Kinds lists all kinds, in the order in which a form offers them.
func Kinds() []Kind {
	out := make([]Kind, len(listed))
	for i, r := range listed {
		out[i] = r.kind
	}
	return out
}

// change is what an offer does to a price: set it, take an amount off, or
// take a percentage off what is left after those.
type change struct {
	set     *int64
	amount  int64
	percent int64 // in 1/10000 of a percent
}

func (c change) same(o change) bool {
	if (c.set == nil) != (o.set == nil) || (c.set != nil && *c.set != *o.set) {
		return false
	}
	return c.amount == o.amount && c.percent == o.percent
}

// hundred is 100 percent.
const hundred = int64(1_000_000)

// listed lists every kind of offer, in the order in which a form asks for them.
var listed = []*rule{
	&percentOff, &amountOff, &setPrice, &byQuantity, &buyGet, &setOfGoods, &orderPercent, &orderAmount, &gift, &shippingOff, &shippingPrice,
}

// kinds finds a kind of offer by its name.
var kinds = func() map[Kind]*rule {
	found := make(map[Kind]*rule, len(listed))
	for _, r := range listed {
		found[r.kind] = r
	}
	return found
}()

// KindNames lists the kinds by name, sorted.
func KindNames() []string {
	names := make([]string, len(listed))
	for i, r := range listed {
		names[i] = string(r.kind)
	}
	slices.Sort(names)
	return names
}

// scaled is a percentage in 1/10000 of a percent.
func scaled(percent decimal.Decimal) int64 {
	n := percent.CoefficientInt64()
	switch e := percent.Exponent(); {
	case e > 0 || e < -4 || n > hundred || n < -hundred:
		return percent.Shift(4).IntPart()
	default:
		for range e + 4 {
			n *= 10
		}
		return n
	}
}

func percentage(place string, p decimal.Decimal) error {
	if e := p.Exponent(); e <= 0 && e >= -4 { // as nearly all are: no need for large numbers
		if n := scaled(p); n > 0 && n <= hundred {
			return nil
		}
	}
	if !p.IsPositive() || p.GreaterThan(decimal.NewFromInt(100)) {
		return fault(place, "%s; it must be above 0 and at most 100", p)
	}
	if !p.Shift(4).IsInteger() {
		return fault(place, "%s; at most 4 digits may follow the point", p)
	}
	return nil
}

func amount(place string, m money.Money, currency string, least int64) error {
	if m.Currency != currency {
		return fault(place+".currency", "%q, where the goods are in %s; amounts of two currencies cannot be computed together", m.Currency, currency)
	}
	if m.Minor < least || m.Minor > money.Limit {
		return fault(place+".minor", "%d; it must be from %d to %d", m.Minor, least, money.Limit)
	}
	return nil
}
