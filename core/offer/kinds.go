package offer

import (
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
	takes []string // the members by which it says what it does
	check func(o Offer, currency string) error
	says  func(o Offer) string
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
	takes: []string{"percent"},
	check: func(o Offer, _ string) error { return percentage("percent", o.Percent) },
	says:  func(o Offer) string { return o.Percent.String() + "% off" },
	unit:  func(o *prepared, _ int) (change, bool) { return change{percent: o.percent}, true },
}

var amountOff = rule{
	level: Unit,
	takes: []string{"amount"},
	check: func(o Offer, currency string) error { return amount("amount", o.Amount, currency, 1) },
	says:  func(o Offer) string { return o.Amount.String() + " off" },
	unit:  func(o *prepared, _ int) (change, bool) { return change{amount: o.Amount.Minor}, true },
}

var setPrice = rule{
	level: Unit,
	takes: []string{"amount"},
	check: func(o Offer, currency string) error { return amount("amount", o.Amount, currency, 0) },
	says:  func(o Offer) string { return "for " + o.Amount.String() },
	unit: func(o *prepared, _ int) (change, bool) {
		price := o.Amount.Minor
		return change{set: &price}, true
	},
}

var orderPercent = rule{
	level: Order,
	takes: []string{"percent"},
	check: func(o Offer, _ string) error { return percentage("percent", o.Percent) },
	says:  func(o Offer) string { return o.Percent.String() + "% off the order" },
	order: func(o *prepared) change { return change{percent: o.percent} },
}

var orderAmount = rule{
	level: Order,
	takes: []string{"amount"},
	check: func(o Offer, currency string) error { return amount("amount", o.Amount, currency, 1) },
	says:  func(o Offer) string { return o.Amount.String() + " off the order" },
	order: func(o *prepared) change { return change{amount: o.Amount.Minor} },
}

var shippingOff = rule{
	level: Carry,
	takes: []string{"percent", "amount"},
	check: func(o Offer, currency string) error {
		if o.Percent.IsZero() && o.Amount.Minor == 0 {
			return nil // free
		}
		if !o.Percent.IsZero() && o.Amount.Minor != 0 {
			return fault("amount", "shipping is reduced by a percentage or by an amount, not both")
		}
		if o.Percent.IsZero() {
			return amount("amount", o.Amount, currency, 1)
		}
		return percentage("percent", o.Percent)
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
	takes: []string{"gift_id"},
	check: func(o Offer, _ string) error {
		if o.GiftID == "" {
			return fault("gift_id", "missing; name what is given")
		}
		return nil
	},
	says: func(Offer) string { return "a gift" },
}

var byQuantity = rule{
	level: Unit,
	takes: []string{"steps"},
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
