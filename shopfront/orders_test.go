package shopfront_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"strings"
	"testing"
	"time"

	"chrysagon/app/orders"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An order is sent once, with one mail that names carrier and number; it can be taken
// back and sent again, and each step stands in its timeline.
func TestAnOrderIsSentAndTakenBack(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	id := bought(t, shop)
	post := &letters{}
	shop.App.Post = post
	send := orders.Sending{Carrier: "Coast Parcel", Number: "CP1PT", Mail: true}
	for range 2 {
		_, err := shop.App.Orders.SendOrders(ctx, "Marta", []string{id}, send)
		require.NoError(t, err)
	}
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM mails WHERE kind = 'sent'"))
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM parcels WHERE order_id = $1", id))
	for range 2 { // a job that a kill had begun twice
		require.NoError(t, shop.App.OrderMail.Deliver(ctx, mailOf(t, shop, "sent")))
	}
	require.Len(t, post.sent, 1)
	assert.Contains(t, post.sent[0].Text, "It travels with Coast Parcel.\n\nThe parcel’s number is CP1PT.")
	assert.Contains(t, post.sent[0].Text, "1 × Ember 180")
	done, err := shop.App.Orders.MoveOrders(ctx, "Marta", []string{id}, order.Reopen)
	require.NoError(t, err)
	assert.Equal(t, 1, done.Done)
	shop.Clock.Advance(time.Minute)
	_, err = shop.App.Orders.SendOrders(ctx, "Marta", []string{id}, orders.Sending{})
	require.NoError(t, err)
	shop.Clock.Advance(time.Minute)
	_, err = shop.App.Orders.MoveOrders(ctx, "Marta", []string{id}, order.Finish)
	require.NoError(t, err)
	require.NoError(t, shop.App.Orders.NoteOrder(ctx, "Marta", id, "Knot the tail before packing."))
	w, err := shop.App.Orders.WholeOrder(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "done", w.Standing)
	var all strings.Builder
	for _, h := range w.Timeline {
		all.WriteString(h.What + "\n")
	}
	for _, say := range []string{"Marked as done.", "Handed over.", "Put back among those to pack.", "Handed over to Coast Parcel, CP1PT.", "was paid by card, for the order.", "Knot the tail"} {
		assert.Contains(t, all.String(), say)
	}
	require.ErrorIs(t, shop.App.Orders.NoteOrder(ctx, "Marta", id, "  "), refusal.ErrInvalid)
	_, err = shop.App.Orders.SendOrders(ctx, "Marta", []string{id, "past-1001"}, orders.Sending{Number: "CP2PT"})
	require.ErrorIs(t, err, refusal.ErrInvalid, "one number for two parcels")
}

// Orders are found by number, name, email, goods, standing, campaign and day, and the
// list's standing is the one that core computes.
func TestOrdersAreFound(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	id := bought(t, shop)
	rows, err := shop.App.Orders.Orders(ctx, orders.OrderQuery{})
	require.NoError(t, err)
	require.Equal(t, id, rows[0].ID, "the newest first")
	for i := 1; i < len(rows); i++ {
		assert.False(t, rows[i].At.After(rows[i-1].At))
	}
	counts, err := shop.App.Orders.CountOrders(ctx, orders.OrderQuery{})
	require.NoError(t, err)
	assert.Equal(t, len(rows), counts[""].Orders)
	first := rows[0]
	for what, q := range map[string]orders.OrderQuery{
		"number": {Find: "#1067"}, "name": {Find: "ines"}, "email": {Find: "INES@example"}, "goods": {Find: "Ember 180", From: "2026-11-23", To: "2026-11-23"},
		"SKU": {Find: "GK-EMB-180", Number: 1}, "day": {From: "2026-11-23", Number: 1}, "campaign": {Campaign: "frost-lanterns", Number: 1}, "standing": {Standing: "to_pack", Number: 1},
	} {
		found, err := shop.App.Orders.Orders(ctx, q)
		require.NoError(t, err, what)
		require.NotEmpty(t, found, what)
		assert.Equal(t, first.ID, found[0].ID, what)
	}
	for _, none := range []orders.OrderQuery{{Find: "nobody%"}, {Find: "_"}, {Campaign: "none"}, {To: "2020-01-01"}, {Find: "'"}, {Find: "99999999999999999999"}} {
		found, err := shop.App.Orders.Orders(ctx, none)
		require.NoError(t, err)
		assert.Empty(t, found, "%+v", none)
	}
	_, err = shop.App.Orders.Orders(ctx, orders.OrderQuery{From: "yesterday"})
	require.ErrorIs(t, err, refusal.ErrInvalid)
	// Pages of the list join without a gap.
	var ids []string
	for before := ""; ; {
		page, err := shop.App.Orders.Orders(ctx, orders.OrderQuery{Before: before, Number: 7})
		require.NoError(t, err)
		for _, r := range page {
			ids = append(ids, r.ID)
			before = r.ID
		}
		if len(page) < 7 {
			break
		}
	}
	assert.Len(t, ids, len(rows))
	_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "whole"})
	require.NoError(t, err)
	rows, err = shop.App.Orders.Orders(ctx, orders.OrderQuery{})
	require.NoError(t, err)
	for _, r := range rows {
		w, err := shop.App.Orders.WholeOrder(ctx, r.ID)
		require.NoError(t, err)
		h := ""
		if w.Order.Handling != nil {
			h = *w.Order.Handling
		}
		assert.Equal(t, order.Standing(order.State(w.Order.State), order.Handling(h), r.TotalMinor, r.RefundedMinor), r.Standing)
	}
}

