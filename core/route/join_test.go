package route_test

import (
	"fmt"
	"testing"

	"chrysagon/core/route"
	"chrysagon/core/route/fault"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func step(id string, k route.Kind) route.Step { return route.Step{ID: id, Kind: k, Name: id} }

func joined(t require.TestingT, f route.Funnel, s route.Step) route.Funnel {
	out, err := f.Join(s)
	require.NoError(t, err)
	return out
}

func TestAFunnelGrowsPageByPage(t *testing.T) {
	f := joined(t, route.Funnel{}, step("kite", route.Sales))
	assert.Len(t, fault.Find(fault.Input{Funnel: f}), 1, "it leads nowhere yet")
	f = joined(t, f, step("thanks", route.ThankYou))
	assert.Empty(t, fault.Find(fault.Input{Funnel: f}))
	f = joined(t, f, step("bag", route.UpsellAt))
	f = joined(t, f, step("patch", route.DownsellAt))
	f = joined(t, f, step("second-kite", route.Sales))
	assert.Empty(t, fault.Find(fault.Input{Funnel: f}))
	next := func(from string, o route.Outcome) string {
		to, err := f.Next(from, o)
		require.NoError(t, err)
		return to.ID
	}
	assert.Equal(t, "bag", next("kite", route.Bought))
	assert.Equal(t, "bag", next("second-kite", route.Bought))
	assert.Equal(t, "thanks", next("bag", route.Accepted))
	assert.Equal(t, "patch", next("bag", route.Declined), "only who said no")
	assert.Equal(t, "thanks", next("patch", route.Accepted))
	var order []string
	for _, s := range f.Steps {
		order = append(order, s.ID)
	}
	assert.Equal(t, []string{"kite", "second-kite", "bag", "patch", "thanks"}, order)
}

func TestWhatCannotBeJoinedSaysWhy(t *testing.T) {
	_, err := route.Funnel{}.Join(step("bag", route.UpsellAt))
	require.ErrorContains(t, err, "a thank-you page must come first")
	f := joined(t, joined(t, route.Funnel{}, step("kite", route.Sales)), step("thanks", route.ThankYou))
	_, err = f.Join(step("thanks-again", route.ThankYou))
	require.ErrorContains(t, err, "has a thank-you page already: thanks")
	_, err = f.Join(step("patch", route.DownsellAt))
	require.ErrorContains(t, err, "a downsell follows an upsell")
}

// Whatever joins in whatever order, a funnel with a page that sells and a
// thank-you page has no fault, and the one before it is left as it was.
func TestJoiningKeepsAFunnelSound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := joined(t, joined(t, route.Funnel{}, step("kite", route.Sales)), step("thanks", route.ThankYou))
		for i := range rapid.IntRange(0, 12).Draw(t, "pages") {
			k := rapid.SampledFrom([]route.Kind{route.Sales, route.UpsellAt, route.DownsellAt, route.OptIn, route.List, route.Appointment}).Draw(t, "kind")
			before := fmt.Sprint(f)
			grown, err := f.Join(step(fmt.Sprintf("page-%d", i), k))
			assert.Equal(t, before, fmt.Sprint(f))
			if err != nil {
				continue
			}
			f = grown
			assert.Empty(t, fault.Find(fault.Input{Funnel: f}))
		}
	})
}

// Whoever joins can leave again, in whatever order: the funnel stays sound as
// long as a page that sells and the thank-you page are there; and a step that
// leaves last-come leaves the funnel as it was before it joined.
func TestLeavingKeepsAFunnelSound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := joined(t, joined(t, route.Funnel{}, step("kite", route.Sales)), step("thanks", route.ThankYou))
		var in []string
		for i := range rapid.IntRange(1, 8).Draw(t, "pages") {
			k := rapid.SampledFrom([]route.Kind{route.Sales, route.UpsellAt}).Draw(t, "kind")
			id := fmt.Sprintf("page-%d", i)
			grown, err := f.Join(step(id, k))
			require.NoError(t, err)
			back, err := grown.Leave(id)
			require.NoError(t, err)
			assert.ElementsMatch(t, f.Steps, back.Steps)
			assert.ElementsMatch(t, f.Routes, back.Routes)
			f, in = grown, append(in, id)
		}
		for len(in) > 0 {
			i := rapid.IntRange(0, len(in)-1).Draw(t, "who leaves")
			before := fmt.Sprint(f)
			left, err := f.Leave(in[i])
			require.NoError(t, err)
			assert.Equal(t, before, fmt.Sprint(f))
			f, in = left, append(in[:i], in[i+1:]...)
			assert.Empty(t, fault.Find(fault.Input{Funnel: f}))
		}
	})
}

// Where a page that sells leaves, who has not paid is led to no offer behind it.
func TestNobodyIsLedUnpaidByALeavingPage(t *testing.T) {
	f, err := funnel().Leave("sell")
	require.NoError(t, err)
	for _, from := range []string{"gust", "ask"} {
		assert.Empty(t, f.From(from, route.Clicked(route.Yes)))
	}
}

func TestAThankYouPageToWhichOthersLeadStays(t *testing.T) {
	f := joined(t, joined(t, route.Funnel{}, step("kite", route.Sales)), step("thanks", route.ThankYou))
	_, err := f.Leave("thanks")
	require.ErrorContains(t, err, "“kite” leads to it")
	f, err = f.Leave("kite")
	require.NoError(t, err)
	f, err = f.Leave("thanks")
	require.NoError(t, err)
	assert.Empty(t, f.Steps)
	same, err := f.Leave("never there")
	require.NoError(t, err)
	assert.Equal(t, f, same)
}
