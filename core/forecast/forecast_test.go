package forecast_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"chrysagon/core/forecast"
	"chrysagon/core/money"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func pct(n float64) *decimal.Decimal { p := decimal.NewFromFloat(n); return &p }

// walk is the drunkard's walk of Grinstead and Snell, "Introduction to Probability",
// example 11.13: five corners in a row, home and bar at the ends, a coin at each other.
func walk(entrance string) forecast.Input {
	in := forecast.Input{Currency: "EUR", Entrance: entrance}
	for i := range 5 {
		in.Steps = append(in.Steps, forecast.Step{ID: fmt.Sprint(i)})
	}
	for i := 1; i <= 3; i++ {
		for _, to := range []int{i - 1, i + 1} {
			in.Routes = append(in.Routes, forecast.Route{From: fmt.Sprint(i), Outcome: fmt.Sprint("to ", to), To: fmt.Sprint(to), Percent: pct(50)})
		}
	}
	return in
}

// Examples 11.13 to 11.15 of that book: the fundamental matrix, the steps taken and
// where the walk ends. Values from memory.
func TestTheDrunkardsWalk(t *testing.T) {
	want := [][]float64{{1.5, 1, 0.5}, {1, 2, 1}, {0.5, 1, 1.5}}
	steps := map[string]float64{"1": 3, "2": 4, "3": 3}
	home := map[string]float64{"1": 0.75, "2": 0.5, "3": 0.25}
	for entrance := range steps {
		out, err := forecast.Compute(walk(entrance))
		require.NoError(t, err)
		require.Equal(t, []string{"1", "2", "3"}, out.Order)
		for i := range want {
			assert.InDeltaSlice(t, want[i], out.Matrix[i], 1e-12)
		}
		assert.InDelta(t, steps[entrance], out.Pages, 1e-12)
		require.Len(t, out.Ends, 3)
		assert.InDelta(t, home[entrance], out.Ends[0].Chance, 1e-12)
		assert.InDelta(t, 1-home[entrance], out.Ends[1].Chance, 1e-12)
		assert.Equal(t, forecast.Left, out.Ends[2].Step)
		assert.InDelta(t, 0, out.Ends[2].Chance, 1e-12)
	}
}

func eur(minor int64) money.Money { return money.Of(minor, "EUR") }

// gift is opt-in, two bridges, an offer and an upsell, with a season's counts.
func gift() forecast.Input {
	return forecast.Input{Currency: "EUR", Entrance: "plans", Steps: []forecast.Step{
		{ID: "plans", Visitors: 1000}, {ID: "gust", Visitors: 200}, {ID: "wind", Visitors: 100}, {ID: "offer", Visitors: 150}, {ID: "bag", Visitors: 30}, {ID: "thanks"},
	}, Routes: []forecast.Route{
		{From: "plans", Outcome: "signs up", To: "gust", Taken: 200}, {From: "plans", Outcome: "signs up too", To: "wind", Taken: 100},
		{From: "gust", Outcome: "goes on", To: "offer", Taken: 100}, {From: "wind", Outcome: "goes on", To: "offer", Taken: 50},
		{From: "offer", Outcome: "buys", To: "bag", Taken: 30, Worth: eur(5100)},
		{From: "bag", Outcome: "yes", To: "thanks", Taken: 9, Worth: eur(2380)}, {From: "bag", Outcome: "no", To: "thanks", Taken: 21},
	}}
}

// Worked by hand: of a hundred who come, 30 sign up, 15 reach the offer, 3 buy for
// 51.00 and 0.9 take the bag for 23.80, which is 1.53 and 0.2142 for each who came.
func TestAFunnelByHand(t *testing.T) {
	out, err := forecast.Compute(gift())
	require.NoError(t, err)
	assert.Equal(t, "174.42", out.Revenue.Minor.String())
	assert.Equal(t, out.Revenue, out.Click)
	assert.InDelta(t, 0.03, out.Ends[0].Chance, 1e-12, "thanks")
	assert.InDelta(t, 0.97, out.Ends[1].Chance, 1e-12, "left")
	assert.InDelta(t, 1+0.3+0.15+0.03, out.Pages, 1e-12)
	assert.Equal(t, "buys", out.Gains[0].Outcome)
	assert.Equal(t, "17.442", out.Gains[0].More.Minor.String(), "a tenth more buyers bring a tenth more")
	assert.NotEmpty(t, out.Certainty, "the bag was seen by thirty")
	for _, r := range out.Rates {
		assert.Equal(t, r.From == "bag", r.Few, r.From)
		assert.LessOrEqual(t, r.Between.Low, r.Rate)
		assert.GreaterOrEqual(t, r.Between.High, r.Rate)
	}
	for _, g := range out.Gains {
		assert.NotEqual(t, "bag", g.From, "nobody leaves there, so nobody more can say yes")
	}
}

