package results

import (
	"testing"

	"chrysagon/app/results"
	"chrysagon/core/money"
	"chrysagon/core/route"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestWholeSquareRoot(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.Int64Range(0, 1<<60).Draw(t, "n")
		r := int64(isqrt(n))
		if r*r > n || (r+1)*(r+1) <= n {
			t.Fatalf("%d is not the root of %d", r, n)
		}
	})
}

func outcome(visitors, orders, yes int64) results.Results {
	return results.Results{
		Visitors: visitors, Orders: orders, Revenue: money.Of(orders*5100, "EUR"),
		Stairs: []results.Stair{
			{Step: route.Step{Kind: route.Sales, Name: "Night flight"}, Reached: visitors, Passed: orders},
			{Step: route.Step{Kind: route.UpsellAt, Name: "Quiver bag"}, Reached: orders, Passed: yes},
			{Step: route.Step{Kind: route.ThankYou, Name: "Thank you"}, Reached: orders, Passed: orders},
		},
	}
}

// Whatever the numbers, the staircase stays in its drawing, goes down where
// fewer pass, and says what falls off.
func TestTheStaircaseStaysInItsDrawing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		visitors := rapid.Int64Range(0, 5_000_000).Draw(t, "visitors")
		orders := rapid.Int64Range(0, visitors).Draw(t, "orders")
		yes := rapid.Int64Range(0, orders).Draw(t, "yes")
		stairs := staircase(outcome(visitors, orders, yes))
		assert.Len(t, stairs, 3)
		for i, s := range stairs {
			if s.Y < stairFloor-stairHeight || s.Y+s.Height != stairFloor || s.Height < 0 {
				t.Fatalf("step %d stands at %d, %d high", i, s.Y, s.Height)
			}
			if i > 0 && s.Y < stairs[i-1].Y {
				t.Fatalf("step %d goes up", i)
			}
		}
	})
	stairs := staircase(outcome(100, 40, 10))
	assert.Equal(t, "60 fall off", stairs[1].Falls)
	assert.Equal(t, "40.0% of visitors", stairs[1].Share)
	assert.Equal(t, "25.0% of who answered", stairs[2].Share)
}

// Two entrances stand side by side, each with its own orders: no share is above
// the whole, and the drawing is as wide as its steps.
func TestTwoEntrancesStandSideBySide(t *testing.T) {
	r := outcome(100, 40, 10)
	r.Stairs = append([]results.Stair{{Step: route.Step{Kind: route.Sales, Name: "Letter"}, Reached: 5, Passed: 2, Revenue: money.Of(10200, "EUR")}}, r.Stairs...)
	stairs := staircase(r)
	require.Len(t, stairs, 5)
	assert.Equal(t, []string{"5", "2", "100", "40", "10"}, []string{stairs[0].Count, stairs[1].Count, stairs[2].Count, stairs[3].Count, stairs[4].Count})
	assert.Equal(t, "40.0% of visitors", stairs[1].Share)
	assert.Equal(t, "€102.00", stairs[1].Revenue)
	assert.Empty(t, stairs[2].Share, "an entrance is a part of nothing")
	assert.Empty(t, stairs[2].Falls)
	assert.Equal(t, "40.0% of visitors", stairs[3].Share)
	assert.GreaterOrEqual(t, stairsWide(5), stairs[4].X+stairWidth)
}

func TestNothingToShowIsNoFault(t *testing.T) {
	assert.NotPanics(t, func() { staircase(outcome(0, 0, 0)); daily(results.Results{}) })
	assert.Equal(t, int64(0), perVisitor(outcome(0, 0, 0)).Minor)
	assert.Equal(t, int64(2040), perVisitor(outcome(100, 40, 0)).Minor)
}
