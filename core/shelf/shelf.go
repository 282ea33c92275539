// Package shelf picks goods: by rule, by hand, or by rule with pins and
// exceptions. Bounds are inclusive. What is not known of one of the goods
// meets no condition.
package shelf

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// The most a shelf may hold. Beyond it a shelf is refused.
const (
	MaxConditions = 100
	MaxDepth      = 6
	MaxPinned     = 500
	MaxLimit      = 10_000
)

// Rule is a tree of conditions: either a group (All, Any or None of its rules),
// or one condition on a field. An empty rule is met by everything.
type Rule struct {
	All  []Rule `json:"all,omitzero"`
	Any  []Rule `json:"any,omitzero"`
	None []Rule `json:"none,omitzero"`

	Field   Field            `json:"field,omitempty"`
	Name    string           `json:"name,omitempty"`     // of the attribute, when Field is attribute
	Days    int              `json:"days,omitempty"`     // over which sales are counted, when Field is sales
	AtLeast *decimal.Decimal `json:"at_least,omitempty"` // money in minor units, days in days
	AtMost  *decimal.Decimal `json:"at_most,omitempty"`
	Is      []goods.Value    `json:"is,omitzero"`     // any of these
	Since   string           `json:"since,omitempty"` // a date, when Field is added
}

// Shelf is goods shown together.
type Shelf struct {
	ByHand  bool     `json:"by_hand,omitempty"` // only what is pinned
	Rule    Rule     `json:"rule,omitzero"`
	Order   []Order  `json:"order,omitempty"`
	Limit   int      `json:"limit,omitempty"`    // 0: no limit
	Pinned  []string `json:"pinned,omitempty"`   // stand first, in this order, whatever the rule says
	LeftOut []string `json:"left_out,omitempty"` // never stand here
}

// Order sorts by a field; goods that are equal keep the order of their IDs.
type Order struct {
	By   Field  `json:"by"`
	Name string `json:"name,omitempty"` // of the attribute
	Days int    `json:"days,omitempty"` // for sales
	Down bool   `json:"down,omitempty"` // the greatest first
}

// Entry is one of the goods as rules see it.
type Entry struct {
	goods.Product
	Now  money.Money   `json:"now,omitzero"`  // promotional price; the list price when left out
	Sold map[int]int64 `json:"sold,omitzero"` // units sold in the last N days, by N
}

func (e Entry) now() int64 {
	if e.Now.Currency == "" {
		return e.Price.Minor
	}
	return e.Now.Minor
}

// Sight is from when and where a shelf is looked at.
type Sight struct {
	Moment time.Time
	Zone   *time.Location // in which days are counted
}

// Pick returns what stands on the shelf, in order.
func (s Shelf) Pick(all []Entry, at Sight) []Entry {
	out := map[string]bool{}
	for _, id := range s.LeftOut {
		out[id] = true
	}
	byID := make(map[string]Entry, len(s.Pinned))
	wanted := map[string]bool{}
	for _, id := range s.Pinned {
		wanted[id] = !out[id]
	}
	var picked []Entry
	for _, e := range all {
		switch {
		case wanted[e.ID]:
			byID[e.ID] = e
		case !s.ByHand && !out[e.ID] && s.Rule.Meets(e, at):
			picked = append(picked, e)
		}
	}
	slices.SortFunc(picked, func(a, b Entry) int { return s.compare(a, b, at) })
	var first []Entry
	for _, id := range s.Pinned {
		if e, ok := byID[id]; ok {
			first = append(first, e)
			delete(byID, id)
		}
	}
	picked = append(first, picked...)
	if s.Limit > 0 && len(picked) > s.Limit {
		picked = picked[:s.Limit]
	}
	return picked
}

func (s Shelf) compare(a, b Entry, at Sight) int {
	for _, o := range s.Order {
		f := fields[o.By]
		c := 0
		if f.number != nil {
			x, okX := f.number(a, at, Rule{Name: o.Name, Days: o.Days})
			y, okY := f.number(b, at, Rule{Name: o.Name, Days: o.Days})
			if okX != okY { // what is not known stands last, either way round
				if okX {
					return -1
				}
				return 1
			}
			c = x.Cmp(y)
		} else {
			c = cmp.Compare(f.text(a), f.text(b))
		}
		if o.Down {
			c = -c
		}
		if c != 0 {
			return c
		}
	}
	return cmp.Compare(a.ID, b.ID)
}

// Meets tells whether one of the goods meets the rule.
func (r Rule) Meets(e Entry, at Sight) bool {
	switch {
	case r.Field != "":
		return r.holds(e, at)
	case r.All != nil:
		return !slices.ContainsFunc(r.All, func(c Rule) bool { return !c.Meets(e, at) })
	case r.Any != nil:
		return slices.ContainsFunc(r.Any, func(c Rule) bool { return c.Meets(e, at) })
	case r.None != nil:
		return !slices.ContainsFunc(r.None, func(c Rule) bool { return c.Meets(e, at) })
	}
	return true
}

