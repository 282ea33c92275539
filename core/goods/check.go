package goods

import (
	"fmt"
	"slices"

	"chrysagon/core/money"
)

// MaxWeight is the most that one unit may weigh, in grams.
const MaxWeight = 100_000_000

// Check refuses one of the goods that cannot be computed with, with the member
// and what could stand there.
func (p *Product) Check(currency string) error {
	if err := amount("price", p.Price, currency); err != nil {
		return err
	}
	if p.Cost != nil {
		if err := amount("cost", *p.Cost, currency); err != nil {
			return err
		}
	}
	if p.Form != "" && !slices.Contains(Forms, p.Form) {
		return fmt.Errorf("form: %q; it must be physical, digital or bookable, or be left out", p.Form)
	}
	if p.Condition != "" && !slices.Contains(Conditions, p.Condition) {
		return fmt.Errorf("condition: %q; it must be new, returned or ex-demo, or be left out", p.Condition)
	}
	if p.Weight < 0 || p.Weight > MaxWeight {
		return fmt.Errorf("weight_grams: %d; it must be from 0 to %d", p.Weight, MaxWeight)
	}
	return nil
}

func amount(place string, m money.Money, currency string) error {
	if m.Currency != currency {
		return fmt.Errorf("%s.currency: %q, where all else is in %s: %w", place, m.Currency, currency, money.ErrMixed)
	}
	if m.Minor < 0 || m.Minor > money.Limit {
		return fmt.Errorf("%s.minor: %d; it must be from 0 to %d", place, m.Minor, money.Limit)
	}
	return nil
}
