package fault_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/fork"
	"chrysagon/core/rehearsal"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// sound is a funnel in which nothing goes wrong.
func sound() fault.Input {
	step := func(id string, k route.Kind, name string) route.Step {
		return route.Step{ID: id, Kind: k, Name: name, PageID: id}
	}
	yes := route.Clicked(route.Yes)
	return fault.Input{
		Goods: map[string]string{"ember": "Ember 180", "bag": "Quiver bag", "sleeve": "One-kite sleeve", "reel": "Beech reel", "plans": "Kite plans"},
		Funnel: route.Funnel{
			Steps: []route.Step{
				step("knots", route.OptIn, "Seven knots"), step("gust", route.Bridge, "The first gust"), step("ask", route.Bridge, "Ask the wind"),
				step("sell", route.Sales, "Night flight"), step("more", route.UpsellAt, "Quiver bag"), step("less", route.DownsellAt, "One-kite sleeve"),
				{ID: "lamps", Kind: route.Outside, Name: "Harbour lamps", Address: "https://lamps.example"}, step("thanks", route.ThankYou, "Thank you"),
			},
			Routes: []route.Route{
				{ID: "fork", From: "knots", Outcome: route.Submitted, Fork: []fork.Share{{To: "gust", Share: 10}, {To: "ask", Share: 5}}},
				{From: "gust", Outcome: yes, To: "sell"}, {From: "ask", Outcome: yes, To: "sell"}, {From: "ask", Outcome: route.Clicked("lamps"), To: "lamps"}, {From: "lamps", Outcome: yes, To: "sell"},
				{ID: "bought-1", From: "sell", Outcome: route.Bought, When: []route.Condition{{Kind: route.IfCountry, Values: []string{"PT"}}}, To: "less"}, {ID: "bought-2", From: "sell", Outcome: route.Bought, To: "more"},
				{From: "more", Outcome: route.Accepted, To: "thanks"}, {From: "more", Outcome: route.Declined, To: "less"},
				{From: "less", Outcome: route.Accepted, To: "thanks"}, {From: "less", Outcome: route.Declined, To: "thanks"},
			},
		},
		About: map[string]fault.About{
			"ask":  {Buttons: []string{"lamps", "yes"}},
			"sell": {Sells: "ember", Bumps: []string{"reel"}, Price: 5100, Travels: true, Asks: true}, "more": {Sells: "bag", Price: 2380, Travels: true, Mentions: []string{"ember"}},
			"less": {Sells: "sleeve", Price: 1190, Travels: true}, "thanks": {Summary: true},
		},
		Bound: []fault.Bound{{Offer: "Bag with a kite", Steps: []string{"more"}}},
	}
}

func Example() {
	in := sound()
	in.Funnel.Routes[8].To = "more"
	for _, f := range fault.Find(in)[:1] {
		fmt.Println(f.What)
	}
	// Output: A path leads from “Quiver bag” back to it: who has answered it once would go in a circle.
}

func TestNothingIsFoundWhereAllIsWell(t *testing.T) {
	found := fault.Find(sound())
	assert.Empty(t, found)
	assert.Len(t, fault.Proved(found), 16)
	assert.Equal(t, "The funnel has no step.", fault.Find(fault.Input{})[0].What)
}

// at is the route of an outcome in a funnel, to be spoilt.
func at(in *fault.Input, from string, o route.Outcome) *route.Route {
	for i, r := range in.Funnel.Routes {
		if r.From == from && r.Outcome == o && len(r.When) == 0 {
			return &in.Funnel.Routes[i]
		}
	}
	return nil
}

func about(in *fault.Input, id string, change func(*fault.About)) {
	a := in.About[id]
	change(&a)
	in.About[id] = a
}

