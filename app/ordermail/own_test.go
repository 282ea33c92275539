package ordermail_test

import (
	"context"
	"strings"
	"testing"

	"chrysagon/app/pages"
	"chrysagon/app/ports"
	m "chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/internal/testkit"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ownWords writes all of the mails of orders in words of the store's own, and publishes them.
func ownWords(t *testing.T, shop *testkit.Shop) {
	t.Helper()
	ctx := context.Background()
	var campaign string
	require.NoError(t, shop.Store.DB.Raw("SELECT campaign_id FROM pages WHERE id = 'night-flight'").Scan(&campaign).Error)
	var last string
	for _, tpl := range all.OrderMails() {
		d, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: campaign, Purpose: tpl.Purpose, Name: purpose.Of(tpl.Purpose).Title, Layout: "bare", Template: tpl.Name})
		require.NoError(t, err)
		require.Empty(t, faults)
		last = d.ID
	}
	require.NotEmpty(t, last)
	shop.Write(campaign)
	shop.Set("night-flight", "go", m.Fields{"label": "Send me my lantern kite"})
}

// In the owner's words, what is computed stays computed: lines, sums, the way to pay, the
// parcel, what goes back. The thank-you page names the mail as it comes.
func TestAnOrdersMailsInOwnWords(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	post := &pouch{}
	shop.App.Post = post
	ownWords(t, shop)
	require.NotNil(t, shop.Browser().Buy("9200 0000 0000 0017")["go"])
	id := shop.Text("SELECT id FROM orders WHERE state = 'paid' ORDER BY paid_at DESC, number DESC LIMIT 1")
	number := shop.Text("SELECT number::text FROM orders WHERE id = $1", id)
	shop.Exec("DELETE FROM mails WHERE order_id <> $1", id)
	shop.Exec("INSERT INTO parcels (id, order_id, carrier, number, sent_at, sent_by) VALUES ('p1', $1, 'Coast Post', 'CP 77', $2, 'Marta')", id, shop.Clock.Now())
	shop.Exec("INSERT INTO refunds (id, order_id, asked_at, asked_by, reason, restock, mail) VALUES ('r1', $1, $2, 'Marta', 'The line was frayed.', false, true)", id, shop.Clock.Now())
	shop.Exec("INSERT INTO refund_parts (refund_id, payment_id, key, state, amount_minor, tax_minor, settled_at) SELECT 'r1', id, 'k1', 'refunded', 500, 0, $2 FROM payments WHERE order_id = $1", id, shop.Clock.Now())
	for kind, mail := range map[string]string{"sent": "p1", "refund": "r1", "download": "d1", "awaits": "a1", "lapsed": "l1"} {
		shop.Exec("INSERT INTO mails (id, order_id, kind, sender, subject) VALUES ($1, $2, $3, 'x', 'The plain subject')", mail, id, kind)
	}
	says := map[string][]string{
		"confirmation": {"1 × Ember 180, with lantern and line", "€51.00", "It goes to:", "7 Lee Lane", "Paid", "/orders/", "hello@gustwell.example"},
		"sent":         {"1 × Ember 180", "It travels with Coast Post.", "CP 77", "It goes to:"},
		"refund":       {"€5.00", "card it was paid with", "Reason: The line was frayed."},
		"download":     {"/orders/"}, "awaits": {"To pay", "€51.00", "It is paid meanwhile."}, "lapsed": {"You owe nothing"},
	}
	// sent delivers a kind of mail, and holds it to what every one of them says.
	sent := func(kind string) ports.Letter {
		post.letters = nil
		require.NoError(t, shop.App.OrderMail.Deliver(ctx, shop.Text("SELECT id FROM mails WHERE order_id = $1 AND kind = $2", id, kind)))
		require.Len(t, post.letters, 1, kind)
		l := post.letters[0]
		for _, body := range []string{l.Text, l.HTML} {
			assert.Contains(t, body, "Gustwell Kiteworks, owner Marta Venn", kind)
			for _, words := range says[kind] {
				assert.Contains(t, strings.ReplaceAll(body, "you owe nothing", "You owe nothing"), words, kind)
			}
			assert.NotContains(t, body, "{order", kind)
			assert.NotContains(t, body, "{paid", kind)
			assert.NotContains(t, body, "Fewer letters", "it is owed, and nobody can end it")
		}
		assert.Contains(t, l.HTML, `class="in ink"`, "in the house's style")
		assert.Empty(t, l.Unsubscribe)
		return l
	}
	for kind := range says {
		l := sent(kind)
		assert.Contains(t, l.Text, "In our own words", kind)
		assert.Contains(t, l.HTML, "In our own words", kind)
	}
	assert.Equal(t, "Order "+number+": we have it", shop.Text("SELECT subject FROM mails WHERE order_id = $1 AND kind = 'confirmation'", id))

	// Set aside, the program's own words go out again, with all that is computed.
	shop.Exec("UPDATE pages SET aside_at = now() WHERE by_mail")
	shop.Exec("UPDATE mails SET sent_at = NULL")
	for kind := range says {
		l := sent(kind)
		assert.NotContains(t, l.Text+l.HTML, "In our own words", kind)
		assert.Contains(t, l.Text, shop.App.Origins.Shop+"/terms", kind)
	}
}

// A buyer's name is no mark-up in the owner's words either.
func TestABuyersNameStaysANameInOwnWords(t *testing.T) {
	shop := testkit.Open(t)
	post := &pouch{}
	shop.App.Post = post
	ownWords(t, shop)
	b := shop.Browser()
	form := b.Form(b.Get("/night-flight"), b.Card("9200 0000 0000 0017"))
	form.Set("name", `Ines <b>{order}</b> {name|x}`)
	require.NotNil(t, b.Post("/night-flight/checkout", form, "application/json").JSON(t)["go"])
	require.NoError(t, shop.App.OrderMail.Deliver(context.Background(), shop.Text("SELECT id FROM mails ORDER BY id DESC LIMIT 1")))
	require.Len(t, post.letters, 1)
	assert.NotContains(t, post.letters[0].HTML, "<b>{order}")
	assert.False(t, strings.ContainsAny(post.letters[0].Subject, "\r\n"))
}
