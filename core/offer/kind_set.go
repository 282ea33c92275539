package offer

import (
	"fmt"

	"chrysagon/core/money"
)

// Set is a set of goods for one price.
const Set Kind = "set"

var setOfGoods = rule{
	kind:    Set,
	label:   "sells a set for one price",
	members: []Member{amountMember(0), partsMember},
	level:   Group,
	onParts: true,
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
	least: func(o Offer) (units int) {
		for _, part := range o.Parts {
			units += part.Quantity
		}
		return units
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
