package shopfront_test

import (
	"context"
	"maps"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/app/orders"
	m "chrysagon/core/manuscript"
	"chrysagon/core/order"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var allWays = m.Fields{"account": "yes", "transfer": "yes", "collection": "yes"}

// together are fields and more fields.
func together(list ...m.Fields) m.Fields {
	out := m.Fields{}
	for _, fields := range list {
		maps.Copy(out, fields)
	}
	return out
}

// paidBy sends the form of the demo's sales page with a way to pay, as its script does.
func paidBy(t *testing.T, b *testkit.Browser, way string, more ...string) map[string]any {
	t.Helper()
	form := b.Form(b.Get("/night-flight"), "")
	form.Set("way", way)
	for i := 0; i+1 < len(more); i += 2 {
		form.Set(more[i], more[i+1])
	}
	if seen, ok := b.Post("/night-flight/quote", form, asJSON).JSON(t)["seen"].(string); ok {
		form.Set("seen", seen)
	}
	return b.Post("/night-flight/checkout", form, asJSON).JSON(t)
}

// orderAt is the order whose page stands at an address.
func orderAt(shop *testkit.Shop, at any) (id, state string) {
	token, _ := strings.CutPrefix(at.(string), "/orders/")
	_ = shop.Store.DB.Raw("SELECT id, state FROM orders WHERE token = ?", token).Row().Scan(&id, &state)
	return id, state
}

const reservedSQL = `SELECT coalesce(sum(reserved), 0) FROM variants`

// A transfer: the goods are held, the buyer is told how to pay and by when, the owner
// says that the money came, and only then is it a sale.
func TestATransferIsConfirmedByTheOwner(t *testing.T) {
	shop, books := open(t)
	shop.Set("night-flight", "order-form", allWays)
	b := shop.Browser()
	at, _ := paidBy(t, b, "transfer", "bump", "1")["go"].(string)
	require.Regexp(t, `^/orders/[a-z0-9]+$`, at)
	id, state := orderAt(shop, at)
	assert.Equal(t, "awaited", state)
	assert.EqualValues(t, 2, shop.Number(reservedSQL), "the kite and the bump are held")
	page := b.Get(at).Words()
	for _, has := range []string{"Your order waits for your payment", "€58.00", "IBAN PT50 0002 0123 1234 5678 9015 4", "until the end of Monday 30 November", "A mail to ines@example.org says the same", "To pay"} {
		assert.Contains(t, page, has)
	}
	reference := regexp.MustCompile(`RF\d\d( [A-Z0-9]{1,4}\b)+`).FindString(page)
	assert.True(t, order.ReferenceHolds(reference), reference)
	assert.Contains(t, shop.Browser().Get(at).Words(), reference, "the link of the mail opens it in any browser")
	assert.NotContains(t, shop.Browser().Get(at).Body, "Give this order up", "but only its own can give it up")
	assert.Zero(t, shop.Number(`SELECT count(*) FROM till.charges WHERE key = (SELECT key FROM payments WHERE order_id = $1)`, id))

	d := testkit.SignIn(t, shop)
	assert.Contains(t, d.Get(d.At("/orders?standing=awaited")).Body, "by transfer, held until Monday 30 November")
	assert.Contains(t, d.Get(d.At("/orders?q="+url.QueryEscape(strings.ToLower(reference)))).Body, id, "found by what stands on the account’s statement")
	assert.Contains(t, d.Get(d.At("/orders/"+id)).Body, "Has the transfer come?")
	require.Equal(t, http.StatusNoContent, d.Send("/orders/"+id+"/came", url.Values{}).Status)
	assert.EqualValues(t, 5800, shop.Number(`SELECT total_minor FROM orders WHERE id = $1 AND state = 'paid' AND number IS NOT NULL AND handling = 'to_pack'`, id))
	assert.Equal(t, http.StatusNotFound, d.Send("/orders/"+id+"/came", url.Values{}).Status, "it cannot be confirmed twice")
	assert.Equal(t, http.StatusNotFound, d.Send("/orders/"+id+"/give-up", url.Values{}).Status)
	require.NoError(t, shop.App.Selling.TakeOut(t.Context()))
	assert.Zero(t, shop.Number(reservedSQL))
	orders, stock, _ := books.read()
	assert.EqualValues(t, 1, orders-books.orders)
	assert.EqualValues(t, 1, books.stock-stock)
	kinds := []string{}
	require.NoError(t, shop.Store.DB.Raw("SELECT kind FROM mails WHERE order_id = ? ORDER BY kind", id).Scan(&kinds).Error)
	assert.Equal(t, []string{"awaits", "confirmation"}, kinds)
	assert.Contains(t, d.Get(d.At("/orders/"+id)).Body, "was paid by transfer")
	assert.Contains(t, shop.Browser().Get(at).Words(), "Paid on")
}

// Money that does not come: the goods go back to the stock at the end of the day that was
// said, not before, the buyer is told, and nothing can be confirmed any more.
func TestATransferThatDoesNotCome(t *testing.T) {
	shop, books := open(t)
	shop.Set("night-flight", "order-form", allWays)
	b := shop.Browser()
	at, _ := paidBy(t, b, "transfer")["go"].(string)
	id, _ := orderAt(shop, at)
	var until time.Time
	require.NoError(t, shop.Store.DB.Raw("SELECT held_until FROM payments WHERE order_id = ?", id).Scan(&until).Error)
	shop.Clock.Advance(until.Sub(testkit.Start) - time.Second)
	_, err := shop.App.Reconcile(context.Background())
	require.NoError(t, err)
	_, state := orderAt(shop, at)
	assert.Equal(t, "awaited", state, "in the last second it is held")
	shop.Clock.Advance(2 * time.Second)
	_, err = shop.App.Reconcile(context.Background())
	require.NoError(t, err)
	_, state = orderAt(shop, at)
	assert.Equal(t, "released", state)
	books.hold(t, 0, 0)
	assert.EqualValues(t, 1, shop.Number(`SELECT count(*) FROM mails WHERE order_id = $1 AND kind = 'lapsed'`, id))
	assert.Contains(t, b.Get(at).Body, "The money did not come in time.")
	_, err = shop.App.Reconcile(context.Background())
	require.NoError(t, err)
	assert.EqualValues(t, 1, shop.Number(`SELECT count(*) FROM mails WHERE order_id = $1 AND kind = 'lapsed'`, id), "told once")
	require.ErrorContains(t, shop.App.Orders.Confirm(t.Context(), "Marta Venn", id), "waits for no payment")
}

// A buyer who would rather pay otherwise gives the order up, and nobody else can.
func TestABuyerPaysOtherwise(t *testing.T) {
	shop, books := open(t)
	shop.Set("night-flight", "order-form", allWays)
	b := shop.Browser()
	at, _ := paidBy(t, b, "transfer")["go"].(string)
	again := paidBy(t, b, "card")
	assert.Contains(t, again["notice"], "your order waits for your payment")
	assert.NotEqual(t, http.StatusSeeOther, shop.Browser().Post(at+"/otherwise", url.Values{}, "").Status)
	assert.EqualValues(t, 1, shop.Number(reservedSQL))
	back := b.Post(at+"/otherwise", url.Values{}, "")
	assert.Equal(t, "/night-flight#checkout", back.Location)
	assert.Zero(t, shop.Number(reservedSQL))
	assert.NotEqual(t, http.StatusSeeOther, b.Post(at+"/otherwise", url.Values{}, "").Status, "once")
	assert.Contains(t, b.Buy(approves)["go"], "/quiver-bag?order=")
	books.hold(t, 1, 1)
}

// Whoever means to order twice says so, and both orders wait.
func TestTwoOrdersCanWait(t *testing.T) {
	shop, _ := open(t)
	shop.Set("night-flight", "order-form", allWays)
	b := shop.Browser()
	paidBy(t, b, "transfer")
	told := paidBy(t, b, "transfer")
	token, _ := told["again"].(string)
	require.NotEmpty(t, token, told)
	assert.NotNil(t, paidBy(t, b, "transfer", "again", token)["go"])
	assert.EqualValues(t, 2, shop.Number(`SELECT count(*) FROM orders WHERE state = 'awaited'`))
}

// What is collected is not sent: no delivery is paid, no address is asked, and the press
// that says it was paid says that it was handed over.
func TestWhatIsCollectedIsNotSent(t *testing.T) {
	shop, _ := open(t)
	form := lists(t, shop)
	shop.Set(pageAt(shop, "spares"), form, allWays)
	b := shop.Browser()
	typed := b.Form(b.Get("/spares"), "")
	typed.Set("put:repair", "1")
	quote := func(way string) map[string]any {
		typed.Set("way", way)
		return b.Post("/spares/quote", typed, asJSON).JSON(t)
	}
	sent, fetched := quote("card"), quote("collection")
	assert.NotEqual(t, sent["total"], fetched["total"], "its delivery")
	assert.Equal(t, "€11.00", fetched["total"])
	assert.Contains(t, fetched["totals"], "you collect it")
	assert.Equal(t, true, sent["sent"])
	assert.Equal(t, false, fetched["sent"])
	typed.Set("seen", fetched["seen"].(string))
	typed.Set("way", "card")
	told := b.Post("/spares/checkout", typed, asJSON).JSON(t)
	assert.Nil(t, told["go"], "a delivery that was not seen is not charged")
	typed.Set("way", "collection")
	for _, name := range []string{"street", "postcode", "town"} {
		typed.Del(name)
	}
	at, _ := b.Post("/spares/checkout", typed, asJSON).JSON(t)["go"].(string)
	assert.Contains(t, b.Get(at).Words(), "You fetch it and pay <b>€11.00</b> there:</p><p>4 Sailmakers’ Row, Gustwell")
	id, _ := orderAt(shop, at)
	d := testkit.SignIn(t, shop)
	whole := d.Get(d.At("/orders/" + id)).Body
	assert.Contains(t, whole, "Has it been collected?")
	assert.Contains(t, whole, "It is collected: nothing is sent.")
	require.Equal(t, http.StatusNoContent, d.Send("/orders/"+id+"/came", url.Values{}).Status)
	assert.EqualValues(t, 1100, shop.Number(`SELECT total_minor FROM orders WHERE id = $1 AND state = 'paid' AND handling = 'done'`, id))
}

// A way that the checkout does not offer, or the store has not set up, is none: nobody
// spares the delivery by writing one into the form.
func TestAWayThatIsNotOffered(t *testing.T) {
	shop, _ := open(t)
	form := lists(t, shop)
	b := shop.Browser()
	typed := b.Form(b.Get("/spares"), b.Card(approves))
	typed.Set("put:repair", "1")
	plain := b.Post("/spares/quote", typed, asJSON).JSON(t)["total"]
	for _, way := range []string{"collection", "transfer", "account", "barter", "'"} {
		typed.Set("way", way)
		assert.Equal(t, plain, b.Post("/spares/quote", typed, asJSON).JSON(t)["total"], way)
	}
	shop.Set(pageAt(shop, "spares"), form, allWays)
	require.NoError(t, shop.App.Orders.SetWays(t.Context(), orders.Ways{TransferDays: 7, CollectDays: 7}))
	shop.Forget()
	page := b.Get("/spares").Body
	assert.Contains(t, page, `name="way" value="account"`)
	assert.NotContains(t, page, `name="way" value="transfer"`)
	typed.Set("way", "collection")
	typed.Set("seen", b.Post("/spares/quote", typed, asJSON).JSON(t)["seen"].(string))
	require.Contains(t, b.Post("/spares/checkout", typed, asJSON).JSON(t)["go"], "/quiver-bag?order=")
	assert.EqualValues(t, 1, shop.Number(`SELECT count(*) FROM payments WHERE way = 'card' AND state = 'charged' AND asked_at = (SELECT max(asked_at) FROM payments)`))
	d := testkit.SignIn(t, shop)
	assert.Contains(t, d.Get(d.At("/publish")).Body, "offers to be paid by transfer, which is not set up")
	for _, bad := range []orders.Ways{{TransferDays: 0, CollectDays: 7}, {TransferDays: 7, CollectDays: 61}, {TransferTo: strings.Repeat("x", 601), TransferDays: 7, CollectDays: 7}} {
		assert.Error(t, shop.App.Orders.SetWays(t.Context(), bad))
	}
}

// Led to the till's own page and back: yes is a sale, without an offer by one press since
// no card was kept; no charges nothing; and whoever closed that page is led to it again.
func TestPaidOnTheTillsOwnPage(t *testing.T) {
	for _, yes := range []bool{true, false} {
		shop, books := open(t)
		shop.Set("night-flight", "order-form", allWays)
		b := shop.Browser()
		at, _ := paidBy(t, b, "account")["go"].(string)
		require.Contains(t, at, shop.App.Origins.Till+"/confirm/")
		assert.Contains(t, b.Get(at).Body, "from your account")
		again, _ := paidBy(t, b, "account")["go"].(string)
		require.Regexp(t, `^/orders/`, again)
		assert.Equal(t, at, b.Get(again).Location, "what was interrupted is found again")
		back := b.Post(at, url.Values{"answer": {map[bool]string{true: "yes", false: "no"}[yes]}}, "")
		page := b.Get(back.Location)
		if yes {
			assert.Contains(t, page.Location, "/thank-you?order=")
			books.hold(t, 1, 1)
		} else {
			assert.Contains(t, page.Body, "You did not confirm the payment")
			books.hold(t, 0, 0)
		}
	}
}

// What came by hand goes back by hand: the till is not asked.
func TestWhatCameByHandGoesBackByHand(t *testing.T) {
	shop, _ := open(t)
	shop.Set("night-flight", "order-form", allWays)
	at := paidBy(t, shop.Browser(), "transfer")["go"]
	id, _ := orderAt(shop, at)
	require.NoError(t, shop.App.Orders.Confirm(t.Context(), "Marta Venn", id))
	_, err := shop.App.Orders.Refund(t.Context(), "Marta Venn", orders.RefundAsk{OrderID: id, Way: "whole", Restock: true})
	require.NoError(t, err)
	assert.EqualValues(t, 5100, shop.Number(`SELECT refunded_minor FROM orders WHERE id = $1`, id))
	assert.Zero(t, shop.Number(`SELECT count(*) FROM till.refunds`))
}

// A program that died between taking an order and holding it leaves nothing held.
func TestAnOrderThatWasNotHeldIsGivenBack(t *testing.T) {
	shop, books := open(t)
	shop.Set("night-flight", "order-form", allWays)
	at := paidBy(t, shop.Browser(), "transfer")["go"]
	id, _ := orderAt(shop, at)
	shop.Exec(`UPDATE payments SET state = 'asked', held_until = NULL WHERE order_id = $1`, id)
	shop.Exec(`UPDATE orders SET state = 'paying' WHERE id = $1`, id)
	shop.Clock.Advance(time.Minute)
	_, err := shop.App.Reconcile(context.Background())
	require.NoError(t, err)
	books.hold(t, 0, 0)
}

// By whatever way: every form comes to what it comes to by card, but for the delivery of
// what is collected.
func TestEveryFormByEveryWay(t *testing.T) {
	for name, form := range checkoutForms {
		if form.at != "" {
			continue
		}
		t.Run(name, func(t *testing.T) {
			shop, _ := open(t)
			shop.Set("night-flight", "order-form", together(form.fields, allWays))
			for _, way := range []string{"transfer", "collection"} {
				var more []string
				for f, v := range form.typed {
					more = append(more, f, v)
				}
				at := paidBy(t, shop.Browser(), way, more...)["go"]
				require.NotNil(t, at, way)
				id, _ := orderAt(shop, at)
				require.NoError(t, shop.App.Orders.Confirm(t.Context(), "Marta Venn", id))
				assert.Equal(t, form.total, shop.Number(`SELECT total_minor FROM orders WHERE id = $1`, id), way)
				assert.Equal(t, form.lines, linesOf(shop), way)
			}
		})
	}
}
