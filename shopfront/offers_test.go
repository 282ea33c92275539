package shopfront_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"chrysagon/app/offers"
	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// offered makes an offer through the studio's own use case.
func offered(t *testing.T, shop *testkit.Shop, in offers.OfferInput) string {
	t.Helper()
	id, faults, err := shop.App.Offers.SaveOffer(context.Background(), in)
	require.NoError(t, err)
	require.Empty(t, faults)
	shop.Follow(t)
	return id
}

// agree looks at the total with what was typed, then pays that.
func agree(t *testing.T, b *testkit.Browser, page testkit.Page, typed url.Values) map[string]any {
	t.Helper()
	form := b.Form(page, b.Card(approves))
	for name, values := range typed {
		form[name] = values
	}
	quote := b.Post("/night-flight/quote", form, asJSON).JSON(t)
	if seen, ok := quote["seen"].(string); ok {
		form.Set("seen", seen)
	}
	return b.Post("/night-flight/checkout", form, asJSON).JSON(t)
}

// Two hundred buyers with a code that fifty may use: exactly fifty do.
func TestACodeWithFiftyUsesIsUsedFiftyTimes(t *testing.T) {
	shop, books := open(t)
	shop.Exec(`UPDATE variants SET stock = 500 WHERE id = 'ember'`)
	books.stock = 500
	offered(t, shop, offers.OfferInput{Name: "Frost code", Kind: "order_amount_off", Members: map[string]string{"amount": "5.00"}, Covers: "all", Code: "FROST-50", MaxUses: "50"})
	var used, told, full atomic.Int64
	crowd(200, func(i int) {
		b := shop.Browser()
		page := b.Get("/night-flight")
		answer := agree(t, b, page, url.Values{"code": {"frost 50"}, "email": {fmt.Sprintf("buyer%d@example.org", i)}})
		switch notice, _ := answer["notice"].(string); {
		case answer["go"] == nil && (strings.Contains(notice, "used for the last time") || strings.Contains(notice, "The price has changed")):
			told.Add(1)
		case answer["go"] != nil:
			used.Add(1)
		default:
			full.Add(1)
		}
	})
	reduced := shop.Number(`SELECT count(*) FROM payments WHERE state = 'charged' AND amount_minor = 4600`)
	assert.Equal(t, int64(50), reduced, "at the code's price")
	assert.Equal(t, int64(50), shop.Number(`SELECT used FROM offers WHERE name = 'Frost code'`))
	assert.Equal(t, int64(50), shop.Number(`SELECT count(*) FROM offer_uses WHERE code = 'FROST50' AND held`))
	assert.Equal(t, int64(200), used.Load()+told.Load(), "everybody else is told, or was shown the full price and paid that")
	assert.Zero(t, full.Load())
	books.hold(t, used.Load(), used.Load())
}

// Both limits at once: ten pieces, fifty uses.
func TestTenPiecesAndFiftyUses(t *testing.T) {
	shop, books := open(t)
	shop.Exec(`UPDATE variants SET stock = 10 WHERE id = 'ember'`)
	books.stock = 10
	offered(t, shop, offers.OfferInput{Name: "Frost code", Kind: "order_amount_off", Members: map[string]string{"amount": "5.00"}, Covers: "all", Code: "FROST-50", MaxUses: "50"})
	var sold atomic.Int64
	crowd(200, func(i int) {
		b := shop.Browser()
		page := b.Get("/night-flight")
		if page.Hidden("seen") == "" {
			return
		}
		if agree(t, b, page, url.Values{"code": {"FROST50"}})["go"] != nil {
			sold.Add(1)
		}
	})
	assert.Equal(t, int64(10), sold.Load())
	books.hold(t, 10, 10)
	assert.Equal(t, int64(10), shop.Number(`SELECT used FROM offers WHERE name = 'Frost code'`), "who got no piece used no code")
}

