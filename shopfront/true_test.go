package shopfront_test

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"chrysagon/internal/server"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The mail's link opens the order in any browser: what was bought, the town, how to
// write back; not the card, not the street, and nothing can be accepted there.
func TestTheMailsLinkShowsTheOrderInAnyBrowser(t *testing.T) {
	shop, _ := open(t)
	b, link, form := atUpsell(t, shop, approves)
	token := form.Get("order")
	other := shop.Browser()
	page := other.Get("/orders/" + token)
	require.Equal(t, http.StatusOK, page.Status)
	for _, words := range []string{"Ember 180, with lantern and line", "€51.00", "Paid on Monday 23 November 2026, 12:00", "It goes to", "hello@gustwell.example"} {
		assert.Contains(t, page.Body, words)
	}
	assert.NotContains(t, page.Body, "Sailmakers’ Row 9", "not the street")
	assert.NotContains(t, page.Body, "0017", "not the card")
	assert.Equal(t, "no-referrer", page.Header.Get("Referrer-Policy"))
	assert.Equal(t, "noindex", page.Header.Get("X-Robots-Tag"))
	assert.Equal(t, "/orders/"+token, other.Get(link).Location, "an upsell's address leads a stranger to the order")
	assert.Equal(t, http.StatusNotFound, other.Post("/quiver-bag/accept", form, "").Status, "only the browser that paid may accept")
	assert.Equal(t, http.StatusNotFound, other.Get("/orders/made-up").Status)
	assert.NotEmpty(t, b.Get("/orders/"+token).Location, "the browser that paid goes on where it was")
}

func TestOrderLinksCannotBeTriedOneAfterTheOther(t *testing.T) {
	shop := testkit.OpenWith(t, func(o *server.Options) { o.Forms = 5 })
	b := shop.Browser()
	last := 0
	for range 40 {
		if last = b.Get("/orders/made-up").Status; last == http.StatusTooManyRequests {
			break
		}
	}
	assert.Equal(t, http.StatusTooManyRequests, last)
}

// A price that ended by hand is honoured for the grace time once, however much is
// changed later.
func TestAnOldLowerPriceCannotBeReplayed(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	form := b.Form(b.Get("/night-flight"), b.Card(approves))
	shop.Clock.Advance(time.Minute)
	require.NoError(t, shop.App.Offers.EndOffer(context.Background(), "lantern-week"))
	shop.Clock.Advance(11 * time.Minute)
	said := func() any { return b.Post("/night-flight/checkout", form, asJSON).JSON(t)["notice"] }
	assert.Contains(t, said(), "The price has changed", "the grace time is over")
	for _, goods := range []any{[]string{"ember"}, nil, []string{"gull"}} {
		shop.Exec(`INSERT INTO price_changes (at, what, goods) VALUES ($1, 'offer', $2)`, shop.Clock.Now(), goods)
		assert.Contains(t, said(), "The price has changed", "a later change does not bring it back")
	}
	books.hold(t, 0, 0)

	shop.Follow(t)
	other := shop.Browser()
	seen := other.Form(other.Get("/night-flight"), other.Card(approves))
	shop.Exec(`INSERT INTO price_changes (at, what, goods) VALUES ($1, 'goods', $2)`, shop.Clock.Now().Add(time.Second), []string{"gull"})
	shop.Clock.Advance(2 * time.Second)
	assert.NotNil(t, other.Post("/night-flight/checkout", seen, asJSON).JSON(t)["go"])
}

// A seal drawn for one visitor is worth nothing in another's hands.
func TestASealOfAnotherVisitorIsNotTaken(t *testing.T) {
	shop, _ := open(t)
	b, other := shop.Browser(), shop.Browser()
	form := b.Form(b.Get("/night-flight"), b.Card(approves))
	own := b.Post("/night-flight/quote", form, asJSON).JSON(t)["seen"]
	stolen := other.Form(other.Get("/night-flight"), other.Card(approves))
	stolen.Set("seen", own.(string))
	assert.Contains(t, other.Post("/night-flight/checkout", stolen, asJSON).JSON(t)["notice"], "look at the total once more")
	form.Set("seen", own.(string))
	assert.NotNil(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"])
}

// What an order holds already is not sold to it again: its step is passed over.
func TestTheSameGoodsAreNotSoldTwiceByAnUpsell(t *testing.T) {
	shop, _ := open(t)
	b, link, form := atUpsell(t, shop, approves)
	shop.Exec(`INSERT INTO order_lines (order_id, payment_id, position, variant_id, name, quantity, price_minor, list_minor, via)
		SELECT p.order_id, p.id, 50, 'quiver', 'Quiver bag', 1, 2380, 2800, 'bump' FROM payments p JOIN orders o ON o.id = p.order_id WHERE o.token = $1`, form.Get("order"))
	assert.Contains(t, b.Get(link).Location, "/thank-you", "the page is passed over")
	before := shop.Number(`SELECT count(*) FROM till.charges`)
	sent := b.Post("/quiver-bag/accept", form, "")
	assert.Contains(t, sent.Location, "/thank-you")
	assert.Equal(t, before, shop.Number(`SELECT count(*) FROM till.charges`), "nothing more is charged")
}

// Where a form hands a file out, the page gives it and one mail carries its link.
func TestAFormHandsOutItsFile(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	mailbag := &pouch{}
	shop.App.Post = mailbag
	file, err := shop.App.Pictures.UploadFile(ctx, "Seven knots.pdf", []byte("%PDF-1.7 seven knots"))
	require.NoError(t, err)
	path, post := withForm(t, shop, "opt_in", "opt-in", "file:"+file.ID)
	b := shop.Browser()
	form := url.Values{"email": {"ines@example.org"}, "consent": {"1"}}
	for range 2 {
		sent := b.Post(post, form, "")
		require.Equal(t, http.StatusSeeOther, sent.Status)
		page := b.Get(strings.Split(sent.Header.Get("Location"), "#")[0])
		assert.Contains(t, page.Body, "Take “Seven knots.pdf”")
		assert.Contains(t, page.Body, "/files/"+file.Hash)
	}
	assert.NotContains(t, b.Get(path).Body, "/files/"+file.Hash, "only who asked gets it")
	var id string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM leads").Scan(&id).Error)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM river_job WHERE kind = 'send_lead'"), "asked twice, sent once")
	for range 2 {
		require.NoError(t, shop.App.People.DeliverLead(ctx, id))
	}
	require.Len(t, mailbag.letters, 1)
	assert.Equal(t, "ines@example.org", mailbag.letters[0].To)
	assert.Contains(t, mailbag.letters[0].Text, shop.App.Origins.Shop+"/files/"+file.Hash)
}

