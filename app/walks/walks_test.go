package walks_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"chrysagon/app/routes"
	"chrysagon/core/fork"
	"chrysagon/core/pass"
	"chrysagon/core/route"
	"chrysagon/internal/server"
	"chrysagon/internal/testkit"
	"chrysagon/standin/lamps"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

const campaign = "frost-lanterns"

func figures(t *testing.T, shop *testkit.Shop) routes.Figures {
	t.Helper()
	shop.Record()
	m, err := shop.App.Routes.Map(ctx, campaign, routes.Window{})
	require.NoError(t, err)
	return m.Figures
}

// visitor is a browser's secret.
func visitor(shop *testkit.Shop, b *testkit.Browser) string {
	return b.Cookie(shop.App.Origins.Shop, "visitor")
}

func change(t *testing.T, shop *testkit.Shop, c route.Command) {
	t.Helper()
	require.NoError(t, shop.App.Routes.Change(ctx, campaign, "marta", c))
}

func publish(t *testing.T, shop *testkit.Shop) {
	t.Helper()
	_, err := shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	shop.Forget()
}

// Sixty visitors walk the fork, each twice over: the back button, a second press and a
// repeated form lead to the same place and count once. The map's figures are the walks.
func TestTheFiguresAreTheWalks(t *testing.T) {
	shop := testkit.OpenSeason(t)
	before := figures(t, shop)
	walked := map[string]int64{}
	for _, path := range []string{"/seven-knots", "/ask-the-wind"} {
		assert.NotEmpty(t, shop.Browser().Get(path).Header.Get("ETag"), "it is kept for everybody, though a fork begins there")
	}
	before = figures(t, shop)
	for i := range 60 {
		b := shop.Browser()
		b.Get("/seven-knots?utm_source=Sixty")
		first := b.SignUp(fmt.Sprintf("visitor-%d@example.org", i))
		require.Equal(t, http.StatusSeeOther, first.Status, first.Body)
		bridge := strings.TrimPrefix(first.Location, "/")
		walked[bridge]++
		assert.Equal(t, first.Location, b.SignUp(fmt.Sprintf("visitor-%d@example.org", i)).Location, "sent again")
		b.Get(first.Location)
		if i%3 > 0 {
			continue
		}
		for range 2 {
			b.Get("/seven-knots")
			on := b.Get(first.Location + "/on/yes")
			require.Equal(t, http.StatusSeeOther, on.Status)
			require.Equal(t, "/night-flight", on.Location)
			b.Get(on.Location)
		}
		walked["on "+bridge]++
	}
	after := figures(t, shop)
	grew := func(step string) int64 { return after.Steps[step].Visitors - before.Steps[step].Visitors }
	way := func(from string, o route.Outcome, to string) int64 {
		w := routes.Way{From: from, Outcome: o, To: to}
		return after.Ways[w] - before.Ways[w]
	}
	assert.Equal(t, int64(60), walked["first-gust"]+walked["ask-the-wind"])
	assert.Greater(t, walked["first-gust"], walked["ask-the-wind"], "ten against five")
	assert.Equal(t, int64(60), grew("seven-knots"))
	assert.Equal(t, int64(60), after.Steps["seven-knots"].Outcomes[route.Submitted]-before.Steps["seven-knots"].Outcomes[route.Submitted])
	assert.Equal(t, int64(60), after.Walks-before.Walks)
	for _, bridge := range []string{"first-gust", "ask-the-wind"} {
		assert.Equal(t, walked[bridge], grew(bridge))
		assert.Equal(t, walked[bridge], way("seven-knots", route.Submitted, bridge))
		assert.Equal(t, walked["on "+bridge], way(bridge, route.Clicked(route.Yes), "night-flight"))
	}
	assert.Equal(t, walked["on first-gust"]+walked["on ask-the-wind"], grew("night-flight"))
	alone, err := shop.App.Routes.Map(ctx, campaign, routes.Window{Source: "Sixty"})
	require.NoError(t, err)
	assert.Equal(t, int64(60), alone.Figures.Steps["seven-knots"].Visitors)
	assert.Equal(t, walked["on first-gust"]+walked["on ask-the-wind"], alone.Figures.Steps["night-flight"].Visitors, "the source is kept along the walk")
	assert.Zero(t, alone.Figures.Steps["seven-knots"].Left())
	// Who has not gone on may still do so; after the store's minutes they have left.
	waiting := alone.Figures.Steps["first-gust"]
	assert.Equal(t, waiting.Visitors-waiting.Moved, waiting.Here)
	shop.Clock.Advance(61 * time.Minute)
	alone, err = shop.App.Routes.Map(ctx, campaign, routes.Window{Source: "Sixty"})
	require.NoError(t, err)
	assert.Equal(t, walked["first-gust"]-walked["on first-gust"], alone.Figures.Steps["first-gust"].Left())
}

