package offer

// OrderAmount is Amount off the order.
const OrderAmount Kind = "order_amount_off"

var orderAmount = rule{
	kind:    OrderAmount,
	label:   "takes an amount off the order",
	members: []Member{amountMember(1)},
	level:   Order,
	check:   func(o Offer, currency string) error { return amount("amount", o.Amount, currency, 1) },
	says:    func(o Offer) string { return o.Amount.String() + " off the order" },
	order:   func(o *prepared) change { return change{amount: o.Amount.Minor} },
}
