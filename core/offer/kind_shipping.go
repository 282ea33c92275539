package offer

import "github.com/shopspring/decimal"

// Shipping is free, or reduced by Percent or Amount.
const Shipping Kind = "shipping"

var shippingOff = rule{
	kind:    Shipping,
	label:   "makes delivery free or cheaper",
	members: []Member{percentMember.or("percent, empty for free"), amountMember(1).or("or")},
	level:   Carry,
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
