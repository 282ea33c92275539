package order

import "time"

// AgainWindow is how long after a purchase the same browser must say that it
// means to buy the same once more.
const AgainWindow = 24 * time.Hour

// UpsellFor is how long after the payment an upsell may be accepted.
const UpsellFor = time.Hour

// UpsellClosed says why nothing can be added to an order any more, or "".
// cardKept tells whether the till may charge the buyer's card again.
func UpsellClosed(s State, cardKept bool, paid, moment time.Time) string {
	switch {
	case s != Paid:
		return "The order has not been paid yet, so nothing can be added to it."
	case !cardKept:
		return "No card was kept with this order, so nothing can be added to it by one press."
	case moment.Sub(paid) > UpsellFor:
		return "This could be added for an hour after the order. That time is over; nothing was charged."
	}
	return ""
}
