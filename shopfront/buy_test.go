package shopfront_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The till's test cards, as a person types them (standin/till, Cards).
const (
	approves     = "9200 0000 0000 0017"
	declines     = "9200 0000 0000 0025"
	lacksFunds   = "9200 0000 0000 0033"
	timesOut     = "9200 0000 0000 0041"
	confirms     = "9200 0000 0000 0058"
	declinesKept = "9200 0000 0000 0066"
)

const asJSON = "application/json"

// books holds the shop's orders against the till's ledger and the stock, by
// looking at all three.
type books struct {
	shop                  *testkit.Shop
	orders, stock, charge int64
}

func open(t *testing.T) (*testkit.Shop, *books) {
	t.Helper()
	shop := testkit.Open(t)
	b := &books{shop: shop}
	require.NoError(t, shop.App.Selling.TakeOut(context.Background()))
	b.orders, b.stock, b.charge = b.read()
	return shop, b
}

func (b *books) read() (orders, stock, charges int64) {
	return b.shop.Number(`SELECT count(*) FROM orders WHERE state = 'paid'`),
		b.shop.Number(`SELECT stock FROM variants WHERE id = 'ember'`),
		b.shop.Number(`SELECT count(*) FROM till.charges WHERE state = 'charged'`)
}

// hold asserts how many orders and charges came in since the test began, that
// the stock fell by as many, and that nothing stays reserved.
func (b *books) hold(t *testing.T, orders, charges int64) {
	t.Helper()
	b.came(t, orders, charges)
	_, s, _ := b.read()
	assert.Equal(t, orders, b.stock-s, "units taken out of the stock")
}

// came asserts how many orders and charges came in, of whatever goods.
func (b *books) came(t *testing.T, orders, charges int64) {
	t.Helper()
	require.NoError(t, b.shop.App.Selling.TakeOut(context.Background()))
	o, _, c := b.read()
	assert.Equal(t, orders, o-b.orders, "paid orders")
	assert.Equal(t, charges, c-b.charge, "charges in the till's ledger")
	assert.Zero(t, b.shop.Number(`SELECT coalesce(sum(reserved), 0) FROM variants`), "units still reserved")
	assert.Zero(t, b.shop.Number(`SELECT count(*) FROM till.charges c WHERE c.state = 'charged'
		AND NOT EXISTS (SELECT FROM payments p WHERE p.key = c.key AND p.state = 'charged' AND p.amount_minor = c.amount_minor)`), "charges without a payment")
}

func TestTheWholePathWithBothAnswers(t *testing.T) {
	for answer, want := range map[string]struct {
		total   int64
		charges int64
		mails   int64
	}{"accept": {5100 + 2380, 2, 2}, "decline": {5100, 1, 1}} {
		t.Run(answer, func(t *testing.T) {
			shop, books := open(t)
			b := shop.Browser()
			next, _ := b.Buy(approves)["go"].(string)
			require.Contains(t, next, "/quiver-bag?order=")
			upsell := b.Get(next)
			require.Equal(t, http.StatusOK, upsell.Status)
			sent := b.Post("/quiver-bag/"+answer, url.Values{"order": {upsell.Hidden("order")}, "seen": {upsell.Hidden("seen")}}, "")
			require.Equal(t, http.StatusSeeOther, sent.Status, sent.Body)
			require.Contains(t, sent.Location, "/thank-you?order=")
			thanks := b.Get(sent.Location)
			assert.Contains(t, thanks.Body, "Ember 180, with lantern and line")
			assert.Equal(t, answer == "accept", strings.Contains(thanks.Body, "Quiver bag for three kites"))
			assert.Contains(t, thanks.Body, "hello@gustwell.example", "says who writes")
			assert.Contains(t, thanks.Body, "ines@example.org", "says to whom")
			if answer == "accept" {
				assert.Regexp(t, `(?s)“Your order \d+.*“Added to your order \d+`, thanks.Body, "in the order in which they come")
			}
			books.hold(t, 1, want.charges)
			assert.Equal(t, want.total, shop.Number(`SELECT total_minor FROM orders ORDER BY number DESC LIMIT 1`))
			assert.Equal(t, want.mails, shop.Number(`SELECT count(*) FROM river_job WHERE kind = 'send_mail'`), "mails in the queue")
		})
	}
}