// What is to fetch is what orders to pack hold, less what went back.
func TestWhatIsToFetch(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	units := func(sku string) int {
		picks, err := shop.App.Orders.Picks(ctx, orders.OrderQuery{})
		require.NoError(t, err)
		for _, p := range picks {
			if p.SKU == sku {
				return p.Units
			}
		}
		return 0
	}
	before := units("GK-EMB-180")
	id := bought(t, shop)
	assert.Equal(t, before+1, units("GK-EMB-180"))
	plan, err := shop.App.Orders.PlanRefund(ctx, orders.RefundAsk{OrderID: id, Way: "whole"})
	require.NoError(t, err)
	_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "lines", Units: map[string]int{plan.Lines[0].ID(): 1}})
	require.NoError(t, err)
	assert.Equal(t, before, units("GK-EMB-180"))
	rows, err := shop.App.Orders.Orders(ctx, orders.OrderQuery{IDs: []string{id}})
	require.NoError(t, err)
	list, err := shop.App.Orders.Packing(ctx, rows)
	require.NoError(t, err)
	require.Len(t, list[0].Lines, 1, "the bag alone")
	assert.NotEmpty(t, list[0].Where)
}

// The CSV has one row an order, in documented columns, and no spreadsheet takes a
// buyer's words for a formula.
func TestOrdersAsCSV(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	id := bought(t, shop)
	shop.Exec("UPDATE orders SET name = '=HYPERLINK(1)' WHERE id = $1", id)
	var out bytes.Buffer
	require.NoError(t, shop.App.Orders.ExportOrders(ctx, orders.OrderQuery{Number: 0}, &out))
	rows, err := csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	count := shop.Number("SELECT count(*) FROM orders WHERE state IN ('paid', 'paying')")
	require.Len(t, rows, int(count)+1)
	assert.Equal(t, []string{"number", "paid_at", "standing"}, rows[0][:3])
	assert.Equal(t, []string{"1067", "2026-11-23T12:00:00Z", "to_pack", "'=HYPERLINK(1)"}, rows[1][:4])
	assert.Equal(t, "74.80", rows[1][11])
	assert.Equal(t, []string{"extra", "region", "company", "phone"}, rows[0][17:], "what came later stands behind")
	for _, row := range rows[1:] {
		assert.Contains(t, []string{"PT", "ES"}, row[8], "as documented, however it was typed")
	}
}

// The owner hears of each order once, of a day's orders in one mail, or of none.
func TestTheOwnerHearsOfOrders(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	post := &letters{}
	shop.App.Post = post
	id := bought(t, shop)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM river_job WHERE kind = 'tell_owner'"), "an upsell is no order of its own")
	for range 2 {
		require.NoError(t, shop.App.OrderMail.DeliverToOwner(ctx, id))
	}
	require.Len(t, post.sent, 1)
	assert.Equal(t, "hello@gustwell.example", post.sent[0].To)
	assert.Equal(t, "ines@example.org", post.sent[0].ReplyTo)
	assert.Contains(t, post.sent[0].Text, shop.App.Origins.Studio+"/orders/"+id)

	require.NoError(t, shop.App.OrderMail.SetOrderMail(ctx, "none"))
	bought(t, shop)
	require.NoError(t, shop.App.OrderMail.SetOrderMail(ctx, "daily"))
	bought(t, shop)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM river_job WHERE kind = 'tell_owner'"))
	due, err := shop.App.Orders.Digest(ctx)
	require.NoError(t, err)
	assert.False(t, due, "its hour has not come")
	shop.Clock.Advance(24 * time.Hour)
	for _, want := range []bool{true, false} {
		due, err = shop.App.Orders.Digest(ctx)
		require.NoError(t, err)
		assert.Equal(t, want, due)
	}
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM river_job WHERE kind = 'send_digest'"))
	require.NoError(t, shop.App.Orders.DeliverDigest(ctx, orders.SendDigest{Since: testkit.Start, Until: shop.App.Store.Now()}))
	require.Len(t, post.sent, 2)
	assert.Contains(t, post.sent[1].Subject, "orders, €")
	require.ErrorIs(t, shop.App.OrderMail.SetOrderMail(ctx, "hourly"), refusal.ErrInvalid)
}

func TestBuyersAreEverybodyWhoOrdered(t *testing.T) {
	shop, _ := open(t)
	ctx := context.Background()
	id := bought(t, shop)
	rows, count, err := shop.App.People.Buyers(ctx, "", 500)
	require.NoError(t, err)
	assert.Len(t, rows, count)
	assert.Equal(t, "ines@example.org", rows[0].Email)
	sum := int64(0)
	for _, r := range rows {
		sum += r.Minor
	}
	assert.Equal(t, shop.Number("SELECT sum(total_minor) FROM orders WHERE state = 'paid'"), sum)
	_, err = shop.App.Orders.Refund(ctx, "Marta", orders.RefundAsk{OrderID: id, Way: "amount", Amount: "10"})
	require.NoError(t, err)
	rows, count, err = shop.App.People.Buyers(ctx, "INES", 10)
	require.NoError(t, err)
	assert.Equal(t, 1, count)
	assert.Equal(t, int64(7480-1000), rows[0].Minor)
	spots, err := shop.App.Find.Find(ctx, "1067")
	require.NoError(t, err)
	assert.Equal(t, "order", spots[0].Kind)
	spots, err = shop.App.Find.Find(ctx, "GK-EMB")
	require.NoError(t, err)
	assert.Equal(t, "SKU", spots[0].Kind)
}
