package offer

// SetPrice is each unit for Amount.
const SetPrice Kind = "set_price"

var setPrice = rule{
	kind:    SetPrice,
	label:   "sets the price of each",
	members: []Member{amountMember(0)},
	level:   Unit,
	check:   func(o Offer, currency string) error { return amount("amount", o.Amount, currency, 0) },
	says:    func(o Offer) string { return "for " + o.Amount.String() },
	unit: func(o *prepared, _ int) (change, bool) {
		price := o.Amount.Minor
		return change{set: &price}, true
	},
}
