package shopfront_test

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func atUpsell(t *testing.T, shop *testkit.Shop, card string) (*testkit.Browser, string, url.Values) {
	t.Helper()
	b := shop.Browser()
	next, _ := b.Buy(card)["go"].(string)
	page := b.Get(next)
	require.Equal(t, http.StatusOK, page.Status, page.Body)
	return b, next, url.Values{"order": {page.Hidden("order")}, "seen": {page.Hidden("seen")}}
}

func TestAnUpsellLinkIsGoodOnceAndInItsBrowser(t *testing.T) {
	shop, books := open(t)
	b, link, form := atUpsell(t, shop, approves)
	stranger, _, _ := atUpsell(t, shop, approves)
	books.hold(t, 2, 2)

	for name, refused := range map[string]testkit.Page{
		"another browser's order": stranger.Post("/quiver-bag/accept", form, ""),
		"a forged order":          b.Post("/quiver-bag/accept", url.Values{"order": {"made-up"}, "seen": form["seen"]}, ""),
		"no order":                b.Post("/quiver-bag/accept", url.Values{}, ""),
		"no cookies":              shop.Browser().Post("/quiver-bag/accept", form, ""),
		"not an upsell":           b.Post("/night-flight/accept", form, ""),
	} {
		assert.GreaterOrEqual(t, refused.Status, 400, name)
		assert.Regexp(t, "Nothing was charged|nothing to accept", refused.Body, name)
	}
	books.hold(t, 2, 2)

	crowd(20, func(int) {
		sent := b.Post("/quiver-bag/accept", form, "")
		assert.Contains(t, sent.Location, "/thank-you", "each press leads on")
	})
	assert.Contains(t, b.Get(link).Location, "/thank-you", "the link, used again, leads on")
	b.Post("/quiver-bag/decline", form, "")
	assert.Contains(t, b.Get(link).Location, "/thank-you")
	_, _, charges := books.read()
	assert.Equal(t, int64(3), charges-books.charge, "two orders and one upsell")
	assert.Equal(t, int64(7480), shop.Number(`SELECT total_minor FROM orders WHERE token = $1`, form.Get("order")))
}

func TestAnUpsellDeclinedByTheBankLeavesTheOrder(t *testing.T) {
	shop, books := open(t)
	b, _, form := atUpsell(t, shop, declinesKept)
	refused := b.Post("/quiver-bag/accept", form, "")
	assert.Equal(t, http.StatusConflict, refused.Status)
	assert.Contains(t, refused.Body, "Your order stands as it was")
	books.hold(t, 1, 1)
	assert.Contains(t, b.Post("/quiver-bag/decline", form, "").Location, "/thank-you")
}

func TestAnUpsellWhoseAnswerIsLostIsChargedOnce(t *testing.T) {
	shop, books := open(t)
	b, _, form := atUpsell(t, shop, timesOut)
	sent := b.Post("/quiver-bag/accept", form, "")
	assert.Contains(t, sent.Location, "/thank-you")
	assert.Contains(t, b.Get(sent.Location).Body, "Quiver bag")
	books.hold(t, 1, 2)
}

func TestAnUpsellClosesAfterAnHour(t *testing.T) {
	shop, books := open(t)
	b, link, form := atUpsell(t, shop, approves)
	shop.Clock.Advance(time.Hour + time.Second)
	late := b.Post("/quiver-bag/accept", form, "")
	assert.Contains(t, late.Body, "That time is over")
	assert.Contains(t, b.Get(link).Location, "/thank-you")
	books.hold(t, 1, 1)
}

// crash stands in for a program that dies at a point of a charge: from then on
// nothing it asks is answered.
type crash struct {
	ports.Payments
	before bool // dies before the till hears of it
}

func (c crash) Charge(ctx context.Context, r ports.ChargeRequest) (ports.ChargeAnswer, error) {
	if !c.before {
		if _, err := c.Payments.Charge(ctx, r); err != nil {
			return ports.ChargeAnswer{}, err
		}
	}
	return ports.ChargeAnswer{}, context.Canceled
}

