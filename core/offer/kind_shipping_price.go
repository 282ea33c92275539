package offer

// ShippingPrice is delivery for Amount, wherever it would cost more.
const ShippingPrice Kind = "shipping_price"

var shippingPrice = rule{
	kind:    ShippingPrice,
	label:   "sets the price of delivery",
	members: []Member{amountMember(0)},
	level:   Carry,
	check:   func(o Offer, currency string) error { return amount("amount", o.Amount, currency, 0) },
	says:    func(o Offer) string { return "delivery for " + o.Amount.String() },
	order: func(o *prepared) change {
		price := o.Amount.Minor
		return change{set: &price}
	},
}
