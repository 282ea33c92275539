package offer

import (
	"fmt"
	"time"

	"chrysagon/core/deadline"
)

// reason says in words why an offer gave nothing to a cart.
func reason(in Input, o Offer) string {
	zone := in.Zone
	if zone == "" {
		zone = time.UTC.String()
	}
	switch {
	case in.Moment.Before(o.Starts):
		return "It begins on " + deadline.Written(o.Starts, zone) + "."
	case !o.Ends.IsZero() && !in.Moment.Before(o.Ends):
		return "It ended on " + deadline.Written(o.Ends, zone) + "."
	}
	inCart := false
	for _, item := range in.Cart {
		if item.ProductID == o.ProductID {
			inCart = true
			if o.Only == Anywhere || o.Only == item.Via {
				return "Another offer on the same product is cheaper for the buyer, or the price is zero already."
			}
		}
	}
	if inCart {
		return fmt.Sprintf("It holds only for what is added as %s.", o.Only.phrase())
	}
	return "Its product is not in the cart."
}

func (v Via) phrase() string {
	switch v {
	case Bump:
		return "an order bump"
	case Upsell:
		return "an upsell"
	case Page, Anywhere:
		return "the page's own product"
	}
	return string(v)
}
