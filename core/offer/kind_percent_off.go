package offer

// PercentOff is a percentage off each unit’s price.
const PercentOff Kind = "percent_off"

var percentOff = rule{
	kind:    PercentOff,
	label:   "takes percent off each",
	members: []Member{percentMember},
	level:   Unit,
	check:   func(o Offer, _ string) error { return percentage("percent", o.Percent) },
	says:    func(o Offer) string { return o.Percent.String() + "% off" },
	unit:    func(o *prepared, _ int) (change, bool) { return change{percent: o.percent}, true },
}