// A card leads only where anybody may go: a product that only an upsell shows leads
// nowhere.
func TestCardsLeadOnlyWhereAnybodyMayGo(t *testing.T) {
	shop := testkit.Open(t)
	assert.Zero(t, shop.Number(`SELECT count(*) FROM public_shows s JOIN pages p ON p.id = s.page_id WHERE p.purpose IN ('upsell', 'downsell', 'thank_you')`))
	assert.Positive(t, shop.Number(`SELECT count(*) FROM public_shows WHERE what = 'checkout'`))
	shop.Exec(`INSERT INTO live_shows (address, what, ref) VALUES ('quiver-bag', 'shelf', 'x'), ('night-flight', 'shelf', 'y')`)
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM public_shows WHERE what = 'shelf' AND ref IN ('x', 'y')`))
}

// An edition keeps what it showed: a picture that is replaced changes on live pages
// when they are published, and the studio says which still show the former one.
func TestAReplacedPictureGoesLiveWithTheNextEdition(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	path := func(id string) string {
		var hash string
		require.NoError(t, shop.Store.DB.Raw("SELECT hash FROM pictures WHERE id = ?", id).Scan(&hash).Error)
		return "/pictures/" + hash
	}
	was, other := path("ember"), path("gull")
	require.Contains(t, shop.Browser().Get("/night-flight").Body, was)
	require.NoError(t, shop.App.Pictures.ReplacePicture(ctx, "ember", "gull"))
	shop.Follow(t)
	page := shop.Browser().Get("/night-flight").Body
	assert.Contains(t, page, was, "the live page shows what it did")
	former, err := shop.App.Pictures.Formers(ctx)
	require.NoError(t, err)
	require.NotEmpty(t, former)
	assert.Equal(t, "night-flight", former[0].PageID)
	state, err := shop.App.Publishing.State(ctx, "frost-lanterns")
	require.NoError(t, err)
	assert.Positive(t, state.Differs(), "there is something to publish")

	_, err = shop.App.Publishing.Publish(ctx, "frost-lanterns", "Marta")
	require.NoError(t, err)
	shop.Follow(t)
	page = shop.Browser().Get("/night-flight").Body
	assert.Contains(t, page, other)
	assert.NotContains(t, page, was)
	former, err = shop.App.Pictures.Formers(ctx)
	require.NoError(t, err)
	assert.Empty(t, former)

	var first string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM editions WHERE campaign_id = 'frost-lanterns' ORDER BY number DESC OFFSET 1 LIMIT 1").Scan(&first).Error)
	_, err = shop.App.Publishing.PutBack(ctx, "frost-lanterns", first)
	require.NoError(t, err)
	shop.Follow(t)
	assert.Contains(t, shop.Browser().Get("/night-flight").Body, was, "and a former edition is as it was")
}

// Robots, link checkers, prefetches and HEAD are no visitors: no cookie is set, no
// view is counted, and the page is the same.
func TestOnlyPeopleAreVisitors(t *testing.T) {
	shop := testkit.Open(t)
	ask := func(method, agent string, headers ...string) testkit.Page {
		req, err := http.NewRequestWithContext(context.Background(), method, shop.App.Origins.Shop+"/night-flight", nil)
		require.NoError(t, err)
		req.Header.Set("User-Agent", agent)
		for i := 0; i < len(headers); i += 2 {
			req.Header.Set(headers[i], headers[i+1])
		}
		return shop.Browser().Do(req)
	}
	before := shop.Number("SELECT count(*) FROM events")
	for range 2 { // drawn anew, then from the cache
		for name, page := range map[string]testkit.Page{
			"a robot":        ask(http.MethodGet, "Mozilla/5.0 (compatible; Googlebot/2.1; +http://www.google.com/bot.html)"),
			"a link checker": ask(http.MethodGet, "W3C-checklink/5.0 libwww-perl/6.67"),
			"no name":        ask(http.MethodGet, ""),
			"a prefetch":     ask(http.MethodGet, testkit.Agent, "Sec-Purpose", "prefetch;prerender"),
			"a HEAD":         ask(http.MethodHead, testkit.Agent),
		} {
			assert.Equal(t, http.StatusOK, page.Status, name)
			assert.Empty(t, page.Header.Get("Set-Cookie"), name)
		}
	}
	shop.Record()
	seen := shop.Number("SELECT count(*) FROM events")
	assert.Equal(t, before, seen)
	assert.Contains(t, ask(http.MethodGet, testkit.Agent).Header.Get("Set-Cookie"), "visitor=")
	shop.Record()
	assert.Equal(t, seen+1, shop.Number("SELECT count(*) FROM events"))
}
