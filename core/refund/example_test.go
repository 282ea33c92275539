package refund_test

import (
	"fmt"

	"chrysagon/core/refund"
)

// One of two kites comes back: half of what was paid for them, with the tax in it.
func Example() {
	parts := []refund.Part{{Paid: 10200, Tax: 1907, Quantity: 2}, {Paid: 450, Tax: 84, Quantity: 1}}
	shares, err := refund.Units(parts, []int{1, 0})
	sum := refund.Sum(shares)
	fmt.Println(sum.Amount, sum.Tax, err)
	// Output: 5100 954 <nil>
}
