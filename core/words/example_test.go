package words_test

import (
	"fmt"

	"chrysagon/core/words"
)

func Example() {
	fmt.Println(words.Count(1, "order"), "and", words.Count(3, "upsell page"))
	fmt.Println(words.A("order"), "or", words.A("one-click upsell"), "within", words.A("hour"))
	// Output:
	// 1 order and 3 upsell pages
	// an order or a one-click upsell within an hour
}
