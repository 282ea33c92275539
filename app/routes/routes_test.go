package routes_test

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/app/routes"
	"chrysagon/core/fork"
	"chrysagon/core/manuscript"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"
	"chrysagon/internal/testkit"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

const campaign = "frost-lanterns"

func mapOf(t *testing.T, shop *testkit.Shop) routes.Map {
	t.Helper()
	m, err := shop.App.Routes.Map(ctx, campaign, routes.Window{})
	require.NoError(t, err)
	return m
}

// A funnel of every kind of step, with forks and conditions, comes back from the
// database as it was written, and routes keep their identity.
func TestAMapIsKept(t *testing.T) {
	shop := testkit.OpenSeason(t)
	f, err := shop.App.Drafts.DraftFunnel(ctx, campaign)
	require.NoError(t, err)
	tx := shop.Store.On(ctx)
	require.NoError(t, drafts.WriteFunnel(tx, campaign, f))
	again, err := shop.App.Drafts.DraftFunnel(ctx, campaign)
	require.NoError(t, err)
	assert.Equal(t, f, again)
	assert.Empty(t, mapOf(t, shop).Faults, "the demo's paths are sound")
	assert.Empty(t, mapOf(t, shop).Rerouted, "and live as they are drafted")
}

// Any run of changes can be taken back one by one, to the map it was, and done again,
// to the map it became; a change that is refused leaves nothing behind.
func TestChangesAreTakenBackAndDoneAgain(t *testing.T) {
	shop := testkit.OpenSeason(t)
	rng := rand.New(rand.NewPCG(3, 5))
	states := []route.Funnel{mapOf(t, shop).Funnel}
	steps := []string{"seven-knots", "first-gust", "ask-the-wind", "night-flight", "quiver-bag", "one-kite-sleeve", "thank-you", "harbour-lamps"}
	any := func() string { return steps[rng.IntN(len(steps))] }
	for range 60 {
		var c route.Command
		switch rng.IntN(5) {
		case 0:
			c = route.Command{Do: route.MoveStep, Step: route.Step{ID: any(), DX: rng.IntN(90), DY: rng.IntN(90)}}
		case 1:
			c = route.Command{Do: route.RemoveStep, Step: route.Step{ID: any()}}
		case 2:
			c = route.Command{Do: route.ChangeStep, Step: route.Step{ID: "harbour-lamps", Kind: route.Outside, Name: "Lamps", Address: "https://lamps.example/" + any()}}
		case 3:
			c = route.Command{Do: route.LeadTo, From: "seven-knots", Outcome: route.Submitted, Routes: []route.Route{{Fork: []fork.Share{{To: any(), Share: rng.IntN(9)}, {To: any(), Share: 1 + rng.IntN(9)}}}}}
		default:
			c = route.Command{Do: route.LeadTo, From: any(), Outcome: route.Declined, Routes: []route.Route{{When: []route.Condition{{Kind: route.IfAtLeast, AtLeast: int64(1 + rng.IntN(9000))}}, To: any()}, {To: any()}}}
		}
		before := mapOf(t, shop)
		err := shop.App.Routes.Change(ctx, campaign, "marta", c)
		after := mapOf(t, shop)
		if err != nil {
			assert.Equal(t, before.Funnel, after.Funnel)
			continue
		}
		if after.Undo != before.Undo || !assert.ObjectsAreEqual(before.Funnel, after.Funnel) {
			states = append(states, after.Funnel)
		}
	}
	require.Greater(t, len(states), 15, "enough of it was no nonsense")
	same := func(want, got route.Funnel) {
		t.Helper()
		assert.Empty(t, route.Differences(want, got))
		assert.Empty(t, route.Differences(got, want))
		for _, s := range want.Steps {
			is, _ := got.Step(s.ID)
			assert.Equal(t, s, is)
		}
	}
	for i := len(states) - 2; i >= 0; i-- {
		require.NoError(t, shop.App.Routes.Undo(ctx, campaign, false))
		same(states[i], mapOf(t, shop).Funnel)
	}
	require.Error(t, shop.App.Routes.Undo(ctx, campaign, false), "nothing is left to take back")
	for i := 1; i < len(states); i++ {
		require.NoError(t, shop.App.Routes.Undo(ctx, campaign, true))
		same(states[i], mapOf(t, shop).Funnel)
	}
}

