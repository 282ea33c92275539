package shelf_test

import (
	"fmt"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/shelf"
)

// A shelf by hand shows what was put on it, in its order.
func Example() {
	all := []shelf.Entry{
		{Product: goods.Product{ID: "ember", Name: "Ember 180", Price: money.Of(5100, "EUR")}},
		{Product: goods.Product{ID: "gull", Name: "Gull 120", Price: money.Of(3900, "EUR")}},
	}
	s := shelf.Shelf{ByHand: true, Pinned: []string{"gull", "ember"}}
	for _, e := range s.Pick(all, shelf.Sight{Moment: time.Date(2026, 11, 27, 12, 0, 0, 0, time.UTC), Zone: time.UTC}) {
		fmt.Println(e.Name)
	}
	// Output:
	// Gull 120
	// Ember 180
}