// After the shares are changed, nobody who was assigned has moved, in another edition
// too; new visitors go by the new ones. A target that is gone is assigned anew.
func TestWhoWasAssignedStays(t *testing.T) {
	shop := testkit.OpenSeason(t)
	at, emails := map[*testkit.Browser]string{}, map[*testkit.Browser]string{}
	for i := range 30 {
		b := shop.Browser()
		b.Get("/seven-knots")
		emails[b] = fmt.Sprintf("early-%d@example.org", i)
		at[b] = b.SignUp(emails[b]).Location
	}
	f, err := shop.App.Drafts.DraftFunnel(ctx, campaign)
	require.NoError(t, err)
	id := f.From("seven-knots", route.Submitted)[0].ID
	change(t, shop, route.Command{Do: route.LeadTo, From: "seven-knots", Outcome: route.Submitted, Routes: []route.Route{{ID: id, Fork: []fork.Share{{To: "first-gust", Share: 0}, {To: "ask-the-wind", Share: 1}}}}})
	publish(t, shop)
	for b, was := range at {
		assert.Equal(t, was, b.SignUp(emails[b]).Location)
	}
	for i := range 8 {
		b := shop.Browser()
		b.Get("/seven-knots")
		assert.Equal(t, "/ask-the-wind", b.SignUp(fmt.Sprintf("late-%d@example.org", i)).Location)
	}
	change(t, shop, route.Command{Do: route.RemoveStep, Step: route.Step{ID: "first-gust"}})
	require.NoError(t, shop.App.Pages.SetAside(ctx, "first-gust", ""))
	publish(t, shop)
	for b := range at {
		assert.Equal(t, "/ask-the-wind", b.SignUp(emails[b]).Location, "that page is gone")
	}
}

// Two browsers whose owner gives the same email are one person: the earlier share stays.
func TestOnePersonOnTwoDevices(t *testing.T) {
	shop := testkit.OpenSeason(t)
	met := map[string]int{}
	for i := range 60 { // until both shares were met: they are drawn
		if i >= 6 && len(met) == 2 {
			break
		}
		phone, desktop := shop.Browser(), shop.Browser()
		phone.Get("/seven-knots")
		desktop.Get("/seven-knots")
		email := fmt.Sprintf("Two.Devices.%d@example.org", i)
		first := phone.SignUp(email).Location
		met[first]++
		assert.Equal(t, first, desktop.SignUp(strings.ToLower(email)).Location)
	}
	assert.Len(t, met, 2, "both shares are met, so that this shows something")
}

// Walkers keep the routes of the edition they began with; new visitors take the new
// ones; and where a step is gone, the live map leads.
func TestWalkersKeepTheirRoutes(t *testing.T) {
	shop := testkit.OpenSeason(t)
	early, late := shop.Browser(), shop.Browser()
	early.Get("/first-gust")
	shop.Record()
	change(t, shop, route.Command{Do: route.LeadTo, From: "first-gust", Outcome: route.Clicked(route.Yes), Routes: []route.Route{{To: "ask-the-wind"}}})
	publish(t, shop)
	late.Get("/first-gust")
	assert.Equal(t, "/night-flight", early.Get("/first-gust/on/yes").Location)
	assert.Equal(t, "/ask-the-wind", late.Get("/first-gust/on/yes").Location)
	shop.Clock.Advance(31 * 24 * time.Hour)
	assert.Equal(t, "/ask-the-wind", early.Get("/first-gust/on/yes").Location, "a month later the walk begins anew")
}

