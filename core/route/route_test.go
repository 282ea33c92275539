package route_test

import (
	"fmt"
	"testing"

	"chrysagon/core/fork"
	"chrysagon/core/route"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func funnel() route.Funnel {
	return route.Funnel{
		Steps: []route.Step{
			{ID: "knots", Kind: route.OptIn, Name: "Seven knots", PageID: "knots"}, {ID: "gust", Kind: route.Bridge, Name: "The first gust", PageID: "gust"}, {ID: "ask", Kind: route.Bridge, Name: "Ask the wind", PageID: "ask"},
			{ID: "sell", Kind: route.Sales, Name: "Night flight", PageID: "sell"}, {ID: "more", Kind: route.UpsellAt, Name: "Quiver bag", PageID: "more"}, {ID: "thanks", Kind: route.ThankYou, Name: "Thank you", PageID: "thanks"},
		},
		Routes: []route.Route{
			{ID: "two-bridges", From: "knots", Outcome: route.Submitted, Fork: []fork.Share{{To: "gust", Share: 10}, {To: "ask", Share: 5}}},
			{From: "gust", Outcome: route.Clicked(route.Yes), To: "sell"},
			{From: "ask", Outcome: route.Clicked(route.Yes), To: "sell"},
			{From: "sell", Outcome: route.Bought, When: []route.Condition{{Kind: route.IfOwns, Values: []string{"bag"}}}, To: "thanks"},
			{From: "sell", Outcome: route.Bought, To: "more"},
			{From: "more", Outcome: route.Accepted, To: "thanks"},
			{From: "more", Outcome: route.Declined, To: "thanks"},
		},
	}
}

func ExampleFunnel_Lead() {
	to, _ := funnel().Lead("sell", route.Bought, route.Walker{Bought: []string{"ember"}, Owned: []string{"bag"}}, nil)
	fmt.Println(to.Step.Name)
	// Output: Thank you
}

func TestNextFollowsTheOutcome(t *testing.T) {
	to, err := funnel().Next("sell", route.Bought)
	require.NoError(t, err)
	assert.Equal(t, "more", to.ID, "for who meets no condition")
	_, err = funnel().Next("thanks", route.Bought)
	require.Error(t, err)
}

// A visitor stays with the share they were given; a target that is gone, or is no
// page any more, is given anew; and what leads nowhere says so.
func TestForksKeepTheirVisitors(t *testing.T) {
	f := funnel()
	w := route.Walker{ID: "a visitor", Kept: func(key string) string {
		assert.Equal(t, "two-bridges", key)
		return "ask"
	}}
	led, ok := f.Lead("knots", route.Submitted, w, nil)
	require.True(t, ok)
	assert.Equal(t, "ask", led.Step.ID)
	led, ok = f.Lead("knots", route.Submitted, w, func(s route.Step) bool { return s.ID != "ask" })
	require.True(t, ok)
	assert.Equal(t, "gust", led.Step.ID, "that page is gone")
	_, ok = f.Lead("knots", route.Submitted, w, func(route.Step) bool { return false })
	assert.False(t, ok)
	_, ok = f.Lead("knots", route.Left, w, nil)
	assert.False(t, ok, "who left is not there to be led")
	_, ok = f.Lead("knots", route.Clicked(route.Call), w, nil)
	assert.False(t, ok)
}

func TestConditionsHold(t *testing.T) {
	w := route.Walker{Bought: []string{"ember"}, Owned: []string{"reel"}, Bump: true, Total: 6900, Again: true, Country: "PT", Source: "Posters"}
	for _, c := range []struct {
		is   route.Condition
		want bool
	}{
		{route.Condition{Kind: route.IfBought, Values: []string{"gull", "ember"}}, true}, {route.Condition{Kind: route.IfBought, Values: []string{"reel"}}, false},
		{route.Condition{Kind: route.IfOwns, Values: []string{"reel"}}, true}, {route.Condition{Kind: route.IfOwns, Values: []string{"ember"}}, false},
		{route.Condition{Kind: route.IfBump}, true}, {route.Condition{Kind: route.IfAgain}, true}, {route.Condition{Kind: route.IfAgain, Not: true}, false},
		{route.Condition{Kind: route.IfAtLeast, AtLeast: 6900}, true}, {route.Condition{Kind: route.IfAtLeast, AtLeast: 6901}, false},
		{route.Condition{Kind: route.IfCountry, Values: []string{"ES", "PT"}}, true}, {route.Condition{Kind: route.IfCountry, Not: true, Values: []string{"ES"}}, true},
		{route.Condition{Kind: route.IfSource, Values: []string{"posters"}}, true}, {route.Condition{Kind: "mood"}, false},
	} {
		assert.Equal(t, c.want, route.Hold([]route.Condition{c.is}, w), "%+v", c.is)
	}
}

// Every kind of condition, of kind against kind: what one implies, the other lets
// through, for every visitor that can be; and two that exclude each other hold of none.
func TestWhatConditionsImply(t *testing.T) {
	var all []route.Condition
	for _, k := range route.ConditionKinds {
		for _, not := range []bool{false, true} {
			switch k.Asks {
			case route.AsksAmount:
				all = append(all, route.Condition{Kind: k.Name, Not: not, AtLeast: 1000}, route.Condition{Kind: k.Name, Not: not, AtLeast: 2000})
			case route.AsksNothing:
				all = append(all, route.Condition{Kind: k.Name, Not: not})
			default:
				all = append(all, route.Condition{Kind: k.Name, Not: not, Values: []string{"PT"}}, route.Condition{Kind: k.Name, Not: not, Values: []string{"PT", "ES"}}, route.Condition{Kind: k.Name, Not: not, Values: []string{"DE"}})
			}
		}
	}
	var walkers []route.Walker
	for _, v := range [][]string{nil, {"PT"}, {"ES"}, {"DE"}, {"PT", "ES"}} {
		one := ""
		if len(v) > 0 {
			one = v[0]
		}
		for _, total := range []int64{0, 1000, 1500, 2000} {
			for _, yes := range []bool{false, true} {
				walkers = append(walkers, route.Walker{Bought: v, Owned: v, Bump: yes, Again: yes, Total: total, Country: one, Source: one})
			}
		}
	}
	implied := 0
	for _, c := range all {
		assert.Empty(t, c.Fault())
		for _, d := range all {
			if c.Implies(d) {
				implied++
			}
			for _, w := range walkers {
				holds, then := route.Hold([]route.Condition{c}, w), route.Hold([]route.Condition{d}, w)
				assert.False(t, c.Implies(d) && holds && !then, "%+v does not imply %+v of %+v", c, d, w)
				assert.False(t, c.Excludes(d) && holds && then, "%+v does not exclude %+v of %+v", c, d, w)
			}
		}
	}
	assert.Greater(t, implied, len(all), "more than each implies itself")
}

func TestOutcomesAreNamed(t *testing.T) {
	for name, want := range map[string]bool{"yes": true, "tell-me-more": true, "": false, "Two Words": false, "a/b": false, "ß": false} {
		assert.Equal(t, want, route.Clicked(name).Known(), name)
	}
	assert.False(t, route.Outcome("wished").Known())
	assert.Equal(t, "goes on", route.Clicked(route.Yes).Who())
	assert.Equal(t, "presses “lamps”", route.Clicked("lamps").Who())
	assert.Equal(t, "lamps", route.Clicked("lamps").Did())
	for _, k := range route.Kinds() {
		assert.True(t, k.Known())
		assert.NotEmpty(t, k.Title())
		for _, o := range k.Must() {
			assert.Contains(t, k.Outcomes(), o)
		}
		for _, o := range k.Outcomes() {
			assert.True(t, o.Known())
			assert.NotEmpty(t, o.Did())
		}
		assert.False(t, k.Ends() && len(k.Outcomes()) > 0)
	}
	assert.False(t, route.Kind("wizard").Known())
}

func TestDifferencesAreSaid(t *testing.T) {
	live, draft := funnel(), funnel()
	assert.Empty(t, route.Differences(live, draft))
	draft.Steps[0].DX = 40
	assert.Empty(t, route.Differences(live, draft), "where a step is drawn is no difference")
	draft.Routes[0].Fork[0].Share = 1
	draft.Routes = draft.Routes[:6]
	draft.Steps = append(draft.Steps, route.Step{ID: "lamps", Kind: route.Outside, Name: "Harbour lamps", Address: "https://lamps.example"})
	assert.Equal(t, []string{"who signs up on “Seven knots” is led otherwise", "who says no on “Quiver bag” is led otherwise", "“Harbour lamps” is new on the map"}, route.Differences(live, draft))
	assert.Contains(t, route.Differences(draft, live), "“Harbour lamps” is off the map")
	assert.Equal(t, []string{"Who signs up goes to The first gust, 10, or Ask the wind, 5."}, live.Said("knots", route.Submitted, nil))
	assert.Equal(t, []string{"Who buys and owns a bag goes to Thank you.", "Who buys goes to Quiver bag."}, live.Said("sell", route.Bought, func(route.Condition) string { return "owns a bag" }))
}
