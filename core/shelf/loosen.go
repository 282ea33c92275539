package shelf

import (
	"fmt"
	"slices"

	"chrysagon/core/goods"

	"github.com/shopspring/decimal"
)

// Advice is one condition that could be loosened, and what that would bring.
type Advice struct {
	Path  string           `json:"path"`         // of the condition, such as rule.all[1]
	Say   string           `json:"say"`          // what to do, in words
	Count int              `json:"count"`        // how many goods the shelf would hold then
	Bound *decimal.Decimal `json:"to,omitempty"` // the bound that lets in at least one more; none: leave the condition away
}

// Warning says that a shelf is empty or nearly so, or "".
func Warning(picked int) string {
	switch picked {
	case 0:
		return "Nothing stands on this shelf. A page would show a gap."
	case 1:
		return "Only one product stands on this shelf. It looks like a mistake to a visitor."
	}
	return ""
}

// Loosen looks for what to loosen in a shelf that holds too little: every
// condition that keeps goods out by itself, the one that brings least first.
// Only conditions joined by all, at the top, are looked at: they are the ones
// that narrow.
func (s Shelf) Loosen(all []Entry, at Sight, currency string, attributes map[string]goods.Attribute) []Advice {
	top := s.Rule.All
	if s.Rule.Field != "" {
		top = []Rule{s.Rule}
	}
	now := len(s.Pick(all, at))
	w := writer{currency, attributes}
	var out []Advice
	for i, c := range top {
		tried := s
		tried.Limit = 0
		tried.Rule = Rule{All: slices.Delete(slices.Clone(top), i, i+1)}
		without := tried.Pick(all, at)
		if len(without) <= now {
			continue
		}
		a := Advice{Path: fmt.Sprintf("rule.all[%d]", i), Count: len(without), Say: fmt.Sprintf("Leave “%s” away", w.rule(c, false))}
		if s.Rule.Field != "" {
			a.Path = "rule"
		}
		if near, ok := nearest(c, without, at); ok {
			a.Bound = &near
			wider := widen(c, near)
			tried.Rule = Rule{All: append(slices.Clone(tried.Rule.All), wider)}
			a.Count = len(tried.Pick(all, at))
			a.Say = fmt.Sprintf("Make it “%s”", w.rule(wider, false))
		}
		a.Say += fmt.Sprintf(": %s then.", count(a.Count))
		out = append(out, a)
	}
	slices.SortStableFunc(out, func(a, b Advice) int { return a.Count - b.Count })
	return out
}

// nearest finds the bound, nearest to the condition's own, that lets in at
// least one more of the candidates.
func nearest(c Rule, candidates []Entry, at Sight) (decimal.Decimal, bool) {
	f := fields[c.Field]
	if c.Field == "" || c.Is != nil || f.number == nil || c.Since != "" {
		return decimal.Zero, false
	}
	var best decimal.Decimal
	found := false
	for _, e := range candidates {
		n, ok := f.number(e, at, c)
		if !ok || c.holds(e, at) {
			continue
		}
		if c.AtLeast != nil && c.AtMost != nil {
			return decimal.Zero, false // two bounds: say only what leaving it away brings
		}
		if !found || (c.AtMost != nil && n.LessThan(best)) || (c.AtLeast != nil && n.GreaterThan(best)) {
			best, found = n, true
		}
	}
	return best, found
}

func widen(c Rule, bound decimal.Decimal) Rule {
	if c.AtMost != nil {
		c.AtMost = &bound
	} else {
		c.AtLeast = &bound
	}
	return c
}
