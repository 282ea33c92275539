package shopfront_test

import (
	"context"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"chrysagon/app/orders"
	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var fileLink = regexp.MustCompile(`/orders/[a-z0-9]+/file/plans/[a-z0-9]+`)

// plansBought buys the plans and answers with the ID of the order, its page, and the link by
// which they are downloaded.
func plansBought(t *testing.T, shop *testkit.Shop, b *testkit.Browser) (id, page, link string) {
	t.Helper()
	require.NoError(t, shop.App.Pictures.KeepFile(context.Background(), "plans", "Seven plans.pdf", []byte("%PDF seven kites")))
	shop.Set("night-flight", "order-form", m.Fields{"product": "plans", "bumps": nil})
	require.NotNil(t, b.Buy(approves)["go"])
	var o struct{ ID, Token string }
	require.NoError(t, shop.Store.DB.Raw("SELECT id, token FROM orders WHERE state = 'paid' ORDER BY number DESC LIMIT 1").Scan(&o).Error)
	page = "/orders/" + o.Token
	link = fileLink.FindString(shop.Browser().Get(page).Body)
	require.NotEmpty(t, link)
	return o.ID, page, link
}

// What is bought is downloaded so often and so long; then the owner renews it, by another
// link.
func TestADownloadIsCountedAndRenewed(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	id, page, link := plansBought(t, shop, b)
	taken := func() int64 { return shop.Number(`SELECT taken FROM downloads WHERE order_id = $1`, id) }
	ask := func(method, rang string) int {
		req, err := http.NewRequest(method, shop.App.Origins.Shop+link, nil)
		require.NoError(t, err)
		if rang != "" {
			req.Header.Set("Range", rang)
		}
		return b.Do(req).Status
	}
	assert.Equal(t, http.StatusOK, ask(http.MethodHead, ""))
	assert.Equal(t, http.StatusOK, ask(http.MethodGet, "bytes=5-"))
	assert.Zero(t, taken(), "whoever asks, or goes on with a part, has taken nothing")
	assert.Contains(t, shop.Browser().Get(page).Words(), "5 times more, until Wednesday 23 December")
	for range 5 {
		assert.Equal(t, "%PDF seven kites", b.Get(link).Body)
	}
	assert.EqualValues(t, 5, taken())
	over := b.Get(link)
	assert.Equal(t, http.StatusGone, over.Status)
	assert.Contains(t, over.Body, "It was taken 5 times, which is as often as it can be. Write to hello@gustwell.example")
	assert.NotRegexp(t, fileLink, shop.Browser().Get(page).Body)
	assert.Contains(t, shop.Browser().Get(page).Body, "it can be taken again")

	d := testkit.SignIn(t, shop)
	assert.Contains(t, d.Get(d.At("/orders/"+id)).Words(), "taken 5 of 5 times")
	require.Equal(t, http.StatusNoContent, d.Send("/orders/"+id+"/renew/plans", url.Values{}).Status)
	fresh := fileLink.FindString(shop.Browser().Get(page).Body)
	assert.NotEqual(t, link, fresh)
	assert.Equal(t, http.StatusNotFound, b.Get(link).Status, "links from before lead nowhere")
	assert.Equal(t, "%PDF seven kites", b.Get(fresh).Body)
	assert.EqualValues(t, 1, shop.Number(`SELECT count(*) FROM mails WHERE order_id = $1 AND kind = 'download'`, id))
	assert.Equal(t, http.StatusNotFound, d.Send("/orders/"+id+"/renew/ember", url.Values{}).Status, "nothing that was not bought")

	shop.Clock.Advance(31 * 24 * time.Hour)
	late := b.Get(fresh)
	assert.Equal(t, http.StatusGone, late.Status)
	assert.Contains(t, late.Body, "Its time is over.")
}

// A link that was changed in any part leads to nothing, and counts nothing.
func TestADownloadBySomebodyElsesLink(t *testing.T) {
	shop, _ := open(t)
	id, _, link := plansBought(t, shop, shop.Browser())
	b := shop.Browser()
	at := strings.LastIndex(link, "/") + 1
	for _, bad := range []string{link[:at-1], link[:at] + "made-up", link[:len(link)-1], strings.Replace(link, "plans", "ember", 1), strings.Replace(link, "/orders/", "/orders/x", 1), link[:at] + "%FF", link[:at] + "'"} {
		assert.Equal(t, http.StatusNotFound, b.Get(bad).Status, bad)
	}
	assert.Zero(t, shop.Number(`SELECT taken FROM downloads WHERE order_id = $1`, id))
}

// Twenty at once take as many as there are, and no more.
func TestManyDownloadsAtOnce(t *testing.T) {
	shop, _ := open(t)
	require.NoError(t, shop.App.Orders.SetDownloads(t.Context(), orders.Downloads{Most: 3, Days: 2}))
	_, _, link := plansBought(t, shop, shop.Browser())
	var given atomic.Int32
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			if shop.Browser().Get(link).Status == http.StatusOK {
				given.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 3, given.Load())
	for _, bad := range []orders.Downloads{{}, {Most: 101, Days: 1}, {Most: 1, Days: 3651}} {
		assert.Error(t, shop.App.Orders.SetDownloads(t.Context(), bad))
	}
}

// An order that waits for its money downloads nothing yet.
func TestNothingIsDownloadedBeforeItIsPaid(t *testing.T) {
	shop, _ := open(t)
	require.NoError(t, shop.App.Pictures.KeepFile(t.Context(), "plans", "Seven plans.pdf", []byte("%PDF seven kites")))
	fields := m.Fields{"product": "plans", "bumps": nil, "transfer": "yes"}
	shop.Set("night-flight", "order-form", fields)
	b := shop.Browser()
	at, _ := paidBy(t, b, "transfer")["go"].(string)
	assert.NotRegexp(t, fileLink, b.Get(at).Body)
	id, _ := orderAt(shop, at)
	require.Error(t, shop.App.Orders.Renew(t.Context(), "Marta Venn", id, "plans"))
	require.NoError(t, shop.App.Orders.Confirm(t.Context(), "Marta Venn", id))
	assert.Equal(t, "%PDF seven kites", b.Get(fileLink.FindString(shop.Browser().Get(at).Body)).Body)
}
