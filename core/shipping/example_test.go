package shipping_test

import (
	"fmt"

	"chrysagon/core/money"
	"chrysagon/core/shipping"
)

func Example() {
	free := money.Of(8000, "EUR")
	t := shipping.Table{Zones: []shipping.Zone{{
		ID: "pt", Name: "Portugal", Countries: []string{"PT"}, By: shipping.Total, FreeFrom: &free,
		Steps: []shipping.Step{{From: 0, Price: money.Of(450, "EUR")}},
	}}}
	for _, total := range []int64{5100, 8000} {
		cost, err := t.Price(shipping.Parcel{Country: "PT", Total: total, Goods: true}, "EUR")
		fmt.Println(cost.Price, err)
	}
	// Output:
	// €4.50 <nil>
	// €0.00 <nil>
}
