package shopfront_test

import (
	"context"
	"encoding/xml"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"chrysagon/app/pages"
	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ofProducts makes the page of a product from its template and publishes it, as an owner
// does.
func ofProducts(t *testing.T, shop *testkit.Shop) {
	t.Helper()
	ctx := context.Background()
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('all-year', 'All year')`)
	d, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "all-year", Name: "Any product", Purpose: "product", Template: "product", Layout: "full"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, err = shop.App.Desk.Edit(ctx, "marta", d.ID, m.Command{Op: m.SetPage, Field: m.Title, Value: "{name}, from Gustwell"}, false)
	require.NoError(t, err)
	shop.Write("all-year")
	_, err = shop.App.Publishing.Publish(ctx, "all-year", "Marta Venn")
	require.NoError(t, err)
	shop.Forget()
}

// Two campaigns can each have a page of a product: the newest stands for the goods, and the
// check says so.
func TestTwoPagesOfAProduct(t *testing.T) {
	shop, _ := open(t)
	ofProducts(t, shop)
	b := shop.Browser()
	const at = "/goods/gull-90-single-line"
	assert.Contains(t, b.Get(at).Body, "Gull 90, single line, from Gustwell")
	d, faults, err := shop.App.Pages.AddPage(t.Context(), pages.NewPage{CampaignID: "frost-lanterns", Name: "In the frost", Purpose: "product", Template: "product", Layout: "full"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, err = shop.App.Desk.Edit(t.Context(), "marta", d.ID, m.Command{Op: m.SetPage, Field: m.Title, Value: "{name} in the frost"}, false)
	require.NoError(t, err)
	shop.Write("frost-lanterns")
	desk := testkit.SignIn(t, shop)
	desk.Get(desk.At("/pages/" + d.ID))
	assert.Contains(t, desk.Get(desk.At("/publish")).Body, "“All year” has a page of a product live too.")
	shop.Clock.Advance(time.Minute)
	_, err = shop.App.Publishing.Publish(t.Context(), "frost-lanterns", "Marta Venn")
	require.NoError(t, err)
	shop.Forget()
	assert.Contains(t, b.Get(at).Body, "Gull 90, single line in the frost", "the one that went live last")
}

// Publishing tells for how many goods the page of a product changes.
func TestPublishingTellsHowManyPagesChange(t *testing.T) {
	shop, _ := open(t)
	ofProducts(t, shop)
	d, err := shop.App.Drafts.ReadDrafts(t.Context(), "all-year")
	require.NoError(t, err)
	desk := testkit.SignIn(t, shop)
	desk.Get(desk.At("/pages/" + d[0].ID))
	assert.NotContains(t, desk.Get(desk.At("/publish")).Body, "stands for", "nothing changes yet")
	_, err = shop.App.Desk.Edit(t.Context(), "marta", d[0].ID, m.Command{Op: m.SetPage, Field: m.Title, Value: "{name}"}, false)
	require.NoError(t, err)
	n := shop.Number(`SELECT count(*) FROM variants v WHERE NOT EXISTS (SELECT FROM public_shows s WHERE s.what = 'checkout' AND s.ref = v.id)`)
	require.Positive(t, n)
	assert.Contains(t, desk.Get(desk.At("/publish")).Body, fmt.Sprintf("stands for %d products", n))
}

// Every product has a page at a readable address, made from one; cards and the sitemap
// lead there, and what has a page written for it keeps that.
func TestEveryProductHasAPage(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	assert.Equal(t, http.StatusNotFound, b.Get("/goods/gull-90-single-line").Status, "before the page of a product is live")
	ofProducts(t, shop)
	var addresses []string
	require.NoError(t, shop.Store.DB.Raw("SELECT address FROM variants ORDER BY 1").Scan(&addresses).Error)
	require.Contains(t, addresses, "gull-90-single-line-returned")
	for _, address := range addresses {
		page := b.Get("/goods/" + address)
		require.Equal(t, http.StatusOK, page.Status, address)
		assert.NotContains(t, page.Body, "{name}")
		assert.Contains(t, page.Body, `<form id="order" method="post" action="/goods/`+address+`/checkout#checkout"`)
	}
	gull := b.Get("/goods/gull-90-single-line").Body
	for _, has := range []string{"<title>Gull 90, single line, from Gustwell</title>", "<h1>Gull 90, single line</h1>", "€29.00", `"@type":"Product"`, `"name":"Gull 90, single line"`, shop.App.Origins.Shop + `/goods/gull-90-single-line"`} {
		assert.Contains(t, gull, has)
	}
	for _, nowhere := range []string{"/goods/no-such-thing", "/goods/GULL-90-SINGLE-LINE", "/goods/'", "/any-product", "/goods", "/goods/gull-90-single-line/more"} {
		assert.Equal(t, http.StatusNotFound, b.Get(nowhere).Status, nowhere)
	}
	var set struct {
		URLs []struct {
			Loc string `xml:"loc"`
		} `xml:"url"`
	}
	require.NoError(t, xml.Unmarshal([]byte(b.Get("/sitemap.xml").Body), &set))
	listed := map[string]bool{}
	for _, u := range set.URLs {
		listed[strings.TrimPrefix(u.Loc, shop.App.Origins.Shop)] = true
	}
	assert.True(t, listed["/goods/gull-90-single-line"])
	assert.True(t, listed["/night-flight"])
	assert.False(t, listed["/goods/ember-180-with-lantern-and-line"], "the page that was written for it stands there")
	assert.False(t, listed["/any-product"])
	assert.Len(t, listed, len(set.URLs), "no address twice")
	assert.Equal(t, http.StatusNotFound, b.Get("/sitemaps/x.xml").Status)
	assert.Contains(t, b.Get("/sitemaps/1.xml").Body, "/goods/gull-90-single-line")
}

