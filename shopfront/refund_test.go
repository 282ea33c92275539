package shopfront_test

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"chrysagon/app/orders"
	"chrysagon/app/ports"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// bought is an order with an upsell that was just paid for.
func bought(t *testing.T, shop *testkit.Shop) string {
	t.Helper()
	b := shop.Browser()
	next, _ := b.Buy(approves)["go"].(string)
	upsell := b.Get(next)
	require.Contains(t, b.Post("/quiver-bag/accept", url.Values{"order": {upsell.Hidden("order")}, "seen": {upsell.Hidden("seen")}}, "").Location, "/thank-you")
	require.NoError(t, shop.App.Selling.TakeOut(context.Background()))
	var id string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM orders WHERE state = 'paid' ORDER BY number DESC LIMIT 1").Scan(&id).Error)
	return id
}

func back(shop *testkit.Shop) int64 {
	return shop.Number("SELECT coalesce(sum(amount_minor), 0) FROM till.refunds WHERE state = 'refunded'")
}

// A whole order goes back over both its payments, once; its units return to the
// stock, its code stays used, and results show what is kept.
func TestAWholeOrderGoesBack(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	before, err := shop.App.Results.Results(ctx, "frost-lanterns", testkit.Start.AddDate(0, 0, -30))
	require.NoError(t, err)
	stock := shop.Number("SELECT stock FROM variants WHERE id = 'ember'")
	id := bought(t, shop)
	plan, err := shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "whole", Restock: true, Mail: true, Reason: "A torn sail"})
	require.NoError(t, err)
	assert.Equal(t, int64(5100+2380), plan.Amount.Minor)
	assert.Equal(t, int64(5100+2380), back(shop))
	assert.Equal(t, int64(2), shop.Number("SELECT count(*) FROM till.refunds"), "one for each payment")
	assert.Equal(t, stock, shop.Number("SELECT stock FROM variants WHERE id = 'ember'"))
	assert.Zero(t, shop.Number("SELECT count(*) FROM variants WHERE reserved <> 0"))
	_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "whole"})
	require.ErrorIs(t, err, refusal.ErrInvalid, "nothing is left")
	after, err := shop.App.Results.Results(ctx, "frost-lanterns", testkit.Start.AddDate(0, 0, -30))
	require.NoError(t, err)
	assert.Equal(t, before.Revenue, after.Revenue, "less refunds")
	assert.Equal(t, before.Orders+1, after.Orders)
	for i := range after.Stairs {
		assert.Equal(t, before.Stairs[i].Revenue, after.Stairs[i].Revenue)
	}
	w, err := shop.App.Orders.WholeOrder(ctx, id)
	require.NoError(t, err)
	assert.Contains(t, shop.Browser().Get("/orders/"+w.Order.Token).Body, "<th scope=\"row\">Given back</th><td>−€74.80</td>", "its buyer sees it too")
	assert.True(t, shop.App.Selling.UpsellClosed(w.Order), "nothing is added any more")
	assert.Equal(t, "refunded", w.Standing)
	assert.False(t, w.Refunds)
	assert.Contains(t, w.Timeline[0].What, "went back to the buyer.")
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM mails WHERE kind = 'refund'"), "one mail for both payments")
	shop.App.Post = &letters{}
	require.NoError(t, shop.App.OrderMail.Deliver(ctx, mailOf(t, shop, "refund")))
	assert.Contains(t, text(t, shop, "refund"), "Goes back  €74.80")
	assert.Contains(t, text(t, shop, "refund"), "A torn sail")
}

// letters is a mail server that keeps what it was sent.
type letters struct {
	mu   sync.Mutex
	sent []ports.Letter
}

// Send keeps a letter.
func (l *letters) Send(_ context.Context, letter ports.Letter) error {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.sent = append(l.sent, letter)
	return nil
}

func mailOf(t *testing.T, shop *testkit.Shop, kind string) string {
	t.Helper()
	var id string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM mails WHERE kind = ?", kind).Scan(&id).Error)
	return id
}

func text(t *testing.T, shop *testkit.Shop, kind string) string {
	t.Helper()
	var text string
	require.NoError(t, shop.Store.DB.Raw("SELECT text FROM mails WHERE kind = ?", kind).Scan(&text).Error)
	return text
}