// Everything that can go wrong, by itself: it is named, at its step, as grave as it is;
// and where there is a remedy at one press, that press takes it away.
func TestEachFaultIsNamedAndMended(t *testing.T) {
	yes := route.Clicked(route.Yes)
	for _, c := range []struct {
		rule, step, says string
		gravity          check.Gravity
		mends            bool
		spoil            func(*fault.Input)
	}{
		{"way", "more", "Who says no on “Quiver bag” would have nowhere to go.", check.Stops, true, func(in *fault.Input) { in.Funnel.Routes = append(in.Funnel.Routes[:8], in.Funnel.Routes[9:]...) }},
		{"way", "sell", "leads to a step that is gone", check.Stops, true, func(in *fault.Input) { at(in, "sell", route.Bought).To = "nowhere" }},
		{"way", "sell", "is only for some", check.Stops, true, func(in *fault.Input) {
			at(in, "sell", route.Bought).When = []route.Condition{{Kind: route.IfAgain}}
		}},
		{"way", "gust", "“The first gust” leads nowhere", check.Mend, true, func(in *fault.Input) { in.Funnel.Routes = append(in.Funnel.Routes[:1], in.Funnel.Routes[2:]...) }},
		{"button", "gust", "A button of “The first gust” says “prices”", check.Stops, true, func(in *fault.Input) { in.About["gust"] = fault.About{Buttons: []string{"prices", "call"}} }},
		{"reached", "gust", "“The first gust” is reached by no path.", check.Mend, true, func(in *fault.Input) {
			*at(in, "knots", route.Submitted) = route.Route{From: "knots", Outcome: route.Submitted, To: "ask"}
		}},
		{"reached", "more", "“Quiver bag” is reached by no path.", check.Stops, true, func(in *fault.Input) { at(in, "sell", route.Bought).To = "thanks" }},
		{"circle", "gust", "No path from “The first gust” comes to an end.", check.Stops, false, func(in *fault.Input) {
			at(in, "gust", yes).To, at(in, "ask", yes).To = "ask", "gust"
			at(in, "ask", route.Clicked("lamps")).To = "gust"
		}},
		{"circle", "more", "back to it", check.Stops, true, func(in *fault.Input) { at(in, "less", route.Declined).To = "more" }},
		{"unpaid", "more", "reached unpaid: Seven knots → signed up → Quiver bag", check.Stops, true, func(in *fault.Input) {
			*at(in, "knots", route.Submitted) = route.Route{From: "knots", Outcome: route.Submitted, To: "more"}
		}},
		{"checkout", "sell", "second checkout: Night flight → bought → Quiver bag → yes → Night flight", check.Mend, true, func(in *fault.Input) { at(in, "more", route.Accepted).To = "sell" }},
		{"twice", "less", "offers Quiver bag to some who have it", check.Mend, true, func(in *fault.Input) {
			about(in, "less", func(a *fault.About) { a.Sells, a.Price = "bag", 1000 })
			at(in, "more", route.Accepted).To = "less"
		}},
		{"twice", "more", "offers Beech reel to some who have it in their order", check.Mend, true, func(in *fault.Input) { about(in, "more", func(a *fault.About) { a.Sells = "reel" }) }},
		{"again", "less", "which asks the same again: Quiver bag, and no less", check.Mend, true, func(in *fault.Input) { about(in, "less", func(a *fault.About) { a.Sells, a.Price = "bag", 2380 }) }},
		{"dearer", "less", "which costs more than what was declined", check.Mend, true, func(in *fault.Input) { about(in, "less", func(a *fault.About) { a.Price = 9900 }) }},
		{"address", "more", "to buyers who were asked for no address", check.Mend, true, func(in *fault.Input) {
			about(in, "sell", func(a *fault.About) { a.Sells, a.Asks, a.Travels = "plans", false, false })
		}},
		{"words", "more", "speaks of Beech reel, which some who come there have not bought", check.Mend, false, func(in *fault.Input) { about(in, "more", func(a *fault.About) { a.Mentions = []string{"reel"} }) }},
		{"shares", "knots", "come to nothing", check.Stops, true, func(in *fault.Input) { r := at(in, "knots", route.Submitted); r.Fork[0].Share, r.Fork[1].Share = 0, 0 }},
		{"outside", "lamps", "From “Harbour lamps” no way leads back.", check.Mend, true, func(in *fault.Input) { in.Funnel.Routes = append(in.Funnel.Routes[:4], in.Funnel.Routes[5:]...) }},
		{"summary", "thanks", "does not say what was bought", check.Mend, false, func(in *fault.Input) { in.About["thanks"] = fault.About{} }},
		{"bound", "more", "The offer “Bag with a kite” holds on a step that no path reaches.", check.Mend, false, func(in *fault.Input) { at(in, "sell", route.Bought).To = "thanks" }},
		{"never", "sell", "The second way for who buys on “Night flight” is never taken: whoever meets it takes the first way", check.Mend, true, func(in *fault.Input) {
			narrow := route.Route{ID: "n", From: "sell", Outcome: route.Bought, To: "more", When: []route.Condition{{Kind: route.IfAgain}, {Kind: route.IfCountry, Values: []string{"PT"}}}}
			in.Funnel.Routes = append(in.Funnel.Routes[:6], append([]route.Route{narrow}, in.Funnel.Routes[6:]...)...)
		}},
		{"never", "sell", "its conditions exclude each other", check.Mend, true, func(in *fault.Input) {
			in.Funnel.Routes[5].When = []route.Condition{{Kind: route.IfAgain}, {Kind: route.IfAgain, Not: true}}
		}},
		{"never", "gust", "nobody has ordered yet", check.Mend, true, func(in *fault.Input) {
			in.Funnel.Routes = append([]route.Route{{From: "gust", Outcome: yes, When: []route.Condition{{Kind: route.IfBump}}, To: "ask"}}, in.Funnel.Routes...)
		}},
	} {
		in := sound()
		c.spoil(&in)
		is := func(f fault.Fault) bool {
			return f.Rule == c.rule && f.StepID == c.step && strings.Contains(f.What, c.says)
		}
		var met *fault.Fault
		for _, f := range fault.Find(in) {
			if is(f) && met == nil {
				met = &f
			}
		}
		require.NotNil(t, met, "%s: %v", c.says, fault.Find(in))
		assert.Equal(t, c.gravity, met.Gravity, c.says)
		assert.Equal(t, c.gravity == check.Stops, fault.Stopping([]fault.Fault{*met}))
		assert.NotEmpty(t, met.Remedy)
		assert.Equal(t, c.mends, met.Mend != nil, c.says)
		if met.Mend == nil {
			continue
		}
		mended, err := in.Funnel.Apply(*met.Mend)
		require.NoError(t, err, c.says)
		in.Funnel = mended
		for _, f := range fault.Find(in) {
			assert.False(t, is(f), "%s: still after its remedy", f.What)
		}
	}
}