func (crash) Conclude(context.Context, string) (ports.ChargeAnswer, error) {
	return ports.ChargeAnswer{}, context.Canceled
}

func TestACrashAroundTheCharge(t *testing.T) {
	for name, c := range map[string]struct {
		before bool
		orders int64
	}{"before the till charged": {true, 0}, "after the till charged": {false, 1}} {
		t.Run(name, func(t *testing.T) {
			shop, books := open(t)
			till := shop.App.Payments
			b := shop.Browser()
			shop.App.Payments = crash{till, c.before}
			at, _ := b.Buy(approves)["go"].(string)
			require.Contains(t, at, "/orders/")
			waiting := b.Get(at)
			assert.Contains(t, waiting.Body, "Your payment is on its way")
			assert.Equal(t, "2", waiting.Header.Get("Refresh"), "it looks again without script")
			shop.App.Payments = till // the program is started again

			n, err := shop.App.Reconcile(context.Background())
			require.NoError(t, err)
			assert.Zero(t, n, "a charge that may still be under way is left alone")
			shop.Clock.Advance(31 * time.Second)
			for range 3 {
				_, err = shop.App.Reconcile(context.Background())
				require.NoError(t, err)
			}
			books.hold(t, c.orders, c.orders)
			page := b.Get(at)
			if c.orders == 1 {
				assert.Contains(t, page.Location, "/quiver-bag?order=")
			} else {
				assert.Contains(t, page.Body, "nothing was charged")
				assert.Contains(t, page.Body, "Back to the checkout")
			}
		})
	}
}

// The buyer need not wait for the job: their own page asks the till.
func TestTheBuyersPageSettlesByItself(t *testing.T) {
	shop, books := open(t)
	till := shop.App.Payments
	b := shop.Browser()
	shop.App.Payments = crash{till, false}
	at, _ := b.Buy(approves)["go"].(string)
	shop.App.Payments = till
	shop.Clock.Advance(13 * time.Second)
	assert.Contains(t, b.Get(at).Location, "/quiver-bag?order=")
	books.hold(t, 1, 1)
}

func TestWebhooksAreVerifiedAndActedOnOnce(t *testing.T) {
	shop, books := open(t)
	ctx := context.Background()
	till := shop.App.Payments
	b := shop.Browser()
	shop.App.Payments = crash{till, false}
	at, _ := b.Buy(approves)["go"].(string)

	key := ""
	require.NoError(t, shop.Store.Pool.QueryRow(ctx, `SELECT key FROM payments WHERE state = 'asked'`).Scan(&key))
	forged := `{"type":"charge.charged","data":{"key":"` + key + `","id":"x","state":"charged"}}`
	req, err := http.NewRequest(http.MethodPost, shop.App.Origins.Shop+"/hooks/till", strings.NewReader(forged))
	require.NoError(t, err)
	req.Header.Set("webhook-id", "msg_1")
	req.Header.Set("webhook-timestamp", "1")
	req.Header.Set("webhook-signature", "v1,AAAA")
	assert.Equal(t, http.StatusUnauthorized, b.Do(req).Status)
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM payments WHERE state = 'asked'`))

	// Signatures carry a timestamp that the verifier holds against the real clock.
	shop.Hooks.Ledger.Clock = time.Now
	shop.Exec(`UPDATE till.outbox SET next_at = now() - interval '1 hour'`)
	for range 20 {
		_, err := shop.Hooks.Deliver(ctx)
		require.NoError(t, err)
		shop.Exec(`UPDATE till.outbox SET done = false, tries = 0, next_at = now() - interval '1 hour'`)
	}
	books.hold(t, 1, 1)
	assert.Contains(t, b.Get(at).Location, "/quiver-bag?order=")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM mails`))
}