func TestADeclinedCardGivesTheUseBack(t *testing.T) {
	shop, _ := open(t)
	offered(t, shop, offers.OfferInput{Name: "Once each", Kind: "order_percent_off", Members: map[string]string{"percent": "10"}, Covers: "all", MaxUsesEach: "1"})
	b := shop.Browser()
	page := b.Get("/night-flight")
	form := b.Form(page, b.Card(declines))
	quote := b.Post("/night-flight/quote", form, asJSON).JSON(t)
	form.Set("seen", quote["seen"].(string))
	b.Post("/night-flight/checkout", form, asJSON)
	held := `SELECT count(*) FROM offer_uses u JOIN offers o ON o.id = u.offer_id WHERE o.name = 'Once each' AND u.held`
	assert.Zero(t, shop.Number(held))
	assert.NotNil(t, agree(t, b, page, nil)["go"])
	assert.Equal(t, int64(1), shop.Number(held))
	other := shop.Browser() // the same email, in another browser
	quote = other.Post("/night-flight/quote", other.Form(other.Get("/night-flight"), ""), asJSON).JSON(t)
	assert.Equal(t, "€51.00", quote["total"], "one buyer, one use")
}

// Where the parcel goes changes the total, so it is told before it is charged.
func TestTheCountryIsToldBeforeItIsCharged(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	form := b.Form(b.Get("/night-flight"), b.Card(approves))
	form.Set("country", "Spain")
	form.Set("town", "Madrid")
	form.Set("postcode", "28013")
	form.Set("region", "Madrid")
	answer := b.Post("/night-flight/checkout", form, asJSON).JSON(t)
	assert.Contains(t, answer["notice"], "look at the total once more")
	assert.Contains(t, answer["totals"], "€8.90", "by weight, to a neighbour")
	books.hold(t, 0, 0)
	form.Set("seen", answer["seen"].(string))
	require.NotNil(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"])
	assert.Equal(t, int64(5990), shop.Number(`SELECT amount_minor FROM payments WHERE state = 'charged' ORDER BY settled_at DESC LIMIT 1`))
	books.hold(t, 1, 1)
}

func TestAnOfferOfALinkHoldsForWhoCameByIt(t *testing.T) {
	shop, books := open(t)
	offered(t, shop, offers.OfferInput{Name: "Letter", Kind: "order_amount_off", Members: map[string]string{"amount": "6.00"}, Covers: "all", Link: "spring-letter"})
	b := shop.Browser()
	assert.NotContains(t, b.Get("/night-flight").Body, "€45.00")
	page := b.Get("/night-flight?via=spring-letter")
	assert.Contains(t, page.Body, "€45.00")
	assert.NotContains(t, shop.Browser().Get("/night-flight").Body, "€45.00", "what was drawn for them is kept for nobody else")
	form := b.Form(page, b.Card(approves))
	form.Set("link", "spring-letter")
	require.NotNil(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"])
	assert.Equal(t, int64(4500), shop.Number(`SELECT amount_minor FROM payments WHERE state = 'charged' ORDER BY settled_at DESC LIMIT 1`))
	books.hold(t, 1, 1)
}

// An offer of a step holds on that step's page, in its checkout and nowhere else.
func TestAnOfferOfAStepHoldsOnItsPage(t *testing.T) {
	shop, books := open(t)
	var steps []struct{ ID, Kind string }
	require.NoError(t, shop.Store.DB.Raw("SELECT id, kind FROM steps").Scan(&steps).Error)
	step := map[string]string{}
	for _, s := range steps {
		step[s.Kind] = s.ID
	}
	in := offers.OfferInput{Name: "On the upsell", Kind: "order_amount_off", Members: map[string]string{"amount": "6.00"}, Covers: "all", Step: step["upsell"]}
	in.ID = offered(t, shop, in)
	b := shop.Browser()
	assert.NotContains(t, b.Get("/night-flight").Body, "€45.00", "it is another step's")
	in.Step = step["sales"]
	offered(t, shop, in)
	page := b.Get("/night-flight")
	assert.Contains(t, page.Body, "€45.00")
	require.NotNil(t, b.Post("/night-flight/checkout", b.Form(page, b.Card(approves)), asJSON).JSON(t)["go"])
	assert.Equal(t, int64(4500), shop.Number(`SELECT amount_minor FROM payments WHERE state = 'charged' ORDER BY settled_at DESC LIMIT 1`))
	books.hold(t, 1, 1)
	in.Step = "none such"
	_, faults, err := shop.App.Offers.SaveOffer(context.Background(), in)
	require.NoError(t, err)
	assert.NotEmpty(t, faults["step"])
}

// A deadline that counts from first sight is each visitor's own, and does not
// start again: not on the next visit, nor in another browser with their email.
func TestASpanIsEachVisitorsOwn(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	span, faults, err := shop.App.Offers.SaveDeadline(ctx, offers.DeadlineInput{Name: "Half an hour", Kind: "span", SpanMinutes: 30})
	require.NoError(t, err)
	require.Empty(t, faults)
	offered(t, shop, offers.OfferInput{Name: "Quick", Kind: "order_amount_off", Members: map[string]string{"amount": "6.00"}, Covers: "all", DeadlineID: span})
	first := shop.Browser()
	assert.Contains(t, first.Get("/night-flight").Body, "€45.00")
	shop.Clock.Advance(29 * time.Minute)
	assert.Contains(t, first.Get("/night-flight").Body, "€45.00")
	later := shop.Browser()
	assert.Contains(t, later.Get("/night-flight").Body, "€45.00")
	shop.Clock.Advance(time.Minute)
	assert.NotContains(t, first.Get("/night-flight").Body, "€45.00", "their half hour is over")
	assert.Contains(t, later.Get("/night-flight").Body, "€45.00", "this one's is not")
	form := first.Form(first.Get("/night-flight"), "")
	first.Post("/night-flight/quote", form, asJSON) // their email becomes known
	fresh := shop.Browser()
	fresh.Get("/night-flight")
	quote := fresh.Post("/night-flight/quote", fresh.Form(fresh.Get("/night-flight"), ""), asJSON).JSON(t)
	assert.Equal(t, "€51.00", quote["total"], "the email has seen it before")
}

func TestMidnightIsTheVisitorsOwn(t *testing.T) {
	shop, _ := open(t)
	id, faults, err := shop.App.Offers.SaveDeadline(context.Background(), offers.DeadlineInput{Name: "Tonight", Kind: "visitor_midnight", Day: "2026-11-23"})
	require.NoError(t, err)
	require.Empty(t, faults)
	offered(t, shop, offers.OfferInput{Name: "Today", Kind: "order_amount_off", Members: map[string]string{"amount": "6.00"}, Covers: "all", DeadlineID: id})
	at := func(zone string) string {
		req, err := http.NewRequest(http.MethodGet, shop.App.Origins.Shop+"/night-flight", nil)
		require.NoError(t, err)
		req.AddCookie(&http.Cookie{Name: "zone", Value: url.QueryEscape(zone)})
		return shop.Browser().Do(req).Body
	}
	shop.Clock.Advance(4 * time.Hour) // 16:00 in Lisbon, 01:00 of the 24th in Tokyo
	assert.NotContains(t, at("Asia/Tokyo"), "€45.00")
	assert.Contains(t, at("Europe/Lisbon"), "€45.00")
	shop.Clock.Advance(9 * time.Hour) // past midnight in Lisbon, 20:00 in New York
	assert.NotContains(t, at("Europe/Lisbon"), "€45.00")
	assert.Contains(t, at("America/New_York"), "€45.00")
	assert.NotContains(t, at("Mars/Olympus"), "€45.00", "a zone that is none is the store's")
}

// What happens at zero is chosen for each band.
func TestBandsAtZero(t *testing.T) {
	for zero, want := range map[manuscript.AtZero]struct{ before, after bool }{
		manuscript.Hides: {true, false}, manuscript.Appears: {false, true}, manuscript.Stays: {true, true},
	} {
		shop, _ := open(t)
		publish(t, shop, "why", map[string]string{"deadline": "lantern-friday", "at_zero": string(zero)})
		b := shop.Browser()
		shown := func() bool { return strings.Contains(b.Get("/night-flight").Body, `data-band="why"`) }
		assert.Equal(t, want.before, shown(), zero)
		shop.Clock.Advance(untilFriday(t, shop))
		assert.Equal(t, want.after, shown(), zero)
	}
}

func TestABandMayCloseItsCheckoutOrLeadOn(t *testing.T) {
	shop, books := open(t)
	publish(t, shop, "order", map[string]string{"deadline": "lantern-friday", "at_zero": "close"})
	b := shop.Browser()
	page := b.Get("/night-flight")
	shop.Clock.Advance(untilFriday(t, shop))
	assert.Contains(t, b.Get("/night-flight").Body, "Orders closed on Friday 27 November 2026, 23:59, Lisbon time.")
	answer := b.Post("/night-flight/checkout", b.Form(page, b.Card(approves)), asJSON).JSON(t)
	assert.Contains(t, answer["notice"], "Orders closed on", "however it is sent")
	books.hold(t, 0, 0)

	shop, _ = open(t)
	publish(t, shop, "why", map[string]string{"deadline": "lantern-friday", "at_zero": "lead", "lead_to": "thank-you"})
	b = shop.Browser()
	assert.Equal(t, http.StatusOK, b.Get("/night-flight").Status)
	shop.Clock.Advance(untilFriday(t, shop))
	assert.Equal(t, "/thank-you", b.Get("/night-flight").Location)
}

// publish changes a band and publishes it.
func publish(t *testing.T, shop *testkit.Shop, band string, fields map[string]string) {
	t.Helper()
	ctx := context.Background()
	for field, value := range fields {
		_, err := shop.App.Desk.Edit(ctx, "marta", "night-flight", manuscript.Command{Op: manuscript.SetBand, ID: band, Field: field, Value: value}, false)
		require.NoError(t, err)
	}
	_, err := shop.App.Publishing.Publish(ctx, "frost-lanterns", "Marta Venn")
	require.NoError(t, err)
	shop.Follow(t)
}

// What cannot be proved is not struck, and nothing is said to be saved.
func TestNoFormerPriceWithoutItsProof(t *testing.T) {
	shop, _ := open(t)
	shop.Exec(`UPDATE price_ledger SET since = '2026-11-10T00:00:00Z' WHERE variant_id = 'ember' AND price_minor = 6800`)
	shop.Exec(`UPDATE products SET added_at = '2026-01-01T00:00:00Z' WHERE id = 'ember'`)
	body := shop.Browser().Get("/night-flight").Body
	assert.Contains(t, body, "€51.00")
	assert.NotContains(t, body, "€68.00")
	assert.NotContains(t, body, "You save")
}

// What was bought to download is downloaded by whoever has the order’s link, and
// nobody can guess it.
func TestADigitalProductIsDownloadedByItsBuyer(t *testing.T) {
	shop, _ := open(t)
	require.NoError(t, shop.App.Pictures.KeepFile(context.Background(), "plans", "Seven plans.pdf", []byte("%PDF seven kites")))
	require.ErrorContains(t, shop.App.Pictures.KeepFile(context.Background(), "ember", "x.pdf", []byte("x")), "Only a digital product")
	shop.Exec(`INSERT INTO offers (id, name, kind, general, detail, created_at) VALUES ('gift', 'Plans with it', 'gift', true, '{"gift_id": "plans"}', now())`)
	shop.Follow(t)
	b := shop.Browser()
	next, _ := b.Buy(approves)["go"].(string)
	upsell := b.Get(next)
	sent := b.Post("/quiver-bag/decline", url.Values{"order": {upsell.Hidden("order")}}, "")
	thanks := b.Get(sent.Location).Body
	assert.Contains(t, thanks, "a gift")
	at := regexp.MustCompile(`/orders/[a-z0-9]+/file/plans/[a-z0-9]+`).FindString(thanks)
	require.NotEmpty(t, at, thanks)
	file := b.Get(at)
	assert.Equal(t, "%PDF seven kites", file.Body)
	assert.Contains(t, file.Header.Get("Content-Disposition"), "Seven plans.pdf")
	assert.Equal(t, "%PDF seven kites", shop.Browser().Get(at).Body, "the mail’s link is opened in another browser")
	assert.Equal(t, http.StatusNotFound, b.Get(regexp.MustCompile(`/orders/[a-z0-9]+/`).ReplaceAllString(at, "/orders/made-up/")).Status)
	assert.Equal(t, http.StatusNotFound, b.Get(strings.Replace(at, "plans", "ember", 1)).Status)
}

// Eighty buyers at once, each with a bump and one of two codes: one good for a
// hundred orders, one without limit. Two of five cards are declined, so that uses
// and goods are taken and given back all the while. Nobody is answered with an
// error. The limit is never passed; a use that came back when the rush was over
// is there for the next buyer, and then the limit is met exactly.
func TestEightyBuyersWithDeclinedCards(t *testing.T) {
	shop, _ := open(t)
	shop.Exec(`UPDATE variants SET stock = 5000 WHERE id IN ('ember', 'lantern-cell')`)
	offered(t, shop, offers.OfferInput{Name: "Frost code", Kind: "order_amount_off", Members: map[string]string{"amount": "5.00"}, Covers: "all", Code: "FROST-100", MaxUses: "100"})
	open := offered(t, shop, offers.OfferInput{Name: "Open code", Kind: "order_amount_off", Members: map[string]string{"amount": "1.00"}, Covers: "all", Code: "OPEN"})
	deadlocks := `SELECT deadlocks FROM pg_stat_database WHERE datname = current_database()`
	met, before := shop.Number(deadlocks), shop.Number(`SELECT count(*) FROM payments WHERE state = 'charged'`)
	var answers, failures atomic.Int64
	buys := func(i, n int, card, code string) {
		b := shop.Browser()
		form := b.Form(b.Get("/night-flight"), b.Card(card))
		form.Set("bump", "1")
		form.Set("code", code)
		form.Set("email", fmt.Sprintf("buyer%d.%d@example.org", i, n))
		quote := b.Post("/night-flight/quote", form, asJSON)
		if seen, ok := quote.JSON(t)["seen"].(string); ok {
			form.Set("seen", seen)
		}
		answer := b.Post("/night-flight/checkout", form, asJSON)
		answers.Add(1)
		if quote.Status >= 500 || answer.Status >= 500 {
			failures.Add(1)
		}
	}
	var wait sync.WaitGroup
	for i := range 80 {
		wait.Go(func() {
			for n := range 4 {
				card, code := approves, "FROST-100"
				if (i+n)%5 < 2 {
					card = declines
				}
				if (i+n)%4 == 3 {
					code = "OPEN"
				}
				buys(i, n, card, code)
			}
		})
	}
	wait.Wait()
	assert.Equal(t, int64(320), answers.Load())
	assert.Zero(t, failures.Load())
	assert.Equal(t, met, shop.Number(deadlocks), "nobody had to be given up for another")
	uses := func() int64 { return shop.Number(`SELECT used FROM offers WHERE name = 'Frost code'`) }
	assert.LessOrEqual(t, uses(), int64(100))
	for i := uses(); i < 102; i++ {
		buys(100, int(i), approves, "FROST-100")
	}
	assert.Equal(t, int64(100), uses())
	assert.Equal(t, int64(100), shop.Number(`SELECT count(DISTINCT u.payment_id) FROM offer_uses u JOIN offers o ON o.id = u.offer_id JOIN payments p ON p.id = u.payment_id WHERE o.name = 'Frost code' AND u.held AND p.state = 'charged'`))
	charged := shop.Number(`SELECT count(*) FROM payments WHERE state = 'charged'`) - before
	shop.Exec("SELECT take_out()")
	assert.Equal(t, 5000-charged, shop.Number(`SELECT stock FROM variants WHERE id = 'ember'`), "whoever was charged has a kite, nobody else")
	assert.Zero(t, shop.Number(`SELECT sum(reserved) FROM variants`))

	// A limit that is set later counts what was used before.
	held := shop.Number(`SELECT count(*) FROM offer_uses WHERE code = 'OPEN' AND held`)
	require.Positive(t, held)
	assert.Equal(t, held, shop.Number(`SELECT count_uses('`+open+`')`))
	_, faults, err := shop.App.Offers.SaveOffer(context.Background(), offers.OfferInput{ID: open, Name: "Open code", Kind: "order_amount_off", Members: map[string]string{"amount": "1.00"}, Covers: "all", Code: "OPEN", MaxUses: fmt.Sprint(held - 1)})
	require.NoError(t, err)
	require.Contains(t, faults["code"], fmt.Sprintf("used %d times already", held))
	offered(t, shop, offers.OfferInput{ID: open, Name: "Open code", Kind: "order_amount_off", Members: map[string]string{"amount": "1.00"}, Covers: "all", Code: "OPEN", MaxUses: fmt.Sprint(held)})
	b := shop.Browser()
	answer := agree(t, b, b.Get("/night-flight"), url.Values{"code": {"OPEN"}})
	assert.NotNil(t, answer["go"], answer)
	assert.Equal(t, held, shop.Number(`SELECT used FROM offers WHERE name = 'Open code'`), "used up: at the list price")
}