// Eighteen offers in a row can be answered in a quarter of a million ways. Not all of
// them are told apart then, and still every step is come to.
func TestOfManyOffersEachIsReached(t *testing.T) {
	in := fault.Input{About: map[string]fault.About{"sell": {Sells: "ember", Asks: true}, "thanks": {Summary: true}}}
	in.Funnel.Steps = []route.Step{{ID: "sell", Kind: route.Sales, Name: "Night flight", PageID: "sell"}}
	in.Funnel.Routes = []route.Route{{From: "sell", Outcome: route.Bought, To: "offer-0"}}
	for i := range 18 {
		id, to := fmt.Sprint("offer-", i), fmt.Sprint("offer-", i+1)
		if i == 17 {
			to = "thanks"
		}
		in.Funnel.Steps = append(in.Funnel.Steps, route.Step{ID: id, Kind: route.UpsellAt, Name: id, PageID: id})
		in.Funnel.Routes = append(in.Funnel.Routes, route.Route{From: id, Outcome: route.Accepted, To: to}, route.Route{From: id, Outcome: route.Declined, To: to})
		in.About[id] = fault.About{Sells: fmt.Sprint("goods-", i)}
	}
	in.Funnel.Steps = append(in.Funnel.Steps, route.Step{ID: "thanks", Kind: route.ThankYou, Name: "Thank you", PageID: "thanks"})
	assert.Empty(t, fault.Find(in))
}

