package shopfront_test

import (
	"net/http"
	"net/url"
	"testing"

	"chrysagon/app/orders"
	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is archived is gone from the shop, from every shelf and from what can be ordered,
// and says so where it was; brought back, it is there as before.
func TestWhatIsArchivedIsGoneAndComesBack(t *testing.T) {
	shop, books := open(t)
	form := lists(t, shop)
	ofProducts(t, shop)
	b := shop.Browser()
	const gull = "/goods/gull-90-single-line"
	d := testkit.SignIn(t, shop)
	archive := func(back string, ids ...string) int {
		status := d.Send("/goods/gull/archive", url.Values{"variant": ids, "back": {back}}).Status
		shop.Forget()
		return status
	}
	require.Equal(t, http.StatusOK, b.Get(gull).Status)
	require.Contains(t, b.Get("/spares").Body, `name="put:gull"`)
	typed := b.Form(b.Get("/spares"), b.Card(approves))
	typed.Set("put:gull", "1")
	typed.Set("put:reel", "1")
	typed.Set("seen", b.Post("/spares/quote", typed, asJSON).JSON(t)["seen"].(string))

	require.Equal(t, http.StatusNoContent, archive("", "gull"))
	assert.Equal(t, http.StatusConflict, archive("", "gull"), "once")
	gone := b.Get(gull)
	assert.Equal(t, http.StatusGone, gone.Status)
	assert.Contains(t, gone.Body, "“Gull 90, single line” is not sold any more.")
	assert.Equal(t, http.StatusOK, b.Get(gull+"-returned").Status, "its other variant stays")
	assert.NotContains(t, b.Get("/spares").Body, "Gull 90, single line<")
	assert.NotContains(t, b.Get("/sitemap.xml").Body, gull+"<")
	told := b.Post("/spares/checkout", typed, asJSON).JSON(t)
	assert.Contains(t, told["notice"], "no longer to be had here")
	assert.Nil(t, told["go"])
	assert.NotContains(t, d.Get(d.At("/goods")).Body, `data-id="gull"`)
	assert.Contains(t, d.Get(d.At("/goods?condition=archived")).Body, `data-id="gull"`)
	assert.Contains(t, d.Get(d.At("/goods/gull")).Body, "it stands on no shelf and in no shop")

	// A page that sells it says that it is sold out, and the check why.
	shop.Set("night-flight", "order-form", m.Fields{"product": "gull"})
	assert.Contains(t, b.Get("/night-flight").Body, "Sold out")
	d.Get(d.At("/pages/night-flight")) // whose campaign is at hand then
	assert.Contains(t, d.Get(d.At("/publish")).Body, "Gull 90, single line is archived; nobody can order it here.")
	// A download is not to be had either, though it does not run out.
	shop.Set("night-flight", "order-form", m.Fields{"product": "plans"})
	require.NoError(t, shop.App.Goods.Archive(t.Context(), []string{"plans"}, false))
	shop.Forget()
	assert.Contains(t, b.Get("/night-flight").Body, "Sold out")

	require.Equal(t, http.StatusNoContent, archive("1", "gull"))
	assert.Equal(t, http.StatusOK, b.Get(gull).Status)
	assert.Contains(t, b.Get("/spares").Body, `name="put:gull"`)
	assert.NotEmpty(t, form)
	books.came(t, 0, 0)
}

// A copy is a product of its own with variants like the other's, none in stock.
func TestGoodsAreCopied(t *testing.T) {
	shop, _ := open(t)
	d := testkit.SignIn(t, shop)
	for range 2 {
		require.Equal(t, http.StatusNoContent, d.Send("/goods/gull/copy", url.Values{}).Status)
	}
	var copies []struct {
		SKU, Name, Label, Address, Condition string
		Stock                                int
		PriceMinor                           int64
	}
	require.NoError(t, shop.Store.DB.Raw(`SELECT v.sku, p.name, v.label, v.address, v.condition, v.stock, v.price_minor FROM variants v JOIN products p ON p.id = v.product_id WHERE p.name = 'Gull 90, single line, copy' ORDER BY v.sku`).Scan(&copies).Error)
	require.Len(t, copies, 4)
	skus, addresses := map[string]bool{}, map[string]bool{}
	for _, c := range copies {
		skus[c.SKU], addresses[c.Address] = true, true
		assert.Zero(t, c.Stock)
	}
	assert.Len(t, skus, 4)
	assert.Len(t, addresses, 4)
	assert.Contains(t, skus, "GK-GUL-90-2")
	assert.Contains(t, skus, "GK-GUL-90-3")
	assert.EqualValues(t, 65, shop.Number(`SELECT stock FROM variants WHERE id = 'gull'`), "the other stays as it is")
	assert.Equal(t, http.StatusNotFound, d.Send("/goods/nothing/copy", url.Values{}).Status)
}

// What goods sold stands on their page: units, money, margin and how long the stock lasts,
// by hand from an order of three with tax of 23 per cent in the price, one of which went back.
func TestWhatGoodsSoldStandsOnTheirPage(t *testing.T) {
	shop, _ := open(t)
	lists(t, shop)
	b := shop.Browser()
	require.NotNil(t, b.Post("/spares/checkout", filled(t, b, map[string]string{"tern": "3"}), asJSON).JSON(t)["go"])
	require.NoError(t, shop.App.Selling.TakeOut(t.Context()))
	var o, pay string
	require.NoError(t, shop.Store.DB.Raw("SELECT o.id, p.id FROM orders o JOIN payments p ON p.order_id = o.id WHERE o.state = 'paid' ORDER BY o.number DESC LIMIT 1").Row().Scan(&o, &pay))
	_, err := shop.App.Orders.Refund(t.Context(), "Marta Venn", orders.RefundAsk{OrderID: o, Way: "lines", Units: map[string]int{pay + "/0": 1}, Restock: true})
	require.NoError(t, err)
	page, err := shop.App.Goods.GoodsPage(t.Context(), "tern")
	require.NoError(t, err)
	s := page.Sold["tern"]
	assert.Equal(t, 2, s.Units)
	assert.EqualValues(t, 2*1900, s.Revenue.Minor)
	// 38.00 with 23 % in it is 30.89 without; two cost 12.00.
	require.NotNil(t, s.Margin)
	assert.InDelta(t, 3089-1200, s.Margin.Minor, 1)
	assert.Equal(t, 61, s.Percent)
	assert.Equal(t, 86*90/2, s.Lasts, "88 in stock, three sold, one put back")
	d := testkit.SignIn(t, shop)
	assert.Contains(t, d.Get(d.At("/goods/tern")).Words(), "<b>2 sold</b> for <b>€38.00</b>")
}

// The page of a product is written and checked with something that is sold.
func TestNothingArchivedStandsIn(t *testing.T) {
	shop, _ := open(t)
	ofProducts(t, shop)
	first, err := shop.App.Drafts.ReadDrafts(t.Context(), "all-year")
	require.NoError(t, err)
	require.NotEmpty(t, first[0].Good.ID)
	require.NoError(t, shop.App.Goods.Archive(t.Context(), []string{first[0].Good.ID}, false))
	next, err := shop.App.Drafts.ReadDrafts(t.Context(), "all-year")
	require.NoError(t, err)
	assert.NotEmpty(t, next[0].Good.ID)
	assert.NotEqual(t, first[0].Good.ID, next[0].Good.ID)
}
