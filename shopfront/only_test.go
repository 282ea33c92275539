package shopfront_test

import (
	"net/http"
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The thank-you page speaks of what was bought: nothing is being packed where nothing is
// sent.
func TestTheThankYouPageFitsWhatWasBought(t *testing.T) {
	const packed, fetched, taken = "Your kite is being packed", "It lies ready in the workshop", "Your plans are ready"
	for name, c := range map[string]struct {
		fields m.Fields
		way    string
		has    []string
		lacks  []string
	}{
		"a kite":                {m.Fields{"product": "ember", "bumps": nil}, "card", []string{packed}, []string{fetched, taken}},
		"a kite that is called": {m.Fields{"product": "ember", "bumps": nil}, "collection", []string{fetched}, []string{packed, taken}},
		"plans":                 {m.Fields{"product": "plans", "bumps": nil}, "card", []string{taken}, []string{packed, fetched}},
		"plans, by transfer":    {m.Fields{"product": "plans", "bumps": nil}, "transfer", []string{taken}, []string{packed, fetched}},
		"a kite and plans":      {m.Fields{"product": "ember", "bumps": bumps("plans")}, "card", []string{packed, taken}, []string{fetched}},
		"a seat":                {m.Fields{"product": "seat", "bumps": nil}, "card", nil, []string{packed, fetched, taken}},
	} {
		t.Run(name, func(t *testing.T) {
			shop, _ := open(t)
			shop.Set("night-flight", "order-form", together(c.fields, allWays))
			b := shop.Browser()
			var more []string
			if c.fields["bumps"] != nil {
				more = []string{"bump", "1"}
			}
			if c.way == "card" {
				more = append(more, "token", b.Card(approves))
			}
			at, _ := paidBy(t, b, c.way, more...)["go"].(string)
			require.NotEmpty(t, at)
			if c.way != "card" {
				id, _ := orderAt(shop, at)
				require.NoError(t, shop.App.Orders.Confirm(t.Context(), "Marta Venn", id))
			}
			var token string
			require.NoError(t, shop.Store.DB.Raw("SELECT token FROM orders ORDER BY number DESC NULLS LAST LIMIT 1").Scan(&token).Error)
			page := b.Get("/thank-you?order=" + token)
			require.Equal(t, http.StatusOK, page.Status)
			for _, has := range c.has {
				assert.Contains(t, page.Body, has)
			}
			for _, lacks := range c.lacks {
				assert.NotContains(t, page.Body, lacks)
			}
		})
	}
}

// A band is shown for the goods of a shelf alone, however far down its product stands on it.
func TestABandForSomeGoods(t *testing.T) {
	shop, _ := open(t)
	ofProducts(t, shop)
	d, err := shop.App.Drafts.ReadDrafts(t.Context(), "all-year")
	require.NoError(t, err)
	band := &m.Band{ID: "light", Name: "Light wind", Beat: m.Interest, Tone: m.Card, Only: m.OnlyOf("to-begin"), Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "light-text", Kind: "text", Fields: m.Fields{"text": "Made for a first afternoon on the dunes."}}}}}}
	_, err = shop.App.Desk.Edit(t.Context(), "marta", d[0].ID, m.Command{Op: m.AddBand, Index: 1, Band: band}, false)
	require.NoError(t, err)
	_, err = shop.App.Publishing.Publish(t.Context(), "all-year", "Marta Venn")
	require.NoError(t, err)
	shop.Forget()
	b := shop.Browser()
	assert.Contains(t, b.Get("/goods/gull-90-single-line").Body, "Made for a first afternoon")
	assert.NotContains(t, b.Get("/goods/gull-90-single-line-returned").Body, "Made for a first afternoon", "which is not new, as the shelf wants it")
	assert.NotContains(t, b.Get("/goods/loom-four-line").Body, "Made for a first afternoon")
	// Behind sixty others of the shelf it stands on it all the same.
	shop.Exec(`INSERT INTO products (id, name, form, category, tax_class, added_at) SELECT 'k' || n, 'Kite ' || n, 'physical', 'Single-line kites', 'standard', now() FROM generate_series(1, 70) n`)
	shop.Exec(`INSERT INTO variants (id, product_id, sku, price_minor, now_minor, stock, condition) SELECT 'k' || n, 'k' || n, 'K-' || n, 100, 100, 5, 'new' FROM generate_series(1, 70) n`)
	shop.Forget()
	assert.Contains(t, b.Get("/goods/gull-90-single-line").Body, "Made for a first afternoon")
	desk := testkit.SignIn(t, shop)
	assert.Contains(t, desk.Get(desk.At("/pages/"+d[0].ID)).Body, "only for goods of “To begin with”")
	assert.Equal(t, http.StatusOK, desk.Command(d[0].ID, map[string]any{"command": m.Command{Op: m.SetBand, ID: "light", Field: "only", Value: ""}}).Status)
}