func (r Rule) holds(e Entry, at Sight) bool {
	f := fields[r.Field]
	if f.among != nil && (r.Is != nil) {
		return slices.ContainsFunc(r.Is, func(v goods.Value) bool { return f.among(e, r, v) })
	}
	if r.Field == Added && r.Since != "" {
		since, err := time.ParseInLocation(time.DateOnly, r.Since, at.Zone)
		return err == nil && !e.Added.IsZero() && !e.Added.Before(since)
	}
	n, ok := f.number(e, at, r)
	return ok && (r.AtLeast == nil || !n.LessThan(*r.AtLeast)) && (r.AtMost == nil || !n.GreaterThan(*r.AtMost))
}

// Walk calls visit for every condition of the tree.
func (r Rule) Walk(visit func(Rule)) {
	if r.Field != "" {
		visit(r)
	}
	for _, group := range [][]Rule{r.All, r.Any, r.None} {
		for _, c := range group {
			c.Walk(visit)
		}
	}
}

// Changes tells when the shelf can change by itself: days pass at midnight.
// Zero: never.
func (s Shelf) Changes(at Sight) time.Time {
	var next time.Time
	daily := func(f Field) bool { return f == DaysInStock || f == DaysListed || f == Sales }
	s.Rule.Walk(func(r Rule) {
		if daily(r.Field) {
			next = goods.NextDay(at.Moment, at.Zone)
		}
	})
	for _, o := range s.Order {
		if daily(o.By) {
			next = goods.NextDay(at.Moment, at.Zone)
		}
	}
	return next
}

// Validate refuses a shelf that cannot be read, with the place and reason.
func (s Shelf) Validate() error {
	count := 0
	if err := s.Rule.validate("rule", 0, &count); err != nil {
		return err
	}
	for i, o := range s.Order {
		f, known := fields[o.By]
		if !known || (f.number == nil && f.text == nil) {
			return fmt.Errorf("order[%d].by: goods cannot be ordered by %q", i, o.By)
		}
	}
	if len(s.Pinned) > MaxPinned || len(s.LeftOut) > MaxPinned {
		return fmt.Errorf("pinned or left_out: at most %d goods each", MaxPinned)
	}
	if s.Limit < 0 || s.Limit > MaxLimit {
		return fmt.Errorf("limit: must be from 0 (none) to %d", MaxLimit)
	}
	return nil
}

func (r Rule) validate(place string, depth int, count *int) error {
	if depth > MaxDepth {
		return fmt.Errorf("%s: groups stand in groups more than %d deep", place, MaxDepth)
	}
	groups := 0
	for name, group := range map[string][]Rule{"all": r.All, "any": r.Any, "none": r.None} {
		if group != nil {
			groups++
		}
		for i, c := range group {
			if err := c.validate(fmt.Sprintf("%s.%s[%d]", place, name, i), depth+1, count); err != nil {
				return err
			}
		}
	}
	if r.Field == "" {
		if groups > 1 {
			return fmt.Errorf("%s: a group is either all, any or none", place)
		}
		if r.Name != "" || r.AtLeast != nil || r.AtMost != nil || r.Is != nil || r.Since != "" {
			return fmt.Errorf("%s.field: missing; it must be one of %s", place, strings.Join(FieldNames(), ", "))
		}
		return nil
	}
	if groups > 0 {
		return fmt.Errorf("%s: is either a group or a condition on a field, not both", place)
	}
	if *count++; *count > MaxConditions {
		return fmt.Errorf("%s: more than %d conditions", place, MaxConditions)
	}
	return r.condition(place)
}

func (r Rule) condition(place string) error {
	f, known := fields[r.Field]
	switch {
	case !known:
		return fmt.Errorf("%s.field: %q is not a field; it must be one of %s", place, r.Field, strings.Join(FieldNames(), ", "))
	case r.Field == Attribute && r.Name == "":
		return fmt.Errorf("%s.name: name the attribute", place)
	case r.Field != Attribute && r.Name != "":
		return fmt.Errorf("%s.name: only an attribute has a name", place)
	case r.Field == Sales && (r.Days < 1 || r.Days > 3660):
		return fmt.Errorf("%s.days: say over how many days sales are counted, from 1 to 3660", place)
	case r.Field != Sales && r.Days != 0:
		return fmt.Errorf("%s.days: only sales are counted over days", place)
	case r.Since != "" && r.Field != Added:
		return fmt.Errorf("%s.since: only “added” has a date", place)
	case r.Since != "":
		if _, err := time.Parse(time.DateOnly, r.Since); err != nil {
			return fmt.Errorf("%s.since: %q is not a date; write it like 2026-11-27", place, r.Since)
		}
	case r.Is != nil && f.among == nil:
		return fmt.Errorf("%s.is: %s is a number; bound it by at_least and at_most", place, r.Field)
	case len(r.Is) > MaxConditions:
		return fmt.Errorf("%s.is: more than %d values", place, MaxConditions)
	case r.Is == nil && f.number == nil:
		return fmt.Errorf("%s.is: missing; list the values to look for", place)
	case r.Is == nil && r.AtLeast == nil && r.AtMost == nil:
		return fmt.Errorf("%s: bound it by at_least or at_most", place)
	}
	return nil
}
