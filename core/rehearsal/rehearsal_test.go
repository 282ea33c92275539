package rehearsal_test

import (
	"fmt"
	"math"
	"testing"

	"chrysagon/core/fork"
	"chrysagon/core/rehearsal"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// lanterns is the demo's funnel: an opt-in, two bridges, an offer, an upsell and a
// smaller one, with conditions of every kind on its routes.
func lanterns() rehearsal.Input {
	step := func(id string, k route.Kind) route.Step { return route.Step{ID: id, Kind: k, Name: id} }
	yes := route.Clicked(route.Yes)
	return rehearsal.Input{
		Funnel: route.Funnel{
			Steps: []route.Step{step("knots", route.OptIn), step("gust", route.Bridge), step("ask", route.Bridge), step("sell", route.Sales), step("more", route.UpsellAt), step("less", route.DownsellAt), step("thanks", route.ThankYou)},
			Routes: []route.Route{
				{ID: "fork", From: "knots", Outcome: route.Submitted, Fork: []fork.Share{{To: "gust", Share: 10}, {To: "ask", Share: 5}}},
				{From: "gust", Outcome: yes, To: "sell"}, {From: "ask", Outcome: yes, To: "sell"},
				{From: "sell", Outcome: route.Bought, When: []route.Condition{{Kind: route.IfCountry, Values: []string{"PT"}}, {Kind: route.IfBump}}, To: "less"},
				{From: "sell", Outcome: route.Bought, When: []route.Condition{{Kind: route.IfAgain}}, To: "thanks"},
				{From: "sell", Outcome: route.Bought, When: []route.Condition{{Kind: route.IfAtLeast, AtLeast: 5500}}, To: "less"},
				{From: "sell", Outcome: route.Bought, To: "more"},
				{From: "more", Outcome: route.Accepted, When: []route.Condition{{Kind: route.IfSource, Values: []string{"Posters"}}}, To: "less"},
				{From: "more", Outcome: route.Accepted, To: "thanks"}, {From: "more", Outcome: route.Declined, To: "less"},
				{From: "less", Outcome: route.Accepted, To: "thanks"}, {From: "less", Outcome: route.Declined, To: "thanks"},
			},
		},
		About: map[string]fault.About{"sell": {Sells: "ember", Bumps: []string{"reel"}, Price: 5100}, "more": {Sells: "bag", Price: 2380}, "less": {Sells: "sleeve", Price: 1190}},
		Rates: []rehearsal.Rate{
			{Step: "knots", Outcome: route.Submitted, Rate: 0.39}, {Step: "gust", Outcome: yes, Rate: 0.41}, {Step: "ask", Outcome: yes, Rate: 0.43}, {Step: "sell", Outcome: route.Bought, Rate: 0.144},
			{Step: "more", Outcome: route.Accepted, Rate: 0.31}, {Step: "more", Outcome: route.Declined, Rate: 0.6}, {Step: "less", Outcome: route.Accepted, Rate: 0.28}, {Step: "less", Outcome: route.Declined, Rate: 0.72},
		},
		Comes: []rehearsal.Share{{Of: "knots", Share: 3}, {Of: "sell", Share: 1}},
		Who:   rehearsal.Who{Bump: 0.25, Again: 0.2, Sources: []rehearsal.Share{{Of: "Posters", Share: 1}, {Of: "Search", Share: 2}}, Countries: []rehearsal.Share{{Of: "PT", Share: 2}, {Of: "ES", Share: 3}}},
		Price: func(s rehearsal.Sale) (rehearsal.Worth, error) {
			worth := map[string]rehearsal.Worth{"ember": {Revenue: 5100, Margin: 3000}, "reel": {Revenue: 900, Margin: 500}, "bag": {Revenue: 2380, Margin: 1500}, "sleeve": {Revenue: 1190, Margin: 700}}
			var sum rehearsal.Worth
			for _, id := range s.Goods {
				sum.Revenue, sum.Margin = sum.Revenue+worth[id].Revenue, sum.Margin+worth[id].Margin
			}
			return sum, nil
		},
	}
}

func Example() {
	out, _ := rehearsal.Walk(lanterns(), 1000, 1, nil)
	expected, _ := rehearsal.Expect(lanterns())
	fmt.Printf("%d orders rehearsed, %.1f expected\n", out.Orders, 1000*expected.Orders)
	// Output: 57 orders rehearsed, 53.5 expected
}

// What is drawn agrees with what is computed, within four standard errors, for
// every step, every end, orders, revenue and margin.
func TestARehearsalAgreesWithTheChain(t *testing.T) {
	expected, err := rehearsal.Expect(lanterns())
	require.NoError(t, err)
	sum := expected.Left
	for _, p := range expected.Ends {
		sum += p
	}
	assert.InDelta(t, 1, sum, 1e-9, "everybody comes to rest somewhere")
	for _, seed := range []uint64{1, 2, 3, 17, 2026} {
		const n = 100_000
		out, err := rehearsal.Walk(lanterns(), n, seed, nil)
		require.NoError(t, err)
		assert.Empty(t, out.Broken)
		near := func(what string, times int, p float64) {
			t.Helper()
			assert.LessOrEqual(t, math.Abs(float64(times)-n*p), 4*math.Sqrt(n*p*(1-p))+1e-9, "%s, seed %d", what, seed)
		}
		for _, s := range out.Steps {
			near(s.Step, s.Seen, expected.Seen[s.Step])
			near("rest on "+s.Step, s.Ended, expected.Ends[s.Step])
		}
		near("orders", out.Orders, expected.Orders)
		mean := float64(out.Revenue) / n
		variance := out.Squares/n - mean*mean
		assert.LessOrEqual(t, math.Abs(mean-expected.Revenue), 4*math.Sqrt(variance/n), "revenue, seed %d", seed)
		assert.InDelta(t, expected.Margin, float64(out.Margin)/n, 4*math.Sqrt(variance/n), "margin is the smaller")
		left := 0
		for _, s := range out.Steps {
			left += s.Left
		}
		near("left", left, expected.Left)
	}
}

// The same seed gives the same walks, each cart is quoted once, and each footfall
// is seen by who watches.
func TestWalksAreTheSameForASeed(t *testing.T) {
	in := lanterns()
	quoted, price := map[string]int{}, in.Price
	in.Price = func(s rehearsal.Sale) (rehearsal.Worth, error) {
		quoted[fmt.Sprint(s)]++
		return price(s)
	}
	footfalls := 0
	one, err := rehearsal.Walk(in, 5000, 7, func(rehearsal.Footfall) { footfalls++ })
	require.NoError(t, err)
	for sale, n := range quoted {
		assert.Equal(t, 1, n, sale)
	}
	assert.GreaterOrEqual(t, footfalls, one.Pages)
	two, err := rehearsal.Walk(lanterns(), 5000, 7, nil)
	require.NoError(t, err)
	assert.Equal(t, one, two)
	other, err := rehearsal.Walk(lanterns(), 5000, 8, nil)
	require.NoError(t, err)
	assert.NotEqual(t, one, other)
}

func TestWhatCannotBeRehearsedSaysWhy(t *testing.T) {
	for says, spoil := range map[string]func(*rehearsal.Input){
		"nobody comes in anywhere":                      func(in *rehearsal.Input) { in.Comes = nil },
		`comes[0].of: there is no step "moon"`:          func(in *rehearsal.Input) { in.Comes[0].Of = "moon" },
		`rates[1].step: there is no step "moon"`:        func(in *rehearsal.Input) { in.Rates[1].Step = "moon" },
		"a rate is from 0 to 1":                         func(in *rehearsal.Input) { in.Rates[1].Rate = 1.1 },
		"of “less” more than all visitors do something": func(in *rehearsal.Input) { in.Rates[7].Rate = 0.8 },
		"who.countries: the shares come to nothing":     func(in *rehearsal.Input) { in.Who.Countries = []rehearsal.Share{{Of: "PT"}} },
	} {
		in := lanterns()
		spoil(&in)
		_, err := rehearsal.Walk(in, 10, 1, nil)
		require.ErrorContains(t, err, says)
		_, err = rehearsal.Expect(in)
		require.ErrorContains(t, err, says)
	}
	_, err := rehearsal.Walk(lanterns(), 0, 1, nil)
	require.Error(t, err)
}

func BenchmarkWalk(b *testing.B) {
	for b.Loop() {
		if _, err := rehearsal.Walk(lanterns(), 100_000, 1, nil); err != nil {
			b.Fatal(err)
		}
	}
}