// Lines and amounts go back in parts, and together never more than was paid.
func TestPartsGoBack(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	id := bought(t, shop)
	whole, err := shop.App.Orders.PlanRefund(ctx, orders.RefundAsk{OrderID: id, Way: "whole"})
	require.NoError(t, err)
	bag := whole.Lines[len(whole.Lines)-1]
	plan, err := shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "lines", Units: map[string]int{bag.ID(): 1}})
	require.NoError(t, err)
	assert.Equal(t, int64(2380), plan.Amount.Minor)
	_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "lines", Units: map[string]int{bag.ID(): 1}})
	require.ErrorIs(t, err, refusal.ErrInvalid)
	plan, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "amount", Amount: "12,34"})
	require.NoError(t, err)
	assert.Equal(t, int64(1234), plan.Amount.Minor)
	assert.Equal(t, int64(5100-1234), plan.After.Minor)
	for _, bad := range []string{"", "-1", "38.67", "all", "1e3"} {
		_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "amount", Amount: bad})
		require.ErrorIs(t, err, refusal.ErrInvalid, bad)
	}
	_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "whole"})
	require.NoError(t, err)
	assert.Equal(t, int64(5100+2380), back(shop))
	assert.Zero(t, shop.Number("SELECT count(*) FROM payments WHERE order_id = $1 AND refunded_minor <> amount_minor", id))
}

// Pressed by many at once, an order goes back once.
func TestManyPressesGiveBackOnce(t *testing.T) {
	shop, _ := open(t)
	id := bought(t, shop)
	var wait sync.WaitGroup
	for range 16 {
		wait.Go(func() {
			_, err := shop.App.Orders.Refund(context.Background(), "Marta", orders.RefundAsk{OrderID: id, Way: "whole", Restock: true})
			if err != nil {
				assert.ErrorIs(t, err, refusal.ErrInvalid)
			}
		})
	}
	wait.Wait()
	assert.Equal(t, int64(5100+2380), back(shop))
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM refunds"))
}

// dying is a till whose program dies at a refund: before the till has heard of it, or
// after it has given the money back.
type dying struct {
	ports.Payments
	before bool
}

// Refund gives nothing back, or gives back and is not heard.
func (d dying) Refund(ctx context.Context, r ports.RefundRequest) (ports.RefundAnswer, error) {
	if !d.before {
		if _, err := d.Payments.Refund(ctx, r); err != nil {
			return ports.RefundAnswer{}, err
		}
	}
	return ports.RefundAnswer{}, errors.New("killed")
}

// Killed before or after the till gave the money back, a refund is finished by
// whoever comes up next, once, with its stock and its one mail.
func TestARefundThatWasKilledIsFinished(t *testing.T) {
	for name, before := range map[string]bool{"before the till heard of it": true, "after it gave back": false} {
		t.Run(name, func(t *testing.T) {
			shop, _ := open(t)
			ctx := context.Background()
			stock := shop.Number("SELECT stock FROM variants WHERE id = 'ember'")
			id := bought(t, shop)
			till := shop.App.Payments
			shop.App.Payments = dying{till, before}
			_, err := shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "whole", Restock: true, Mail: true})
			require.NoError(t, err)
			assert.Equal(t, int64(2), shop.Number("SELECT count(*) FROM refund_parts WHERE state = 'asked'"))
			assert.Zero(t, shop.Number("SELECT refunded_minor FROM orders WHERE id = $1", id))
			plan, err := shop.App.Orders.PlanRefund(ctx, orders.RefundAsk{OrderID: id, Way: "whole"})
			require.NoError(t, err)
			assert.Zero(t, plan.Amount.Minor, "what is about to go back cannot go back again")
			shop.App.Payments = till
			_, err = shop.App.Reconcile(ctx)
			require.NoError(t, err)
			assert.Equal(t, int64(2), shop.Number("SELECT count(*) FROM refund_parts WHERE state = 'asked'"), "a call may still be under way")
			shop.Clock.Advance(time.Minute)
			for range 2 {
				_, err = shop.App.Reconcile(ctx)
				require.NoError(t, err)
			}
			assert.Equal(t, int64(5100+2380), back(shop), "once")
			assert.Equal(t, int64(5100+2380), shop.Number("SELECT refunded_minor FROM orders WHERE id = $1", id))
			assert.Equal(t, stock, shop.Number("SELECT stock FROM variants WHERE id = 'ember'"))
			assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM mails WHERE kind = 'refund'"))
		})
	}
}