// Every plan makes a map on which nothing would go wrong, with pages that can be written
// and published; its bridge's button leads by the routes.
func TestEveryPlanStandsAndGoesOut(t *testing.T) {
	for _, p := range route.Plans() {
		shop := testkit.Open(t)
		shop.Exec("INSERT INTO campaigns (id, name) VALUES ('spring', 'First Winds')")
		require.NoError(t, shop.App.Routes.Begin(ctx, "spring", "marta", p.Name, map[string]string{"opt-in": "Seven signs"}), p.Name)
		m, err := shop.App.Routes.Map(ctx, "spring", routes.Window{})
		require.NoError(t, err)
		assert.Len(t, m.Funnel.Steps, len(p.Funnel.Steps))
		for _, f := range m.Faults { // pages that nobody has written sell nothing yet
			assert.Contains(t, []string{"again", "dearer", "words", "twice", "address"}, f.Rule, "%s: %s", p.Name, f.What)
		}
		shop.Write("spring")
		_, err = shop.App.Publishing.Publish(ctx, "spring", "Marta")
		require.NoError(t, err, p.Name)
		require.Error(t, shop.App.Routes.Begin(ctx, "spring", "marta", p.Name, nil), "it has a map already")
		require.NoError(t, shop.App.Routes.Undo(ctx, "spring", false), "taken back, its pages stand for themselves")
	}
	require.Error(t, testkit.Open(t).App.Routes.Begin(ctx, campaign, "marta", "moon", nil))
}

// The forecast of the walks as they were is what they brought; what is tried moves it
// as it should; and a rehearsal on the same rates agrees with its chain.
func TestTheForecastIsOfTheWalks(t *testing.T) {
	shop := testkit.OpenSeason(t)
	m := mapOf(t, shop)
	out, unknown, err := m.Forecast(routes.WhatIf{})
	require.NoError(t, err)
	assert.Empty(t, unknown)
	was := decimal.NewFromInt(m.Figures.Revenue).Div(decimal.NewFromInt(m.Figures.Walks))
	assert.InDelta(t, was.InexactFloat64(), out.Revenue.Minor.InexactFloat64(), was.InexactFloat64()/20, "within what is lost between ways that walks do not take alike")
	assert.True(t, out.Low.Minor.LessThan(out.Revenue.Minor) && out.Revenue.Minor.LessThan(out.High.Minor))
	assert.True(t, out.Margin.Minor.LessThan(out.Revenue.Minor) && out.Margin.Minor.IsPositive())
	twice := routes.WhatIf{Rates: map[string]decimal.Decimal{routes.RateKey("night-flight", route.Bought): decimal.NewFromInt(12)}}
	better, _, err := m.Forecast(twice)
	require.NoError(t, err)
	assert.True(t, better.Revenue.Minor.GreaterThan(out.Revenue.Minor.Mul(decimal.NewFromInt(3).Div(decimal.NewFromInt(2)))))
	all := routes.WhatIf{Shares: map[string]int{"two-bridges|first-gust": 0, "two-bridges|ask-the-wind": 1}}
	ask, _, err := m.Forecast(all)
	require.NoError(t, err)
	for _, s := range ask.Seen {
		if s.Step == "first-gust" {
			assert.InDelta(t, 0, s.Times, 1e-9)
		}
	}
	dear := routes.WhatIf{Prices: map[string]int64{"night-flight": 9000}}
	dearer, _, err := m.Forecast(dear)
	require.NoError(t, err)
	assert.True(t, dearer.Revenue.Minor.GreaterThan(out.Revenue.Minor))
	tenth := routes.Betters(out)
	require.NotEmpty(t, tenth)
	assert.Equal(t, "night-flight", tenth[0].StepID)

	r, err := shop.App.Routes.Rehearse(ctx, m, routes.WhatIf{}, 100_000, 7)
	require.NoError(t, err)
	assert.Empty(t, r.Broken)
	n := 100_000.0
	mean := float64(r.Revenue) / n
	assert.InDelta(t, r.Expected.Revenue, mean, 4*math.Sqrt((r.Squares/n-mean*mean)/n))
}

// A page that sells and is taken off the map does not go out until it is on one again.
func TestWhatSellsNeedsAMap(t *testing.T) {
	shop := testkit.OpenSeason(t)
	require.NoError(t, shop.App.Routes.Change(ctx, campaign, "marta", route.Command{Do: route.RemoveStep, Step: route.Step{ID: "night-flight"}}))
	_, err := shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.ErrorContains(t, err, "stops publishing")
	state, err := shop.App.Publishing.State(ctx, campaign)
	require.NoError(t, err)
	assert.Contains(t, state.Findings["night-flight"][len(state.Findings["night-flight"])-1].What, "it is on no map")
	require.NoError(t, shop.App.Routes.Undo(ctx, campaign, false))
	state, err = shop.App.Publishing.State(ctx, campaign)
	require.NoError(t, err)
	assert.False(t, state.Stopped())
}

