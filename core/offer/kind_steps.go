package offer

import "fmt"

// Steps is by quantity: percent off or a set price.
const Steps Kind = "steps"

var byQuantity = rule{
	kind:    Steps,
	label:   "takes more off by quantity",
	members: []Member{stepsMember},
	level:   Unit,
	check: func(o Offer, currency string) error {
		if len(o.Steps) == 0 || len(o.Steps) > MaxParts {
			return fault("steps", "%d of them; there must be from 1 to %d", len(o.Steps), MaxParts)
		}
		for i, s := range o.Steps {
			place := fmt.Sprintf("steps[%d].", i)
			if s.From < 1 || (i > 0 && s.From <= o.Steps[i-1].From) {
				return fault(place+"from", "%d; quantities must rise from 1", s.From)
			}
			err := percentage(place+"percent", s.Percent)
			if s.Amount != nil {
				if err = amount(place+"amount", *s.Amount, currency, 0); err == nil && !s.Percent.IsZero() {
					err = fault(place+"amount", "a step takes a percentage off or sets a price, not both")
				}
			}
			if err != nil {
				return err
			}
		}
		return nil
	},
	least: func(o Offer) int { return o.Steps[0].From },
	says: func(o Offer) string {
		last := o.Steps[len(o.Steps)-1]
		if last.Amount != nil {
			return fmt.Sprintf("from %d for %s each", last.From, last.Amount)
		}
		return fmt.Sprintf("up to %s%% off from %d", last.Percent, last.From)
	},
	unit: func(o *prepared, n int) (change, bool) {
		var c change
		found := false
		for _, s := range o.Steps {
			if n < s.From {
				break
			}
			found = true
			c = change{percent: scaled(s.Percent)}
			if s.Amount != nil {
				price := s.Amount.Minor
				c = change{set: &price}
			}
		}
		return c, found
	},
}