// Goods are bought on their pages, each for itself: two of them in one browser are two
// orders, the same one twice is asked about, and each charges what its page showed.
func TestGoodsAreBoughtOnTheirPages(t *testing.T) {
	shop, _ := open(t)
	ofProducts(t, shop)
	b := shop.Browser()
	buy := func(address string) map[string]any {
		at := "/goods/" + address
		form := b.Form(b.Get(at), b.Card(approves))
		return b.Post(at+"/checkout", form, asJSON).JSON(t)
	}
	for _, address := range []string{"tern-60-pocket-kite", "seven-kite-plans-to-print", "workshop-seat-two-hours", "gull-90-single-line-returned"} {
		paid := buy(address)
		require.Contains(t, paid["go"], "?order=", "%s: %v", address, paid)
		line := linesOf(shop)
		var sold string
		require.NoError(t, shop.Store.DB.Raw("SELECT '1 ' || id FROM variants WHERE address = ?", address).Scan(&sold).Error)
		assert.Equal(t, sold, line)
	}
	again := buy("tern-60-pocket-kite")
	assert.Contains(t, again["notice"], "You have already ordered this")
	assert.Nil(t, again["go"])

	declined := b.Form(b.Get("/goods/beech-reel"), "")
	sent := b.Post("/goods/beech-reel/checkout", declined, "")
	till, err := url.Parse(sent.Location)
	require.NoError(t, err)
	back := b.Post(shop.App.Origins.Till+"/card", url.Values{"return": {till.Query().Get("return")}, "number": {declines}, "expiry": {"08/31"}, "code": {"123"}}, "")
	waits := b.Get(back.Location)
	if waits.Status == http.StatusSeeOther {
		waits = b.Get(waits.Location)
	}
	assert.Contains(t, waits.Body, `href="/goods/beech-reel#checkout"`, "whoever was declined goes back to the same goods")
}

// A seal of one product's page proves nothing for another's.
func TestAPriceOfOnePageIsNoneOfAnother(t *testing.T) {
	shop, books := open(t)
	ofProducts(t, shop)
	b := shop.Browser()
	form := b.Form(b.Get("/goods/tern-60-pocket-kite"), b.Card(approves))
	told := b.Post("/goods/loom-four-line/checkout", form, asJSON).JSON(t)
	assert.Nil(t, told["go"])
	assert.Contains(t, told["notice"], "look at the total once more")
	books.hold(t, 0, 0)
}

// The address stays when the goods are renamed, and two of one name have their own.
func TestAddressesOfGoods(t *testing.T) {
	shop, _ := open(t)
	add := func(id, name string) string {
		shop.Exec(`INSERT INTO products (id, name, form, category, tax_class, added_at) VALUES ('` + id + `', '` + name + `', 'physical', '', 'standard', now())`)
		shop.Exec(`INSERT INTO variants (id, product_id, sku, price_minor, now_minor, stock) VALUES ('` + id + `', '` + id + `', 'SKU ` + id + `', 100, 100, 1)`)
		var address string
		require.NoError(t, shop.Store.DB.Raw("SELECT address FROM variants WHERE id = ?", id).Scan(&address).Error)
		return address
	}
	assert.Equal(t, "drachen-grosse-schwarze-no-7", add("one", "Drachen: Große Schwarze — No. 7!"))
	assert.Equal(t, "drachen-grosse-schwarze-no-7-sku-two", add("two", "Drachen: Große Schwarze — No. 7!"))
	assert.Equal(t, "pipa-acor", add("three", "Pipa «Açor»"))
	assert.Equal(t, "goods", add("four", "凧"))
	shop.Exec("UPDATE products SET name = 'Renamed' WHERE id = 'one'")
	var address string
	require.NoError(t, shop.Store.DB.Raw("SELECT address FROM variants WHERE id = 'one'").Scan(&address).Error)
	assert.Equal(t, "drachen-grosse-schwarze-no-7", address)
}
