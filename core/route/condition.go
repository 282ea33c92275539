package route

import (
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/country"
)

// Condition is something that must hold of a visitor for a route to be theirs.
type Condition struct {
	Kind    string   `json:"kind"`
	Not     bool     `json:"not,omitempty"`      // it must not hold
	Values  []string `json:"values,omitempty"`   // any of them: goods, countries, sources
	AtLeast int64    `json:"at_least,omitempty"` // minor units
}

// The kinds of condition.
const (
	IfBought  = "bought"   // goods of this order, or the choice among them
	IfOwns    = "owns"     // goods of any earlier order
	IfBump    = "bump"     // the bump was taken
	IfAtLeast = "at_least" // what the order comes to
	IfAgain   = "again"    // they ordered before
	IfCountry = "country"
	IfSource  = "source"
)

// Asks is what a condition's form asks for.
type Asks string

// What is asked for.
const (
	AsksNothing   Asks = ""
	AsksGoods     Asks = "goods"
	AsksAmount    Asks = "amount"
	AsksCountries Asks = "countries"
	AsksSources   Asks = "sources"
)

// ConditionKind is one kind of condition: how it is said, what it asks for, and
// whether it holds.
type ConditionKind struct {
	Name  string
	Says  string // after “Who buys and …”
	Never string // the same where it must not hold
	Asks  Asks
	Paid  bool // it is about an order, so that it can hold only after one
	holds func(c Condition, w Walker) bool
}

// ConditionKinds lists them as they are offered.
var ConditionKinds = []ConditionKind{
	{Name: IfBought, Says: "bought", Never: "did not buy", Asks: AsksGoods, Paid: true, holds: func(c Condition, w Walker) bool { return anyOf(c.Values, w.Bought) }},
	{Name: IfOwns, Says: "owns by an earlier order", Never: "does not own yet", Asks: AsksGoods, Paid: true, holds: func(c Condition, w Walker) bool { return anyOf(c.Values, w.Owned) }},
	{Name: IfBump, Says: "took the bump", Never: "left the bump", Paid: true, holds: func(_ Condition, w Walker) bool { return w.Bump }},
	{Name: IfAtLeast, Says: "paid at least", Never: "paid less than", Asks: AsksAmount, Paid: true, holds: func(c Condition, w Walker) bool { return w.Total >= c.AtLeast }},
	{Name: IfAgain, Says: "ordered here before", Never: "ordered for the first time", Paid: true, holds: func(_ Condition, w Walker) bool { return w.Again }},
	{Name: IfCountry, Says: "is in", Never: "is not in", Asks: AsksCountries, Paid: true, holds: func(c Condition, w Walker) bool { return slices.Contains(c.Values, w.Country) }},
	{Name: IfSource, Says: "came by", Never: "did not come by", Asks: AsksSources, holds: func(c Condition, w Walker) bool {
		return slices.ContainsFunc(c.Values, func(v string) bool { return strings.EqualFold(v, w.Source) })
	}},
}

// ConditionOf is the kind of a condition.
func ConditionOf(name string) (ConditionKind, bool) {
	i := slices.IndexFunc(ConditionKinds, func(k ConditionKind) bool { return k.Name == name })
	if i < 0 {
		return ConditionKind{}, false
	}
	return ConditionKinds[i], true
}

// Hold tells whether all conditions hold of a visitor. One of a kind that is not
// known holds of nobody.
func Hold(when []Condition, w Walker) bool {
	for _, c := range when {
		if !c.holds(w) {
			return false
		}
	}
	return true
}

func (c Condition) holds(w Walker) bool {
	k, ok := ConditionOf(c.Kind)
	if ok && k.Paid && len(w.Bought) == 0 {
		return c.Not // there is no order that it could be about
	}
	return ok && k.holds(c, w) != c.Not
}

// Fault says what is wrong with a condition, or "".
func (c Condition) Fault() string {
	k, ok := ConditionOf(c.Kind)
	switch {
	case !ok:
		return fmt.Sprintf("There is no condition %q.", c.Kind)
	case k.Asks == AsksAmount && c.AtLeast <= 0:
		return "Write an amount above nothing."
	case k.Asks == AsksAmount || k.Asks == AsksNothing:
		return ""
	case len(c.Values) == 0 || slices.Contains(c.Values, ""):
		return "Choose at least one of the " + string(k.Asks) + "."
	case len(c.Values) > 100:
		return "Choose at most 100."
	}
	for _, v := range c.Values {
		if k.Asks == AsksCountries && !country.Known(v) {
			return fmt.Sprintf("%q is no country’s code of two letters.", v)
		}
	}
	return ""
}

// Implies tells whether a condition cannot hold without another: c ⇒ d.
func (c Condition) Implies(d Condition) bool {
	if c.Kind != d.Kind || c.Not != d.Not {
		return false
	}
	if c.Kind == IfAtLeast {
		if c.Not {
			return c.AtLeast <= d.AtLeast
		}
		return c.AtLeast >= d.AtLeast
	}
	narrow, wide := c.Values, d.Values
	if c.Not {
		narrow, wide = d.Values, c.Values
	}
	for _, v := range narrow {
		if !slices.ContainsFunc(wide, func(w string) bool { return same(c.Kind, v, w) }) {
			return false
		}
	}
	return true
}

// Excludes tells whether two conditions can never hold together.
func (c Condition) Excludes(d Condition) bool {
	if c.Kind != d.Kind {
		return false
	}
	if c.Not != d.Not {
		holds, denied := c, d
		if c.Not {
			holds, denied = d, c
		}
		denied.Not = false
		return holds.Implies(denied)
	}
	// A visitor is in one country and came by one source.
	return !c.Not && (c.Kind == IfCountry || c.Kind == IfSource) && !slices.ContainsFunc(c.Values, func(v string) bool {
		return slices.ContainsFunc(d.Values, func(w string) bool { return same(c.Kind, v, w) })
	})
}

func same(kind, a, b string) bool {
	if kind == IfSource {
		return strings.EqualFold(a, b)
	}
	return a == b
}

func anyOf(wanted, had []string) bool {
	return slices.ContainsFunc(wanted, func(v string) bool { return slices.Contains(had, v) })
}