func TestACardThatIsNotChargedLeavesEverythingAsItWas(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	for card, why := range map[string]string{declines: "declined", lacksFunds: "insufficient funds"} {
		answer := b.Buy(card)
		assert.Contains(t, answer["notice"], why)
		assert.Nil(t, answer["go"], "the buyer stays")
	}
	books.hold(t, 0, 0)
	assert.NotNil(t, b.Buy(approves)["go"], "another card works at once")
	books.hold(t, 1, 1)
}

func TestATamperedPriceIsNeverCharged(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	for name, spoil := range map[string]func(url.Values){
		"no seal":        func(f url.Values) { f.Del("seen") },
		"a forged seal":  func(f url.Values) { f.Set("seen", "eyJtIjoxLCJwIjp7ImVtYmVyL3BhZ2UiOjF9fQ.AAAAAAAAAAAAAAAAAAAAAA") },
		"a changed seal": func(f url.Values) { f.Set("seen", "x"+f.Get("seen")) },
		"nonsense":       func(f url.Values) { f.Set("seen", "...") },
		"a price of ours": func(f url.Values) {
			f.Set("seen", "")
			f.Set("total", "1")
			f.Set("price", "0.01")
			f.Set("amount_minor", "1")
		},
	} {
		form := b.Form(page, b.Card(approves))
		spoil(form)
		answer := b.Post("/night-flight/checkout", form, asJSON).JSON(t)
		assert.Contains(t, answer["notice"], "look at the total", name)
		assert.Contains(t, answer["totals"], "€51.00", name)
	}
	books.hold(t, 0, 0)
	form := b.Form(page, b.Card(approves))
	form.Set("price", "1")
	require.NotNil(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"])
	assert.Equal(t, int64(5100), shop.Number(`SELECT amount_minor FROM till.charges ORDER BY created_at DESC LIMIT 1`))
}

func TestAnOfferThatEndsBetweenViewAndPay(t *testing.T) {
	for name, c := range map[string]struct {
		late  time.Duration
		total int64 // 0: told first
	}{
		"at the deadline":    {0, 5100},
		"within the grace":   {10 * time.Minute, 5100},
		"past the grace":     {10*time.Minute + time.Second, 0},
		"long past":          {72 * time.Hour, 0},
		"before it, as seen": {-time.Minute, 5100},
	} {
		t.Run(name, func(t *testing.T) {
			shop, books := open(t)
			b := shop.Browser()
			page := b.Get("/night-flight")
			shop.Clock.Advance(untilFriday(t, shop) + c.late)
			answer := b.Post("/night-flight/checkout", b.Form(page, b.Card(approves)), asJSON).JSON(t)
			if c.total == 0 {
				assert.Contains(t, answer["notice"], "the total is now €68.00")
				books.hold(t, 0, 0)
				form := b.Form(page, b.Card(approves))
				form.Set("seen", answer["seen"].(string)) // they have now seen it, and agree
				answer = b.Post("/night-flight/checkout", form, asJSON).JSON(t)
				c.total = 6800
			}
			require.NotNil(t, answer["go"], "%v", answer)
			books.hold(t, 1, 1)
			assert.Equal(t, c.total, shop.Number(`SELECT total_minor FROM orders ORDER BY number DESC LIMIT 1`))
		})
	}
}

func TestPageChangesAtTheDeadlineThoughItWasCached(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	before := b.Get("/night-flight")
	assert.Contains(t, before.Body, "data-timer")
	assert.Contains(t, before.Body, "<strong class=\"now\">€51.00</strong>")
	shop.Clock.Advance(untilFriday(t, shop) - time.Millisecond)
	assert.Contains(t, b.Get("/night-flight").Body, "<strong class=\"now\">€51.00</strong>", "until the last instant")
	shop.Clock.Advance(time.Millisecond)
	after := b.Get("/night-flight")
	assert.NotContains(t, after.Body, "data-timer", "the timer is gone")
	assert.NotContains(t, after.Body, "€51.00")
	assert.Contains(t, after.Body, `<strong class="plain now">€68.00</strong>`)
	quote := b.Post("/night-flight/quote", url.Values{}, asJSON).JSON(t)
	assert.Equal(t, "€68.00", quote["total"], "the checkout too")
}

func TestTheLastPieceGoesToOne(t *testing.T) {
	shop, books := open(t)
	shop.Exec(`UPDATE variants SET stock = 1 WHERE id = 'ember'`)
	books.stock = 1
	quick, slow := shop.Browser(), shop.Browser()
	page := slow.Get("/night-flight")
	require.NotNil(t, quick.Buy(approves)["go"])
	answer := slow.Post("/night-flight/checkout", slow.Form(page, slow.Card(approves)), asJSON).JSON(t)
	assert.Contains(t, answer["notice"], "sold")
	assert.Contains(t, answer["notice"], "Nothing was charged")
	books.hold(t, 1, 1)
}

// Two hundred buyers at once for the last ten pieces.
func TestTenPiecesAreSoldTenTimes(t *testing.T) {
	shop, books := open(t)
	shop.Exec(`UPDATE variants SET stock = 10 WHERE id = 'ember'`)
	books.stock = 10
	var sold, told atomic.Int64
	crowd(200, func(int) {
		b := shop.Browser()
		page := b.Get("/night-flight")
		if page.Hidden("seen") == "" { // the page already says that it is sold out
			told.Add(1)
			return
		}
		answer := b.Post("/night-flight/checkout", b.Form(page, b.Card(approves)), asJSON).JSON(t)
		if answer["go"] != nil {
			sold.Add(1)
		} else if notice, _ := answer["notice"].(string); strings.Contains(notice, "Nothing was charged") {
			told.Add(1)
		}
	})
	assert.Equal(t, int64(10), sold.Load())
	assert.Equal(t, int64(190), told.Load(), "everybody else is told")
	books.hold(t, 10, 10)
}

// crowd does something many times, 24 at once.
func crowd(n int, do func(int)) {
	var wait sync.WaitGroup
	gate := make(chan struct{}, 24)
	for i := range n {
		wait.Add(1)
		gate <- struct{}{}
		go func() {
			defer wait.Done()
			defer func() { <-gate }()
			do(i)
		}()
	}
	wait.Wait()
}

func TestPayPressedTwentyTimesChargesOnce(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	var mu sync.Mutex
	var kinds []string
	crowd(20, func(int) {
		answer := b.Post("/night-flight/checkout", b.Form(page, b.Card(approves)), asJSON).JSON(t)
		mu.Lock()
		defer mu.Unlock()
		if to, ok := answer["go"].(string); ok {
			kinds = append(kinds, strings.SplitN(to, "?", 2)[0][:7])
		} else {
			kinds = append(kinds, fmt.Sprint(answer["notice"])[:23])
		}
	})
	for _, k := range kinds {
		assert.Contains(t, []string{"/quiver", "/orders", "You have already ordered"[:23]}, k, "every press is told something true")
	}
	books.hold(t, 1, 1)
}

func TestASecondPurchaseMustBeMeant(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	require.NotNil(t, b.Buy(approves)["go"])
	again := b.Buy(approves) // another tab, or the back button
	assert.Contains(t, again["notice"], "You have already ordered this: order")
	books.hold(t, 1, 1)
	page := b.Get("/night-flight")
	form := b.Form(page, b.Card(approves))
	form.Set("again", again["again"].(string))
	require.NotNil(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"])
	books.hold(t, 2, 2)
	assert.NotNil(t, shop.Browser().Buy(approves)["go"], "another browser is another buyer")
}

func TestTheTillChargesAndDoesNotAnswer(t *testing.T) {
	shop, books := open(t)
	answer := shop.Browser().Buy(timesOut)
	assert.Contains(t, answer["go"], "/quiver-bag", "the charge is found, and the buyer goes on")
	books.hold(t, 1, 1)
}

func TestConfirmation(t *testing.T) {
	for _, yes := range []bool{true, false} {
		t.Run(fmt.Sprint(yes), func(t *testing.T) {
			shop, books := open(t)
			b := shop.Browser()
			at, _ := b.Buy(confirms)["go"].(string)
			require.Contains(t, at, shop.App.Origins.Till+"/confirm/")
			assert.Contains(t, b.Get(at).Body, "€51.00")
			back := b.Post(at, url.Values{"answer": {map[bool]string{true: "yes", false: "no"}[yes]}}, "")
			require.Equal(t, http.StatusSeeOther, back.Status)
			page := b.Get(back.Location)
			if yes {
				assert.Contains(t, page.Location, "/quiver-bag?order=")
				books.hold(t, 1, 1)
				return
			}
			assert.Contains(t, page.Body, "You did not confirm the payment")
			assert.Contains(t, page.Body, `href="/night-flight#checkout"`, "and can go back to try again")
			books.hold(t, 0, 0)
			assert.Contains(t, b.Buy(approves)["go"], "/quiver-bag")
			books.hold(t, 1, 1)
		})
	}
}

func TestABuyerWhoWalksAwayFromTheConfirmationIsNotCharged(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	at, _ := b.Buy(confirms)["go"].(string)
	shop.Clock.Advance(16 * time.Minute)
	n, err := shop.App.Reconcile(context.Background())
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	books.hold(t, 0, 0)
	b.Post(at, url.Values{"answer": {"yes"}}, "")
	books.hold(t, 0, 0)
}

// Without script the form is sent as it is, and the card is typed on the
// till's own page.
func TestBuyingWithoutScript(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	form := b.Form(page, "")
	form.Set("bump", "1")
	sent := b.Post("/night-flight/checkout", form, "")
	require.Equal(t, http.StatusSeeOther, sent.Status, sent.Body)
	till, err := url.Parse(sent.Location)
	require.NoError(t, err)
	typed := url.Values{"return": {till.Query().Get("return")}, "number": {approves}, "expiry": {"08/31"}, "code": {"123"}}
	wrong := url.Values{"return": typed["return"], "number": {"1234"}}
	assert.Contains(t, b.Post(shop.App.Origins.Till+"/card", wrong, "").Body, "card number is not right")
	back := b.Post(shop.App.Origins.Till+"/card", typed, "")
	require.Equal(t, http.StatusSeeOther, back.Status, back.Body)
	for range 3 { // reloading the return charges nothing more
		again := b.Get(back.Location)
		require.Equal(t, http.StatusSeeOther, again.Status)
		onward := b.Get(again.Location)
		assert.Contains(t, onward.Location, "/quiver-bag?order=")
	}
	books.hold(t, 1, 1)
	assert.Equal(t, int64(5800), shop.Number(`SELECT total_minor FROM orders ORDER BY number DESC LIMIT 1`), "with the bump")
}

// A buyer who went to the till's card page may come back and change the order.
func TestComingBackFromTheTillsPageToChangeTheOrder(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	form := b.Form(page, "")
	first := b.Post("/night-flight/checkout", form, "")
	form.Set("bump", "1")
	second := b.Post("/night-flight/checkout", form, "")
	require.Contains(t, second.Location, "/card?return=")
	assert.Equal(t, first.Location, second.Location, "it is the same order")
	assert.Equal(t, int64(1), shop.Number(`SELECT reserved FROM variants WHERE id = 'ember'`), "and reserves once")
	back := shop.App.Origins.Shop + strings.TrimPrefix(mustUnescape(t, second.Location), shop.App.Origins.Till+"/card?return="+shop.App.Origins.Shop)
	token := b.Card(approves)
	b.Get(back + "?token=" + token)
	books.hold(t, 1, 1)
	assert.Equal(t, int64(5800), shop.Number(`SELECT total_minor FROM orders ORDER BY number DESC LIMIT 1`), "what was asked for last")
}

func mustUnescape(t *testing.T, s string) string {
	t.Helper()
	out, err := url.QueryUnescape(s)
	require.NoError(t, err)
	return out
}

func TestBadInputIsToldBesideItsFieldAndKept(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	for field, value := range map[string]string{"name": "", "email": "ines@", "street": "7", "postcode": "<b>", "town": "", "country": "Atlantis"} {
		form := b.Form(page, b.Card(approves))
		form.Set(field, value)
		form.Set("bump", "1")
		errors, _ := b.Post("/night-flight/checkout", form, asJSON).JSON(t)["errors"].(map[string]any)
		assert.NotEmpty(t, errors[field], field)
		form.Set("token", "")
		full := b.Post("/night-flight/checkout", form, "")
		assert.Equal(t, http.StatusUnprocessableEntity, full.Status)
		assert.Contains(t, full.Body, `id="co-`+field+`-say"><span class="bad" data-error="`+field+`">`+escaped(fmt.Sprint(errors[field])))
		if field != "street" {
			assert.Contains(t, full.Body, `value="7 Lee Lane"`, "what was typed well is kept")
		}
		assert.Contains(t, full.Body, `name="bump" value="1" checked`)
	}
	books.hold(t, 0, 0)
}

func escaped(s string) string {
	return strings.NewReplacer("&", "&amp;", "'", "&#39;", "+", "&#43;", "<", "&lt;").Replace(s)
}

func TestFormsOfOtherSitesAreRefused(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	for header, value := range map[string]string{"Origin": "https://elsewhere.example", "Sec-Fetch-Site": "cross-site"} {
		req, err := http.NewRequest(http.MethodPost, shop.App.Origins.Shop+"/night-flight/checkout", strings.NewReader(b.Form(page, b.Card(approves)).Encode()))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		req.Header.Set(header, value)
		assert.Equal(t, http.StatusForbidden, b.Do(req).Status)
	}
	books.hold(t, 0, 0)
}

// untilFriday is how long the demo's deadline is away.
func untilFriday(t *testing.T, shop *testkit.Shop) time.Duration {
	t.Helper()
	var at time.Time
	require.NoError(t, shop.Store.Pool.QueryRow(context.Background(), `SELECT at FROM deadlines`).Scan(&at))
	return at.Sub(shop.Clock.Now())
}

// What is asked follows from the whole cart: a digital product needs no address,
// with a bump that goes by parcel it does, and the bump says so beside its price.
func TestAParcelIsNeverSoldWithoutAnAddress(t *testing.T) {
	shop, _ := open(t)
	shop.Exec(`UPDATE products SET form = 'digital' WHERE id = (SELECT product_id FROM variants WHERE id = 'ember')`)
	b := shop.Browser()
	page := b.Get("/night-flight")
	assert.Contains(t, page.Body, `name="street"`, "without script it is asked wherever the bump could bring a parcel")
	assert.Contains(t, page.Body, `data-sent=""`)
	assert.Contains(t, page.Body, "It comes by parcel, which needs an address.", "at this total nothing is charged for it")

	form := b.Form(page, b.Card(approves))
	for _, name := range []string{"street", "postcode", "town", "country"} {
		form.Del(name)
	}
	form.Set("bump", "1")
	asked := b.Post("/night-flight/checkout/fields", form, asJSON).JSON(t)
	assert.Contains(t, asked["errors"], "street")
	refused := b.Post("/night-flight/checkout", form, asJSON).JSON(t)
	assert.Contains(t, refused["errors"], "street")
	assert.Nil(t, refused["go"])
	quoted := b.Post("/night-flight/quote", form, asJSON).JSON(t)
	assert.Equal(t, true, quoted["sent"])

	form.Del("bump")
	assert.Equal(t, false, b.Post("/night-flight/quote", form, asJSON).JSON(t)["sent"])
	assert.NotNil(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"], "nothing travels, nothing is asked")
}