// Robots, prefetches and HEAD are led, and are nobody's walk; a name that nobody wrote
// leads back to its page.
func TestNobodysWalkIsNotCounted(t *testing.T) {
	shop := testkit.OpenSeason(t)
	before := figures(t, shop)
	for name, value := range map[string]string{"User-Agent": "Googlebot/2.1 (+http://www.google.com/bot.html)", "Sec-Purpose": "prefetch"} {
		req, err := http.NewRequestWithContext(ctx, http.MethodGet, shop.App.Origins.Shop+"/first-gust/on/yes", nil)
		require.NoError(t, err)
		req.Header.Set(name, value)
		page := shop.Browser().Do(req)
		assert.Equal(t, "/night-flight", page.Location, name)
		assert.Empty(t, page.Header.Get("Set-Cookie"))
	}
	b := shop.Browser()
	for _, path := range []string{"/first-gust/on/nothing", "/first-gust/on/a'b", "/first-gust/on/" + strings.Repeat("a", 50)} {
		assert.Equal(t, "/first-gust", b.Get(path).Location, path)
	}
	assert.Equal(t, http.StatusNotFound, b.Get("/nowhere/on/yes").Status)
	assert.Equal(t, http.StatusNotFound, b.Get("/first-gust/on/%ff").Status)
	assert.Equal(t, before.Ways, figures(t, shop).Ways)
	// A cookie that is no secret of ours is none.
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, shop.App.Origins.Shop+"/first-gust/on/yes", nil)
	require.NoError(t, err)
	req.Header.Set("Cookie", "visitor=abcdefghijklmnopqrstu'--")
	assert.Equal(t, "/night-flight", shop.Browser().Do(req).Location)
}

// A press to call, to write or to open the map is an outcome; nothing else is.
func TestPressesThatLeaveThePageOpen(t *testing.T) {
	shop := testkit.OpenSeason(t)
	b := shop.Browser()
	b.Get("/night-flight")
	before := figures(t, shop)
	for range 3 {
		assert.Equal(t, http.StatusNoContent, b.Post("/night-flight/pressed/call", url.Values{}, "").Status)
	}
	assert.Equal(t, http.StatusNotFound, b.Post("/night-flight/pressed/yes", url.Values{}, "").Status)
	after := figures(t, shop)
	call := route.Clicked(route.Call)
	assert.Equal(t, int64(1), after.Steps["night-flight"].Outcomes[call]-before.Steps["night-flight"].Outcomes[call])
	assert.Equal(t, int64(1), after.Steps["night-flight"].Moved-before.Steps["night-flight"].Moved)
}

// An upsell declined leads to its downsell; accepted, it adds to the order; the money
// is where it was earned; and who owns a bag by an earlier order is led past it.
func TestBuyersAreLedByWhatTheyHave(t *testing.T) {
	shop := testkit.OpenSeason(t)
	before := figures(t, shop)
	b := shop.Browser()
	told := b.Buy("9200000000000017")
	path, _ := told["go"].(string)
	require.True(t, strings.HasPrefix(path, "/quiver-bag?order="), "%v", told)
	token := strings.TrimPrefix(path, "/quiver-bag?order=")
	b.Get(path)
	no := b.Post("/quiver-bag/decline", url.Values{"order": {token}}, "")
	require.Equal(t, "/one-kite-sleeve?order="+token, no.Location)
	assert.Equal(t, no.Location, b.Post("/quiver-bag/decline", url.Values{"order": {token}}, "").Location, "twice pressed is once said")
	page := b.Get(no.Location)
	yes := b.Post("/one-kite-sleeve/accept", url.Values{"order": {token}, "seen": {page.Hidden("seen")}}, "")
	require.Equal(t, "/thank-you?order="+token, yes.Location, yes.Body)
	assert.Contains(t, b.Get(yes.Location).Body, "One-kite sleeve")
	after := figures(t, shop)
	for step, minor := range map[string]int64{"night-flight": 5100, "quiver-bag": 0, "one-kite-sleeve": 1190} {
		assert.Equal(t, minor, after.Steps[step].Minor-before.Steps[step].Minor, step)
	}
	assert.Equal(t, int64(1), after.Orders-before.Orders)
	for _, w := range []routes.Way{{From: "night-flight", Outcome: route.Bought, To: "quiver-bag"}, {From: "quiver-bag", Outcome: route.Declined, To: "one-kite-sleeve"}, {From: "one-kite-sleeve", Outcome: route.Accepted, To: "thank-you"}} {
		assert.Equal(t, int64(1), after.Ways[w]-before.Ways[w], "%v", w)
	}

	owner := shop.Browser()
	shop.Exec("INSERT INTO visitor_emails VALUES ('x', 'ines@example.org', now()) ON CONFLICT DO NOTHING")
	first := owner.Buy("9200000000000017")
	path, _ = first["go"].(string)
	token = strings.TrimPrefix(path, "/quiver-bag?order=")
	page = owner.Get(path)
	owner.Post("/quiver-bag/accept", url.Values{"order": {token}, "seen": {page.Hidden("seen")}}, "")
	shop.Clock.Advance(time.Minute)
	again := shop.Browser() // another browser, the same email
	path, _ = again.Buy("9200000000000017")["go"].(string)
	assert.True(t, strings.HasPrefix(path, "/thank-you?order="), path)
}

