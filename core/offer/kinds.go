package offer

import (
	"errors"
	"fmt"
	"slices"

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
	level Level
	check func(o Offer, currency string) error
	says  func(o Offer) string
	// unit gives the change of one unit's price where n units are covered;
	// ok is false where it gives none.
	unit func(o *prepared, n int) (change, bool)
	// group claims units of the pool.
	group func(s *sheet, o *prepared, pool []run) []claim
	// order and carry give the change of the order's goods, or of shipping.
	order func(o *prepared) change
}

// change is what an offer does to a price: set it, take an amount off, or
// take a percentage off what is left after those.
type change struct {
	set     *int64
	amount  int64
	percent int64 // in 1/10000 of a percent
}

// hundred is 100 percent.
const hundred = int64(1_000_000)

// kinds lists every kind of offer.
var kinds = map[Kind]*rule{
	PercentOff:   &percentOff,
	AmountOff:    &amountOff,
	SetPrice:     &setPrice,
	Steps:        &byQuantity,
	BuyGet:       &buyGet,
	Set:          &setOfGoods,
	OrderPercent: &orderPercent,
	OrderAmount:  &orderAmount,
	Gift:         &gift,
	Shipping:     &shippingOff,
}

// KindNames lists the kinds by name, sorted.
func KindNames() []string {
	var names []string
	for k := range kinds {
		names = append(names, string(k))
	}
	slices.Sort(names)
	return names
}

var percentOff = rule{
	level: Unit,
	check: func(o Offer, _ string) error { return percentage(o.Percent) },
	says:  func(o Offer) string { return o.Percent.String() + "% off" },
	unit:  func(o *prepared, _ int) (change, bool) { return change{percent: o.percent}, true },
}

var amountOff = rule{
	level: Unit,
	check: func(o Offer, currency string) error { return amount(o.Amount, currency, 1) },
	says:  func(o Offer) string { return o.Amount.String() + " off" },
	unit:  func(o *prepared, _ int) (change, bool) { return change{amount: o.Amount.Minor}, true },
}

var setPrice = rule{
	level: Unit,
	check: func(o Offer, currency string) error { return amount(o.Amount, currency, 0) },
	says:  func(o Offer) string { return "for " + o.Amount.String() },
	unit: func(o *prepared, _ int) (change, bool) {
		price := o.Amount.Minor
		return change{set: &price}, true
	},
}

var orderPercent = rule{
	level: Order,
	check: func(o Offer, _ string) error { return percentage(o.Percent) },
	says:  func(o Offer) string { return o.Percent.String() + "% off the order" },
	order: func(o *prepared) change { return change{percent: o.percent} },
}

var orderAmount = rule{
	level: Order,
	check: func(o Offer, currency string) error { return amount(o.Amount, currency, 1) },
	says:  func(o Offer) string { return o.Amount.String() + " off the order" },
	order: func(o *prepared) change { return change{amount: o.Amount.Minor} },
}

var shippingOff = rule{
	level: Carry,
	check: func(o Offer, currency string) error {
		if o.Percent.IsZero() && o.Amount.Minor == 0 {
			return nil // free
		}
		if o.Percent.IsZero() {
			return amount(o.Amount, currency, 1)
		}
		return percentage(o.Percent)
	},
	says: func(o Offer) string {
		switch {
		case !o.Percent.IsZero() && !o.Percent.Equal(decimal.NewFromInt(100)):
			return o.Percent.String() + "% off shipping"
		case o.Amount.Minor > 0:
			return o.Amount.String() + " off shipping"
		}
		return "free shipping"
	},
	order: func(o *prepared) change {
		if o.Amount.Minor > 0 && o.percent == 0 {
			return change{amount: o.Amount.Minor}
		}
		if o.percent == 0 {
			return change{percent: hundred}
		}
		return change{percent: o.percent}
	},
}

var gift = rule{
	level: Present,
	check: func(o Offer, _ string) error {
		if o.GiftID == "" {
			return errors.New("gives a gift but names none (gift_id)")
		}
		return nil
	},
	says: func(Offer) string { return "a gift" },
}

var byQuantity = rule{
	level: Unit,
	check: func(o Offer, currency string) error {
		if len(o.Steps) == 0 || len(o.Steps) > MaxParts {
			return fmt.Errorf("needs from 1 to %d steps", MaxParts)
		}
		for i, s := range o.Steps {
			if s.From < 1 || (i > 0 && s.From <= o.Steps[i-1].From) {
				return fmt.Errorf("steps[%d].from: %d; quantities must rise from 1", i, s.From)
			}
			err := percentage(s.Percent)
			if s.Amount != nil {
				if err = amount(*s.Amount, currency, 0); err == nil && !s.Percent.IsZero() {
					err = errors.New("takes a percentage off and sets a price")
				}
			}
			if err != nil {
				return fmt.Errorf("steps[%d]: %w", i, err)
			}
		}
		return nil
	},
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

func percentage(p decimal.Decimal) error {
	if e := p.Exponent(); e <= 0 && e >= -4 { // as nearly all are: no need for large numbers
		if n := scaled(p); n > 0 && n <= hundred {
			return nil
		}
	}
	if !p.IsPositive() || p.GreaterThan(decimal.NewFromInt(100)) {
		return fmt.Errorf("takes %s percent off; it must be above 0 and at most 100", p)
	}
	if !p.Shift(4).IsInteger() {
		return fmt.Errorf("takes %s percent off; at most 4 digits may follow the point", p)
	}
	return nil
}

func amount(m money.Money, currency string, least int64) error {
	if m.Currency != currency {
		return fmt.Errorf("is in %q, the goods are in %s: %w", m.Currency, currency, money.ErrMixed)
	}
	if m.Minor < least || m.Minor > money.Limit {
		return fmt.Errorf("has an amount of %d minor units; it must be from %d to %d", m.Minor, least, money.Limit)
	}
	return nil
}