// A page serves in two funnels: each says where its yes leads, and a visitor is led by
// the one that led them here.
func TestAPageServesInTwoFunnels(t *testing.T) {
	shop := testkit.OpenSeason(t)
	shop.Exec("INSERT INTO campaigns (id, name) VALUES ('spring', 'First Winds')")
	require.NoError(t, shop.App.Routes.Begin(ctx, "spring", "marta", "gift", nil))
	m, err := shop.App.Routes.Map(ctx, "spring", routes.Window{})
	require.NoError(t, err)
	opt, sales := m.Funnel.Steps[0], route.Step{}
	for _, s := range m.Funnel.Steps {
		if s.Kind == route.Sales {
			sales = s
		}
	}
	id, faults, err := shop.App.Routes.Add(ctx, "spring", "marta", routes.New{Kind: route.Bridge, PageID: "first-gust", From: opt.ID, Outcome: route.Submitted})
	require.NoError(t, err)
	require.Empty(t, faults)
	require.NotEqual(t, "first-gust", id)
	require.NoError(t, shop.App.Routes.Change(ctx, "spring", "marta", route.Command{Do: route.LeadTo, From: opt.ID, Outcome: route.Submitted, Routes: []route.Route{{To: id}}}))
	require.NoError(t, shop.App.Routes.Change(ctx, "spring", "marta", route.Command{Do: route.LeadTo, From: id, Outcome: route.Clicked(route.Yes), Routes: []route.Route{{To: sales.ID}}}))
	_, _, err = shop.App.Routes.Add(ctx, "spring", "marta", routes.New{Kind: route.Bridge, PageID: "first-gust"})
	require.ErrorContains(t, err, "on this map already")
	state, err := shop.App.Publishing.State(ctx, "spring")
	require.NoError(t, err)
	require.False(t, fault.Stopping(state.Faults), "%v", state.Faults)
	shop.Write("spring")
	_, err = shop.App.Publishing.Publish(ctx, "spring", "Marta")
	require.NoError(t, err)
	shop.Forget()
	var address, piece, sold string
	require.NoError(t, shop.Store.DB.Raw("SELECT address FROM pages WHERE id = ?", opt.PageID).Scan(&address).Error)
	require.NoError(t, shop.Store.DB.Raw("SELECT address FROM pages WHERE id = ?", sales.PageID).Scan(&sold).Error)
	d, err := shop.App.Drafts.Draft(ctx, opt.PageID)
	require.NoError(t, err)
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "form" {
			piece = p.ID
		}
	})

	spring, frost := shop.Browser(), shop.Browser()
	spring.Get("/" + address)
	in := spring.Post("/"+address+"/forms/"+piece, map[string][]string{"email": {"a@example.org"}, "consent": {"1"}}, "")
	require.Equal(t, "/first-gust", in.Location, in.Body)
	spring.Get("/first-gust")
	frost.Get("/first-gust")
	assert.Equal(t, "/"+sold, spring.Get("/first-gust/on/yes").Location)
	assert.Equal(t, "/night-flight", frost.Get("/first-gust/on/yes").Location)
	shop.Record()
	m, err = shop.App.Routes.Map(ctx, "spring", routes.Window{})
	require.NoError(t, err)
	assert.Equal(t, int64(1), m.Figures.Steps[id].Visitors, "it is counted in the funnel that led here")

	// Setting the page aside takes it out of both.
	require.NoError(t, shop.App.Pages.SetAside(ctx, "first-gust", ""))
	for _, c := range []string{"spring", campaign} {
		m, err := shop.App.Routes.Map(ctx, c, routes.Window{})
		require.NoError(t, err)
		_, on := m.Funnel.StepOf("first-gust")
		assert.False(t, on, c)
	}
}

// Whatever moment is asked for, the hours and days together count what the walks' own
// steps say, by whole hours.
func TestHoursAndDaysAreTheWalks(t *testing.T) {
	shop := testkit.OpenSeason(t)
	for _, ago := range []time.Duration{0, time.Hour, 5 * time.Hour, 23 * time.Hour, 24 * time.Hour, 31 * time.Hour, 50 * time.Hour, 71*time.Hour + 30*time.Minute, 96 * time.Hour, 1000 * time.Hour} {
		since := testkit.Start.Add(-ago)
		f, err := shop.App.Routes.Rates(ctx, campaign, routes.Window{Since: since})
		require.NoError(t, err)
		for _, s := range []string{"seven-knots", "night-flight", "thank-you"} {
			assert.Equal(t, shop.Number("SELECT count(*) FROM walk_steps WHERE step_id = $1 AND first_at >= date_trunc('hour', $2::timestamptz, 'UTC')", s, since), f.Steps[s].Visitors, "%s since %s", s, ago)
		}
		assert.Equal(t, shop.Number("SELECT count(*) FROM walks WHERE begun_at >= date_trunc('hour', $1::timestamptz, 'UTC')", since), f.Walks)
	}
}
