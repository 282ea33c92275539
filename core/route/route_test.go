package route_test

import (
	"fmt"
	"testing"

	"chrysagon/core/route"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func funnel() route.Funnel {
	return route.Funnel{
		Steps: []route.Step{{ID: "sell", Kind: route.Sales, Name: "Night flight"}, {ID: "more", Kind: route.UpsellAt, Name: "Quiver bag"}, {ID: "thanks", Kind: route.ThankYou, Name: "Thank you"}},
		Routes: []route.Route{
			{From: "sell", Outcome: route.Bought, To: "more"},
			{From: "more", Outcome: route.Accepted, To: "thanks"},
			{From: "more", Outcome: route.Declined, To: "thanks"},
		},
	}
}

func TestASoundFunnelHasNoFaults(t *testing.T) {
	assert.Empty(t, funnel().Faults())
}

func TestFaultsAreProved(t *testing.T) {
	for what, spoil := range map[string]func(*route.Funnel){
		"The funnel has no step.":                         func(f *route.Funnel) { f.Steps = nil },
		"needs exactly one route for “declined”":          func(f *route.Funnel) { f.Routes = f.Routes[:2] },
		"leads to a step that does not exist":             func(f *route.Funnel) { f.Routes[0].To = "nowhere" },
		"“Thank you” cannot be reached":                   func(f *route.Funnel) { f.Routes[1].To, f.Routes[2].To = "more", "more" },
		"No path from “Quiver bag” comes to an end":       func(f *route.Funnel) { f.Routes[1].To, f.Routes[2].To = "more", "more" },
		"An upsell comes only after a payment":            func(f *route.Funnel) { f.Steps = f.Steps[1:]; f.Routes = f.Routes[1:] },
		"“Night flight” needs exactly one route for “bou": func(f *route.Funnel) { f.Routes = append(f.Routes, f.Routes[0]) },
	} {
		f := funnel()
		spoil(&f)
		assert.Contains(t, fmt.Sprint(f.Faults()), what)
	}
}

func TestNextFollowsTheOutcome(t *testing.T) {
	to, err := funnel().Next("more", route.Declined)
	require.NoError(t, err)
	assert.Equal(t, "thanks", to.ID)
	_, err = funnel().Next("thanks", route.Bought)
	require.Error(t, err)
}

func ExampleFunnel_Next() {
	to, _ := funnel().Next("sell", route.Bought)
	fmt.Println(to.Name)
	// Output: Quiver bag
}
