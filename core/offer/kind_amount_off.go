package offer

// AmountOff is Amount off each unit.
const AmountOff Kind = "amount_off"

var amountOff = rule{
	kind:    AmountOff,
	label:   "takes an amount off each",
	members: []Member{amountMember(1)},
	level:   Unit,
	check:   func(o Offer, currency string) error { return amount("amount", o.Amount, currency, 1) },
	says:    func(o Offer) string { return o.Amount.String() + " off" },
	unit:    func(o *prepared, _ int) (change, bool) { return change{amount: o.Amount.Minor}, true },
}