// A refund is taken off where the money was earned, whatever came later.
func TestWhatGoesBackIsTakenOff(t *testing.T) {
	shop := testkit.OpenSeason(t)
	before := figures(t, shop)
	assert.Equal(t, shop.Number("SELECT sum(total_minor) FROM orders WHERE state = 'paid' AND campaign_id = 'frost-lanterns'"), before.Revenue)
	assert.Equal(t, shop.Number("SELECT count(*) FROM orders WHERE state = 'paid' AND campaign_id = 'frost-lanterns'"), before.Orders)
}

// What a program that died left behind is rolled up by the next, once.
func TestFootprintsOutliveTheProgram(t *testing.T) {
	shop := testkit.OpenSeason(t)
	b := shop.Browser()
	b.Get("/seven-knots")
	b.SignUp("left.behind@example.org")
	assert.Positive(t, shop.Number("SELECT count(*) FROM footprints"))
	other := testkit.On(t, shop.Store, func(*server.Options) {})
	before := figures(t, other)
	assert.Zero(t, shop.Number("SELECT count(*) FROM footprints"))
	n, err := other.Events.RollUp(ctx)
	require.NoError(t, err)
	assert.Zero(t, n)
	assert.Equal(t, before, figures(t, other))
}

// A page outside: the pass holds for its walk and step alone. Forged, old, or of another
// visitor, it changes nothing for who brings it; and only hosts that are listed report.
func TestAPageOutside(t *testing.T) {
	shop := testkit.OpenSeason(t)
	b := shop.Browser()
	b.Get("/ask-the-wind")
	shop.Record()
	out := b.Get("/ask-the-wind/on/lamps")
	require.Equal(t, http.StatusSeeOther, out.Status)
	u, err := url.Parse(out.Location)
	require.NoError(t, err)
	assert.Equal(t, lamps.Host, u.Host)
	carried := u.Query().Get(pass.Param)
	require.NotEmpty(t, carried)
	assert.NotContains(t, out.Location, visitor(shop, b), "the browser's secret is not told")
	assert.Equal(t, "/night-flight", b.Get("/outside/harbour-lamps/on/yes?walk="+carried).Location)

	seen := func(origin, text string) int {
		req, err := http.NewRequestWithContext(ctx, http.MethodPost, shop.App.Origins.Shop+"/outside/harbour-lamps/seen", strings.NewReader(text))
		require.NoError(t, err)
		req.Header.Set("Origin", origin)
		req.Header.Set("Content-Type", "text/plain")
		return shop.Browser().Do(req).Status
	}
	assert.Equal(t, http.StatusNoContent, seen("http://"+lamps.Host, carried))
	assert.Equal(t, http.StatusNoContent, seen("http://"+lamps.Host, carried+"\nbrochure"))
	assert.Equal(t, http.StatusForbidden, seen("http://evil.example", carried))
	assert.Equal(t, http.StatusForbidden, seen("", carried))
	assert.NotEqual(t, http.StatusNoContent, seen("http://"+lamps.Host, carried+"x"))
	assert.NotEqual(t, http.StatusNoContent, seen("http://"+lamps.Host, strings.Replace(carried, "harbour-lamps", "seven-knots", 1)))
	assert.NotEqual(t, http.StatusNoContent, seen("http://"+lamps.Host, carried+"\nBad Name"))
	f := figures(t, shop)
	assert.Positive(t, f.Steps["harbour-lamps"].Outcomes[route.Clicked("brochure")])

	// Somebody else's pass: they go on as themselves. In a new browser it goes on with
	// that walk, at the share that was assigned.
	stranger := shop.Browser()
	stranger.Get("/seven-knots?utm_source=Stranger")
	shop.Record()
	stranger.Get("/outside/harbour-lamps/on/yes?walk=" + carried)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM walks WHERE visitor = $1 AND source = 'Stranger'", visitor(shop, stranger)))
	fresh := shop.Browser()
	assert.Equal(t, "/night-flight", fresh.Get("/outside/harbour-lamps/on/yes?walk="+carried).Location)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM walks WHERE visitor = $1 AND landing = 'ask-the-wind'", visitor(shop, fresh)))
	shop.Clock.Advance(8 * 24 * time.Hour)
	assert.NotEqual(t, http.StatusNoContent, seen("http://"+lamps.Host, carried), "too old")
	assert.Equal(t, "/night-flight", shop.Browser().Get("/outside/harbour-lamps/on/yes?walk=forged").Location, "who has none is led on all the same")
	assert.Equal(t, http.StatusNotFound, b.Get("/outside/night-flight/on/yes").Status)
}