// What the till refuses is told, and can be tried again.
func TestARefundTheTillRefuses(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	id := bought(t, shop)
	shop.Exec("UPDATE till.charges SET state = 'cancelled'")
	_, err := shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "whole", Restock: true, Mail: true})
	require.NoError(t, err)
	w, err := shop.App.Orders.WholeOrder(ctx, id)
	require.NoError(t, err)
	assert.Contains(t, w.Timeline[0].What, "The till refused")
	assert.Zero(t, w.RefundedMinor)
	assert.Zero(t, shop.Number("SELECT count(*) FROM mails WHERE kind = 'refund'"))
	shop.Exec("UPDATE till.charges SET state = 'charged'")
	plan, err := shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "whole"})
	require.NoError(t, err)
	assert.Equal(t, int64(5100+2380), plan.Amount.Minor)
}

// Whether tax is in the prices or on them, and whatever sending costs, all of a
// payment goes back to the cent, with all of its tax.
func TestTaxAndDeliveryGoBackToo(t *testing.T) {
	for name, set := range map[string]string{
		"tax in the prices":        `UPDATE store SET tax_included = true`,
		"tax on the prices":        `UPDATE store SET tax_included = false`,
		"and nothing sent free":    `UPDATE store SET tax_included = false; UPDATE shipping_zones SET free_minor = NULL`,
		"with an odd price":        `UPDATE variants SET price_minor = 6837`,
		"with nothing to be taxed": `DELETE FROM tax_rates`,
	} {
		t.Run(name, func(t *testing.T) {
			shop, _ := open(t)
			ctx := context.Background()
			for _, sql := range strings.Split(set, "; ") {
				shop.Exec(sql)
			}
			shop.Forget()
			b := shop.Browser()
			require.NotNil(t, b.Buy(approves)["go"])
			var p struct {
				OrderID               string
				AmountMinor, TaxMinor int64
			}
			require.NoError(t, shop.Store.DB.Raw("SELECT order_id, amount_minor, tax_minor FROM payments ORDER BY asked_at DESC, id LIMIT 1").Scan(&p).Error)
			plan, err := shop.App.Orders.PlanRefund(ctx, orders.RefundAsk{OrderID: p.OrderID, Way: "whole"})
			require.NoError(t, err)
			assert.Equal(t, p.AmountMinor, plan.Amount.Minor)
			assert.Equal(t, p.TaxMinor, plan.Tax.Minor)
			_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: p.OrderID, Way: "amount", Amount: "0,07"})
			require.NoError(t, err)
			plan, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: p.OrderID, Way: "whole"})
			require.NoError(t, err)
			assert.Equal(t, p.AmountMinor-7, plan.Amount.Minor)
			assert.Equal(t, p.TaxMinor, shop.Number("SELECT sum(tax_minor) FROM refund_parts"))
		})
	}
}

// What is downloaded leaves nothing to pack, and once it went back, a gift with it,
// nothing to download.
func TestWhatWentBackIsNotDownloaded(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	require.NoError(t, shop.App.Pictures.KeepFile(ctx, "plans", "Seven plans.pdf", []byte("%PDF seven kites")))
	shop.Exec(`INSERT INTO offers (id, name, kind, general, detail, created_at) VALUES ('gift', 'Plans with it', 'gift', true, '{"gift_id": "plans"}', now())`)
	shop.Exec(`UPDATE products SET form = 'digital' WHERE id = (SELECT product_id FROM variants WHERE id = 'ember')`)
	shop.Follow(t)
	b := shop.Browser()
	require.NotNil(t, b.Buy(approves)["go"])
	var o struct{ ID, Token, Handling string }
	require.NoError(t, shop.Store.DB.Raw("SELECT id, token, handling FROM orders WHERE state = 'paid' ORDER BY number DESC LIMIT 1").Scan(&o).Error)
	assert.Equal(t, "done", o.Handling)
	at := regexp.MustCompile(`/orders/[a-z0-9]+/file/plans/[a-z0-9]+`).FindString(shop.Browser().Get("/orders/" + o.Token).Body)
	assert.Equal(t, "%PDF seven kites", b.Get(at).Body)
	plan, err := shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: o.ID, Way: "whole"})
	require.NoError(t, err)
	require.Len(t, plan.Lines, 2)
	assert.Equal(t, http.StatusNotFound, b.Get(at).Status)
	assert.NotContains(t, b.Get("/orders/"+o.Token).Body, "Download")
}
