// Package refund computes what of a payment goes back: all of it, some units, or an
// amount, to the cent and with the tax that was in it.
package refund

import (
	"fmt"
	"math/bits"

	"chrysagon/core/money"
)

// Part is one thing that was paid for: a line of goods, or the delivery. All
// amounts are in minor units of one currency.
type Part struct {
	Paid     int64 // with its tax
	Tax      int64 // of Paid
	Quantity int   // units; 1 for delivery

	Back     int64 // of Paid, what has gone back before
	BackTax  int64 // of Back
	Returned int   // units that have gone back whole
}

// Left is what can still go back.
func (p Part) Left() int64 { return p.Paid - p.Back }

// Share is what of one part goes back now.
type Share struct {
	Amount   int64 // with its tax
	Tax      int64
	Quantity int // units that are taken back
}

// Whole gives back all that is left.
func Whole(parts []Part) []Share {
	out := make([]Share, len(parts))
	for i, p := range parts {
		out[i] = p.share(p.Left(), p.Quantity-p.Returned)
	}
	return out
}

// Units gives back so many units of each part. Units of one line that do not come
// out even cost the first of them the odd cents, as in the order they were paid.
func Units(parts []Part, units []int) ([]Share, error) {
	if len(units) != len(parts) {
		return nil, fmt.Errorf("there are %d parts, and units are named for %d", len(parts), len(units))
	}
	out := make([]Share, len(parts))
	for i, p := range parts {
		n := units[i]
		if n < 0 || n > p.Quantity-p.Returned {
			return nil, fmt.Errorf("of line %d, %d can still be given back, not %d", i+1, p.Quantity-p.Returned, n)
		}
		amount := p.upTo(p.Returned+n) - p.upTo(p.Returned)
		if p.Returned+n == p.Quantity && n > 0 {
			amount = p.Left() // the last unit takes what is left
		}
		out[i] = p.share(min(amount, p.Left()), n)
	}
	return out, nil
}

// Amount gives back an amount, split over the parts by the largest remainder in
// proportion to what is left of each.
func Amount(parts []Part, amount int64) ([]Share, error) {
	weights, left := make([]int64, len(parts)), int64(0)
	for i, p := range parts {
		weights[i] = p.Left()
		left += p.Left()
	}
	if amount <= 0 || amount > left {
		return nil, fmt.Errorf("the amount must be above zero and at most what is left")
	}
	split, err := money.Of(amount, "XXX").Split(weights)
	if err != nil {
		return nil, err
	}
	out := make([]Share, len(parts))
	for i, p := range parts {
		out[i] = p.share(split[i].Minor, 0)
	}
	return out, nil
}

// Sum adds shares up.
func Sum(shares []Share) Share {
	var all Share
	for _, s := range shares {
		all.Amount += s.Amount
		all.Tax += s.Tax
		all.Quantity += s.Quantity
	}
	return all
}

// upTo is what the first n units were paid: all alike, and the first of them one
// cent more where they do not come out even.
func (p Part) upTo(n int) int64 {
	if p.Quantity == 0 {
		return 0
	}
	q := int64(p.Quantity)
	return p.Paid/q*int64(n) + min(int64(n), p.Paid%q)
}

// share is an amount of a part with its tax: that part of the tax, counted from the
// beginning, so that no cent is lost over several refunds.
func (p Part) share(amount int64, quantity int) Share {
	return Share{Amount: amount, Tax: p.taxUpTo(p.Back+amount) - p.BackTax, Quantity: quantity}
}

// taxUpTo is the tax in the first part of what was paid, rounded half up.
func (p Part) taxUpTo(paid int64) int64 {
	if p.Paid == 0 {
		return 0
	}
	hi, lo := bits.Mul64(uint64(p.Tax), uint64(paid))
	lo, carry := bits.Add64(lo, uint64(p.Paid)/2, 0)
	tax, _ := bits.Div64(hi+carry, lo, uint64(p.Paid))
	return int64(tax)
}