// drawn draws a funnel that anybody might have made, with all that can go wrong.
func drawn(t *rapid.T) fault.Input {
	in := fault.Input{About: map[string]fault.About{}, Goods: map[string]string{}}
	kinds := []route.Kind{route.OptIn, route.Bridge, route.Sales, route.Sales, route.UpsellAt, route.UpsellAt, route.DownsellAt, route.ThankYou, route.End}
	n := rapid.IntRange(2, 9).Draw(t, "steps")
	id := func() string { return fmt.Sprint("s", rapid.IntRange(0, n-1).Draw(t, "to")) }
	goods := func() string { return rapid.SampledFrom([]string{"ember", "bag", "reel", "sleeve"}).Draw(t, "goods") }
	for i := range n {
		s := route.Step{ID: fmt.Sprint("s", i), PageID: fmt.Sprint("s", i), Kind: rapid.SampledFrom(kinds).Draw(t, "kind"), Name: fmt.Sprint("Step ", i)}
		in.Funnel.Steps = append(in.Funnel.Steps, s)
		about := fault.About{Summary: true, Price: int64(rapid.IntRange(1, 90).Draw(t, "price")) * 100}
		if s.Kind == route.Sales || s.Kind.Offers() {
			about.Sells, about.Asks = goods(), true
		}
		if s.Kind == route.Sales && rapid.Bool().Draw(t, "bump") {
			about.Bumps = rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"ember", "bag", "reel", "sleeve"}), 1, 3, rapid.ID[string]).Draw(t, "bumps")
		}
		if s.Kind == route.Sales && rapid.Bool().Draw(t, "choice") {
			about.Others = [][]string{{goods(), goods()}}
		}
		in.About[s.ID] = about
		for _, o := range s.Kind.Outcomes() {
			for range rapid.IntRange(0, 2).Draw(t, "ways") {
				r := route.Route{ID: fmt.Sprint("r", len(in.Funnel.Routes)), From: s.ID, Outcome: o, To: id()}
				if rapid.Bool().Draw(t, "forks") {
					r.To, r.Fork = "", []fork.Share{{To: id(), Share: 1 + len(r.ID)}, {To: "s0", Share: 2}}
					if r.Fork[0].To == "s0" {
						r.Fork = r.Fork[:1]
					}
				}
				if rapid.Bool().Draw(t, "only for some") {
					r.When = []route.Condition{rapid.SampledFrom([]route.Condition{
						{Kind: route.IfBought, Values: []string{"bag", "reel"}}, {Kind: route.IfBought, Not: true, Values: []string{"bag"}}, {Kind: route.IfBump}, {Kind: route.IfAgain},
						{Kind: route.IfAtLeast, AtLeast: 3000}, {Kind: route.IfCountry, Not: true, Values: []string{"PT"}}, {Kind: route.IfSource, Values: []string{"Posters"}},
					}).Draw(t, "when")}
				}
				in.Funnel.Routes = append(in.Funnel.Routes, r)
			}
		}
	}
	return in
}

// What the proofs pass, a rehearsal never breaks: nobody is offered what they have
// bought, nobody comes to an offer unpaid or to a second checkout, every walk ends.
// So what a rehearsal breaks, the proofs have named.
func TestWhatIsProvedHoldsInRehearsal(t *testing.T) {
	broke := map[string]int{}
	rapid.Check(t, func(t *rapid.T) {
		in := drawn(t)
		var comes []rehearsal.Share
		var rates []rehearsal.Rate
		for i, s := range in.Funnel.Steps {
			if s.Kind.Entrance() || (i == 0 && !s.Kind.AfterPayment()) {
				comes = append(comes, rehearsal.Share{Of: s.ID, Share: 1})
			}
			for _, o := range s.Kind.Outcomes() {
				rates = append(rates, rehearsal.Rate{Step: s.ID, Outcome: o, Rate: 0.96 / float64(len(s.Kind.Outcomes()))})
			}
		}
		if len(comes) == 0 {
			return
		}
		walks, err := rehearsal.Walk(rehearsal.Input{
			Funnel: in.Funnel, About: in.About, Rates: rates, Comes: comes,
			Who: rehearsal.Who{Bump: 0.5, Again: 0.5, Sources: []rehearsal.Share{{Of: "Posters", Share: 1}, {Of: "Search", Share: 1}}, Countries: []rehearsal.Share{{Of: "PT", Share: 1}, {Of: "ES", Share: 1}}},
		}, 200, 7, nil)
		require.NoError(t, err)
		named := map[string]bool{}
		for _, f := range fault.Find(in) {
			named[f.Rule] = true
		}
		for what, rule := range map[string]string{"reached unpaid": "unpaid", "second checkout": "checkout", "offered what was bought": "twice", "did not end": "circle"} {
			for _, b := range walks.Broken {
				if strings.Contains(b, what) {
					broke[rule]++
					assert.True(t, named[rule], "%s, and no proof said so", b)
				}
			}
		}
	})
	for _, rule := range []string{"unpaid", "checkout", "twice"} {
		assert.Positive(t, broke[rule], "no funnel was drawn in which it happens: %s", rule)
	}
}
