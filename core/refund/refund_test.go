package refund_test

import (
	"testing"

	"chrysagon/core/refund"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Whatever is given back in whatever order, no more goes back than was paid, and
// what is given back to the last cent carries all of the tax.
func TestNoCentIsLostOrMade(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		parts := make([]refund.Part, rapid.IntRange(1, 6).Draw(t, "parts"))
		for i := range parts {
			parts[i].Paid = rapid.Int64Range(0, 1_000_000).Draw(t, "paid")
			parts[i].Tax = rapid.Int64Range(0, parts[i].Paid/3+1).Draw(t, "tax")
			if parts[i].Tax > parts[i].Paid {
				parts[i].Tax = parts[i].Paid
			}
			parts[i].Quantity = rapid.IntRange(1, 9).Draw(t, "quantity")
		}
		give := func(shares []refund.Share) {
			for i, s := range shares {
				p := &parts[i]
				if s.Amount < 0 || s.Tax < 0 || s.Quantity < 0 {
					t.Fatalf("less than nothing: %+v of %+v", s, *p)
				}
				p.Back, p.BackTax, p.Returned = p.Back+s.Amount, p.BackTax+s.Tax, p.Returned+s.Quantity
				if p.Back > p.Paid || p.BackTax > p.Tax || p.Returned > p.Quantity {
					t.Fatalf("more than was paid: %+v", *p)
				}
				if p.Back == p.Paid && p.Paid > 0 && p.BackTax != p.Tax {
					t.Fatalf("tax was left behind: %+v", *p)
				}
			}
		}
		for range rapid.IntRange(0, 6).Draw(t, "refunds") {
			left := int64(0)
			units := make([]int, len(parts))
			for i, p := range parts {
				left += p.Left()
				units[i] = rapid.IntRange(0, p.Quantity-p.Returned).Draw(t, "units")
			}
			if left > 0 && rapid.Bool().Draw(t, "by amount") {
				amount := rapid.Int64Range(1, left).Draw(t, "amount")
				shares, err := refund.Amount(parts, amount)
				require.NoError(t, err)
				assert.Equal(t, amount, refund.Sum(shares).Amount)
				give(shares)
				continue
			}
			shares, err := refund.Units(parts, units)
			require.NoError(t, err)
			give(shares)
		}
		give(refund.Whole(parts))
		for _, p := range parts {
			assert.Equal(t, p.Paid, p.Back)
			assert.Equal(t, p.Quantity, p.Returned)
		}
	})
}

// Worked by hand: three units for 10.00 with 1.87 of tax in it (23 % of 8.13).
func TestAWorkedExample(t *testing.T) {
	kites := refund.Part{Paid: 1000, Tax: 187, Quantity: 3}
	sending := refund.Part{Paid: 500, Tax: 93, Quantity: 1}
	one, err := refund.Units([]refund.Part{kites, sending}, []int{1, 0})
	require.NoError(t, err)
	assert.Equal(t, []refund.Share{{Amount: 334, Tax: 62, Quantity: 1}, {}}, one, "3.34, 3.33, 3.33; 334 × 187 ÷ 1000 = 62.458")
	kites.Back, kites.BackTax, kites.Returned = 334, 62, 1
	two, err := refund.Units([]refund.Part{kites, sending}, []int{2, 0})
	require.NoError(t, err)
	assert.Equal(t, refund.Share{Amount: 666, Tax: 125, Quantity: 2}, two[0])

	kites = refund.Part{Paid: 1000, Tax: 187, Quantity: 3}
	part, err := refund.Amount([]refund.Part{kites, sending}, 100)
	require.NoError(t, err)
	assert.Equal(t, []refund.Share{{Amount: 67, Tax: 13}, {Amount: 33, Tax: 6}}, part, "66.67 and 33.33: the larger remainder takes the cent")
	_, err = refund.Amount([]refund.Part{kites}, 1001)
	require.Error(t, err)
	_, err = refund.Units([]refund.Part{kites}, []int{4})
	require.ErrorContains(t, err, "3 can still be given back")
}
