package offer

// Gift is one of the goods with the purchase.
const Gift Kind = "gift"

var gift = rule{
	kind:    Gift,
	label:   "adds a gift",
	members: []Member{giftMember},
	level:   Present,
	check: func(o Offer, _ string) error {
		if o.GiftID == "" {
			return fault("gift_id", "missing; name what is given")
		}
		return nil
	},
	says: func(Offer) string { return "a gift" },
}
