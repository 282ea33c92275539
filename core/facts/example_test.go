package facts_test

import (
	"fmt"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
)

// What a page needs to price a cart stands in its facts.
func Example() {
	f := facts.Facts{
		Store:    facts.Store{Currency: "EUR", Zone: "Europe/Lisbon"},
		Products: map[string]goods.Product{"ember": {ID: "ember", Name: "Ember 180", Price: money.Of(6800, "EUR"), Stock: 9}},
		Offers:   []offer.Offer{{ID: "week", Name: "Lantern week", Kind: offer.AmountOff, Amount: money.Of(1700, "EUR"), Products: []string{"ember"}}},
	}
	moment := time.Date(2026, 11, 27, 12, 0, 0, 0, time.UTC)
	q, err := f.Quote([]offer.Item{{ProductID: "ember", Quantity: 1, Via: offer.Page}}, moment)
	fmt.Println(q.Total, err)
	// Output: €51.00 <nil>
}