// A tracked link leads only to what the store named, counts people and not robots, is
// right after renaming, and leads who has walked on to where they are.
func TestTrackedLinks(t *testing.T) {
	shop := testkit.OpenSeason(t)
	l, err := shop.App.Routes.AddLink(ctx, routes.NewLink{CampaignID: campaign, Name: "The club’s café", Medium: "print", StepID: "seven-knots"})
	require.NoError(t, err)
	assert.Equal(t, "the-clubs-cafe", l.Slug)
	b := shop.Browser()
	in := b.Get("/to/the-clubs-cafe?next=https://evil.example")
	require.Equal(t, http.StatusSeeOther, in.Status)
	assert.Equal(t, "/seven-knots?utm_campaign=frost-lanterns&utm_medium=print&utm_source=The+club%E2%80%99s+caf%C3%A9", in.Location)
	b.Get(in.Location)
	b.Get("/to/the-clubs-cafe")
	req, err := http.NewRequestWithContext(ctx, http.MethodHead, shop.App.Origins.Shop+"/to/the-clubs-cafe", nil)
	require.NoError(t, err)
	shop.Browser().Do(req)
	assert.Equal(t, int64(2), shop.Number("SELECT clicks FROM links WHERE id = $1", l.ID))
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM link_clicks WHERE link_id = $1", l.ID))
	shop.Record()
	at := b.SignUp("cafe@example.org").Location
	assert.Equal(t, at, strings.Split(b.Get("/to/the-clubs-cafe").Location, "?")[0], "they go on where they were")

	shop.Exec("UPDATE live_pages SET address = 'knots' WHERE page_id = 'seven-knots'")
	shop.Forget()
	assert.True(t, strings.HasPrefix(shop.Browser().Get("/to/the-clubs-cafe").Location, "/knots?"))
	assert.Equal(t, http.StatusNotFound, b.Get("/to/nothing").Status)

	twin, err := shop.App.Routes.AddLink(ctx, routes.NewLink{CampaignID: campaign, Name: "The club’s café", RouteID: "two-bridges"})
	require.NoError(t, err)
	assert.Equal(t, "the-clubs-cafe-2", twin.Slug)
	assert.Equal(t, at, strings.Split(b.Get("/to/the-clubs-cafe-2").Location, "?")[0], "into the fork, at their share")
	for _, wrong := range []routes.NewLink{{Name: ""}, {Name: "x", StepID: "quiver-bag"}, {Name: "x", StepID: "nothing"}, {Name: "x", RouteID: "gone"}} {
		wrong.CampaignID = campaign
		_, err := shop.App.Routes.AddLink(ctx, wrong)
		require.Error(t, err)
	}
}
