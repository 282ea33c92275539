package offer

// OrderPercent is Percent of the goods it covers, off the order.
const OrderPercent Kind = "order_percent_off"

var orderPercent = rule{
	kind:    OrderPercent,
	label:   "takes percent off the order",
	members: []Member{percentMember},
	level:   Order,
	check:   func(o Offer, _ string) error { return percentage("percent", o.Percent) },
	says:    func(o Offer) string { return o.Percent.String() + "% off the order" },
	order:   func(o *prepared) change { return change{percent: o.percent} },
}