// What visitors who are drawn come to agrees with the chain within five standard
// errors and a handful of visitors, on maps of any shape, circles among them.
func TestDrawnVisitorsAgreeWithTheChain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 7).Draw(t, "steps")
		in := forecast.Input{Currency: "EUR", Entrance: "0"}
		for i := range n {
			in.Steps = append(in.Steps, forecast.Step{ID: fmt.Sprint(i)})
		}
		for i := range n - 1 {
			for k := range rapid.IntRange(1, 3).Draw(t, "routes") {
				in.Routes = append(in.Routes, forecast.Route{
					From: fmt.Sprint(i), Outcome: fmt.Sprint(k), To: fmt.Sprint(rapid.IntRange(0, n-1).Draw(t, "to")),
					Percent: pct(float64(rapid.IntRange(0, 30).Draw(t, "percent"))), Worth: eur(rapid.Int64Range(0, 9000).Draw(t, "worth")),
				})
			}
		}
		out, err := forecast.Compute(in)
		require.NoError(t, err) // at least a tenth leaves every step
		total := 0.0
		for _, e := range out.Ends {
			total += e.Chance
		}
		assert.InDelta(t, 1, total, 1e-9, "every visitor comes to rest somewhere")

		for _, g := range out.Gains {
			assert.InDelta(t, raised(t, in, g)-out.Revenue.Minor.InexactFloat64(), g.More.Minor.InexactFloat64(), 0.001, "%s of %s", g.Outcome, g.From)
		}

		dice := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 7))
		const visitors = 4000
		sum, squares, pages := 0.0, 0.0, 0
		for range visitors {
			brings, seen := visit(in, dice)
			sum, squares, pages = sum+brings, squares+brings*brings, pages+seen
		}
		mean := sum / visitors
		deviation := math.Sqrt(max(0, squares/visitors-mean*mean) / visitors)
		assert.InDelta(t, out.Revenue.Minor.InexactFloat64(), mean, 5*deviation+5*9000/visitors, "revenue")
		assert.InDelta(t, out.Pages, float64(pages)/visitors, 0.15, "pages")
	})
}

// raised is what a map leads to when a tenth more take a route, computed anew.
func raised(t *rapid.T, in forecast.Input, g forecast.Gain) float64 {
	in.Routes = slices.Clone(in.Routes)
	goes := 0.0
	for _, r := range in.Routes {
		if r.From == g.From {
			goes += r.Percent.InexactFloat64()
		}
	}
	for i, r := range in.Routes {
		if r.From == g.From && r.Outcome == g.Outcome {
			was := r.Percent.InexactFloat64()
			in.Routes[i].Percent = pct(was + min(was/10, 100-goes))
		}
	}
	out, err := forecast.Compute(in)
	require.NoError(t, err)
	return out.Revenue.Minor.InexactFloat64()
}

// visit walks one visitor to the end: what they bring, and the steps they see.
func visit(in forecast.Input, dice *rand.Rand) (brings float64, seen int) {
	at := in.Entrance
	for {
		goes, gone := false, dice.Float64()
		on := false
		for _, r := range in.Routes {
			if r.From != at {
				continue
			}
			on = true
			if gone -= r.Percent.Shift(-2).InexactFloat64(); gone < 0 {
				brings += float64(r.Worth.Minor)
				at, goes = r.To, true
				break
			}
		}
		if on {
			seen++
		}
		if !goes {
			return brings, seen
		}
	}
}

func TestMapsThatCannotBeComputed(t *testing.T) {
	for says, spoil := range map[string]func(*forecast.Input){
		"currency":                func(in *forecast.Input) { in.Currency = "Taler" },
		"entrance: there is no":   func(in *forecast.Input) { in.Entrance = "gone" },
		"used twice":              func(in *forecast.Input) { in.Steps[1].ID = "plans" },
		"name of those who leave": func(in *forecast.Input) { in.Steps[1].ID = forecast.Left },
		"to: there is no step":    func(in *forecast.Input) { in.Routes[0].To = "gone" },
		"from: there is no step":  func(in *forecast.Input) { in.Routes[0].From = "gone" },
		"more visitors go on":     func(in *forecast.Input) { in.Routes[0].Taken = 950 },
		"of the 1000 visitors":    func(in *forecast.Input) { in.Routes[0].Taken = 1001 },
		"from 0 to 100":           func(in *forecast.Input) { in.Routes[0].Percent = pct(101) },
		"write how many will go":  func(in *forecast.Input) { in.Steps[0].Visitors, in.Routes[0].Taken = 0, 0 },
		"circle that nobody": func(in *forecast.Input) {
			in.Routes = append(in.Routes[:0], forecast.Route{From: "plans", Outcome: "again", To: "plans", Percent: pct(100)})
		},
		"two currencies cannot be": func(in *forecast.Input) { in.Routes[4].Worth = money.Of(1, "USD") },
	} {
		in := gift()
		spoil(&in)
		_, err := forecast.Compute(in)
		assert.ErrorContains(t, err, says)
	}
	out, err := forecast.Compute(forecast.Input{Currency: "EUR", Entrance: "a", Steps: []forecast.Step{{ID: "a"}}})
	require.NoError(t, err)
	assert.Equal(t, []forecast.End{{Step: "a", Chance: 1}}, out.Ends)
}

func Example() {
	out, _ := forecast.Compute(gift())
	fmt.Printf("%s %s for each visitor\n", out.Revenue.Minor.Shift(-2).StringFixed(2), out.Revenue.Currency)
	fmt.Printf("most would bring: a tenth more of who %s\n", out.Gains[0].Outcome)
	// Output:
	// 1.74 EUR for each visitor
	// most would bring: a tenth more of who buys
}
