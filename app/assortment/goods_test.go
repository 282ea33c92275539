package assortment_test

import (
	"bytes"
	"context"
	"fmt"
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/app/assortment"
	"chrysagon/app/offers"
	"chrysagon/core/catalogue"
	"chrysagon/core/shelf"
	"chrysagon/internal/testkit"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func handIn(t *testing.T, shop *testkit.Shop, text string) assortment.DryRun {
	t.Helper()
	id, err := shop.App.Goods.KeepImport(ctx, "marta", "goods.csv", []byte(text))
	require.NoError(t, err)
	d, err := shop.App.Goods.DryRun(ctx, id, nil)
	require.NoError(t, err)
	return d
}

// snapshot is everything about goods that an import can change.
func snapshot(t *testing.T, shop *testkit.Shop) string {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, shop.App.Goods.ExportCSV(ctx, &out))
	return out.String()
}

func TestWhatGoesOutComesBackInUnchanged(t *testing.T) {
	shop := testkit.Open(t)
	d := handIn(t, shop, snapshot(t, shop))
	assert.Equal(t, 24, d.Left)
	assert.Zero(t, d.Added+d.Changed+d.Faulty, "%+v", d)
	var out bytes.Buffer
	require.NoError(t, shop.App.Goods.ExportJSON(ctx, &out))
	attributes, err := shop.App.Shelves.AttributeList(ctx)
	require.NoError(t, err)
	back, err := assortment.FromJSON(out.Bytes(), attributes)
	require.NoError(t, err)
	d = handIn(t, shop, string(back))
	assert.Equal(t, 24, d.Left, "as JSON too: %+v", d.Samples)

	older := regexp.MustCompile(`"(description|cost)":("([^"\\]|\\.)*"|[0-9]+|null),?`).ReplaceAll(out.Bytes(), nil)
	require.NotContains(t, string(older), `"description"`)
	back, err = assortment.FromJSON(older, attributes)
	require.NoError(t, err)
	d = handIn(t, shop, string(back))
	assert.Equal(t, 24, d.Left, "what the file does not know of is left as it is: %+v", d.Samples)
}

func TestAnImportIsTriedThenAppliedAsAWholeThenUndone(t *testing.T) {
	shop := testkit.Open(t)
	before := snapshot(t, shop)
	d := handIn(t, shop, "SKU;Name;Preis;Stock;wingspan\nGK-EMB-180;Ember 180, with lantern and line;72,50;240;180\nNEW-1;Skylark;39,90;12;95\nGK-GUL-90;Gull 90, single line;x;1;1\n;;1,00;;\n")
	assert.Equal(t, []int{1, 1, 0, 2}, []int{d.Added, d.Changed, d.Left, d.Faulty})
	assert.Equal(t, catalogue.Fault{Line: 4, Column: "price", Value: "x", Reason: "is not a number"}, d.Faults[0])
	assert.Equal(t, []string{"price: 68.00 → 72.50"}, d.Samples[0].Changes)
	_, err := shop.App.Goods.Import(ctx, "marta", d.ID, nil)
	require.ErrorContains(t, err, "2 lines are faulty, so nothing was changed")
	assert.Equal(t, before, snapshot(t, shop))

	d = handIn(t, shop, "SKU;Name;Preis;Stock;wingspan\nGK-EMB-180;Ember 180, with lantern and line;72,50;240;180\nNEW-1;Skylark;39,90;12;95\n")
	batch, err := shop.App.Goods.Import(ctx, "marta", d.ID, nil)
	require.NoError(t, err)
	assert.Equal(t, int64(7250), shop.Number(`SELECT price_minor FROM variants WHERE id = 'ember'`))
	assert.Equal(t, int64(5438), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`), "72.50 less a quarter, computed anew")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM price_ledger WHERE variant_id = 'ember' AND price_minor = 5438 AND list_minor = 7250 AND why LIKE '%imported' AND since = $1`, shop.App.Store.Now()))
	_, err = shop.App.Goods.Import(ctx, "marta", d.ID, nil)
	require.ErrorContains(t, err, "applied already")

	shop.Exec(`UPDATE variants SET stock = stock - 5 WHERE id = 'ember'`) // sold meanwhile
	said, err := shop.App.Goods.UndoBatch(ctx, batch)
	require.NoError(t, err)
	assert.Contains(t, said, "Undone")
	assert.Equal(t, strings.Replace(before, "68.00,29.00,240", "68.00,29.00,235", 1), snapshot(t, shop), "all as before, but for what was sold")
	assert.Equal(t, int64(5100), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
	_, err = shop.App.Goods.UndoBatch(ctx, batch)
	require.ErrorContains(t, err, "undone already")
}

func TestImportsThatContradictThemselvesAreRefused(t *testing.T) {
	shop := testkit.Open(t)
	for reason, text := range map[string]string{
		"stands in line 2 already":       "sku,name,price\nA,Kite,1\nA,Kite,2\n",
		"is new and has no price":        "sku,name\nA,Kite\n",
		"is new and has no name":         "sku,price\nA,1\n",
		"says something else of product": "sku,product,name,price\nA,k,Kite,1\nB,k,Bag,2\n",
	} {
		d := handIn(t, shop, text)
		require.NotEmpty(t, d.Faults, reason)
		assert.Contains(t, d.Faults[0].Reason, reason)
	}
	_, err := shop.App.Goods.KeepImport(ctx, "marta", "x.csv", []byte("PK\x03\x04\x00\x00\x00"))
	require.ErrorContains(t, err, "binary characters")
}

func TestAThousandGoodsComeInWithTheirVariants(t *testing.T) {
	shop := testkit.Open(t)
	var text strings.Builder
	text.WriteString("sku,product,name,variant,price,stock,condition\n")
	for i := range 3000 {
		fmt.Fprintf(&text, "K-%d,P-%d,Kite %d,size %d,%d.50,%d,new\n", i, i/3, i/3, i%3, i%200+1, i%7)
	}
	d := handIn(t, shop, text.String())
	require.Equal(t, 3000, d.Added)
	begun, err := shop.App.Goods.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	require.True(t, begun)
	twice, err := shop.App.Goods.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	assert.False(t, twice, "a second press, or a second program, does not begin it again")
	batch, err := shop.App.Goods.Import(ctx, "marta", d.ID, nil)
	require.NoError(t, err)
	p, err := shop.App.Goods.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []any{int64(3000), batch, ""}, []any{p.Total, p.Batch, p.Failed})
	assert.Equal(t, int64(1000), shop.Number(`SELECT count(*) FROM products WHERE id LIKE 'P-%'`))
	list, err := shop.App.Goods.Goods(ctx, assortment.GoodsQuery{Find: "kite 77", Shelf: shelf.Shelf{Order: []shelf.Order{{By: shelf.ListPrice, Down: true}}}, Number: 50})
	require.NoError(t, err)
	assert.Equal(t, 33, list.Count, "Kite 77 and 770 to 779, three each")
	assert.GreaterOrEqual(t, list.Rows[0].Price.Minor, list.Rows[1].Price.Minor)
}

func TestManyPricesAreChangedAsTheyWereShown(t *testing.T) {
	shop := testkit.Open(t)
	ids := []string{"ember", "gull", "line-30", "plans"}
	ten := assortment.PriceChange{Percent: decimal.NewFromInt(-65)}
	preview, err := shop.App.Goods.Preview(ctx, ids, ten)
	require.NoError(t, err)
	b, err := shop.App.Goods.ChangePrices(ctx, "marta", ids, ten)
	require.NoError(t, err)
	for _, r := range preview {
		assert.Equal(t, r.To.Minor, shop.Number(`SELECT price_minor FROM variants WHERE id = $1`, r.ID))
		assert.Equal(t, r.Under, r.ID == "ember" || r.ID == "gull", "%s: 23.80 of 29.00, 10.15 of 11.00 cost", r.Name)
	}
	assert.Equal(t, int64(2380*3/4), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
	_, err = shop.App.Goods.UndoBatch(ctx, b.ID)
	require.NoError(t, err)
	assert.Equal(t, int64(6800), shop.Number(`SELECT price_minor FROM variants WHERE id = 'ember'`))
	_, err = shop.App.Goods.Preview(ctx, nil, ten)
	require.ErrorContains(t, err, "Choose some goods first")
}

func TestCellsAreChangedInPlace(t *testing.T) {
	shop := testkit.Open(t)
	for column, typed := range map[string]string{"price": "70,00", "stock": "11", "category": "Night kites", "wingspan": "185 cm", "tags": "Night, Sale", "cost": "", "sku": "GK-NEW"} {
		fault, err := shop.App.Goods.EditGoods(ctx, "marta", "ember", column, typed)
		require.NoError(t, err)
		assert.Empty(t, fault, column)
	}
	assert.Equal(t, int64(5250), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM variants v JOIN products p ON p.id = v.product_id WHERE v.sku = 'GK-NEW' AND v.stock = 11 AND v.cost_minor IS NULL
		AND p.tags = '{night,sale}' AND p.category = 'Night kites' AND v.attributes ->> 'wingspan' = '185'`))
	for column, typed := range map[string]string{"price": "cheap", "stock": "-1", "sku": "GK-BAG-3", "wingspan": "wide", "condition": "lost", "colour": "red"} {
		fault, err := shop.App.Goods.EditGoods(ctx, "marta", "ember", column, typed)
		require.NoError(t, err)
		assert.NotEmpty(t, fault, column)
	}
	shop.Exec(`UPDATE variants SET reserved = 4 WHERE id = 'ember'`)
	fault, err := shop.App.Goods.EditGoods(ctx, "marta", "ember", "stock", "2")
	require.NoError(t, err)
	assert.Empty(t, fault)
	assert.Equal(t, int64(6), shop.Number(`SELECT stock FROM variants WHERE id = 'ember'`), "two to sell, beside the four that are promised")
}

// The keeper writes the start and end of offers at their own moments, however
// late it runs, and nothing twice.
func TestTheLedgerFollowsOffersThroughTime(t *testing.T) {
	shop := testkit.Open(t)
	ledger := func() (out []string) {
		require.NoError(t, shop.Store.DB.Raw(`SELECT to_char(since AT TIME ZONE 'UTC', 'MM-DD HH24:MI') || ' ' || price_minor || '/' || list_minor FROM price_ledger WHERE variant_id = 'ember' ORDER BY since`).Scan(&out).Error)
		return out
	}
	shop.Clock.Advance(10 * 24 * time.Hour) // the program was down while the offer ended
	for range 3 {
		require.NoError(t, shop.App.Prices.KeepLedger(ctx))
	}
	assert.Equal(t, []string{"07-26 12:00 6800/6800", "11-20 00:00 5100/6800", "11-27 23:59 6800/6800"}, ledger())
	_, faults, err := shop.App.Offers.SaveOffer(ctx, offers.OfferInput{Name: "Again", Kind: "amount_off", Members: map[string]string{"amount": "8.00"}, Covers: "shelf", ShelfID: "stood-long"})
	require.NoError(t, err)
	require.Empty(t, faults)
	assert.Equal(t, int64(2100), shop.Number(`SELECT now_minor FROM variants WHERE id = 'gull'`), "112 days in stock")
	// The lantern kite has been there for 24 + 10 days: it comes onto the shelf at
	// the midnight of its 91st.
	shop.Clock.Advance(60 * 24 * time.Hour)
	require.NoError(t, shop.App.Prices.KeepLedger(ctx))
	rows := ledger()
	assert.Equal(t, "01-29 00:00 6000/6800", rows[len(rows)-1])
	require.NoError(t, shop.App.Offers.EndOffer(ctx, mustID(t, shop, "Again")))
	assert.Equal(t, int64(6800), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`), "ended by one press")
}

func mustID(t *testing.T, shop *testkit.Shop, offer string) string {
	t.Helper()
	var id string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM offers WHERE name = ?", offer).Scan(&id).Error)
	return id
}

func TestCodesInBulkAreAllDifferentAndExported(t *testing.T) {
	shop := testkit.Open(t)
	require.NoError(t, shop.App.Offers.MakeCodes(ctx, "lantern-week", "frost", 5000, 1))
	var out bytes.Buffer
	require.NoError(t, shop.App.Offers.ExportCodes(ctx, "lantern-week", &out))
	lines := strings.Split(strings.TrimSpace(out.String()), "\r\n")
	assert.Len(t, lines, 5001)
	assert.Regexp(t, `^FROST-[ACDEFGHJKMNPQRTUVWXY34679]{4}-[ACDEFGHJKMNPQRTUVWXY34679]{4},1,0$`, lines[1])
	assert.Equal(t, int64(5000), shop.Number(`SELECT count(DISTINCT normal) FROM codes`))
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM offers WHERE id = 'lantern-week' AND needs_code`))
	require.ErrorContains(t, shop.App.Offers.MakeCodes(ctx, "lantern-week", "x", 0, 1), "From 1 to")
	_, faults, err := shop.App.Offers.SaveOffer(ctx, offers.OfferInput{Name: "A", Kind: "order_amount_off", Members: map[string]string{"amount": "1"}, Covers: "all", Code: "Wind 7"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, faults, err = shop.App.Offers.SaveOffer(ctx, offers.OfferInput{Name: "B", Kind: "order_amount_off", Members: map[string]string{"amount": "1"}, Covers: "all", Code: "wind-7"})
	require.NoError(t, err)
	assert.Contains(t, faults["code"], "or one that reads the same")
}

func TestAProductAndItsVariants(t *testing.T) {
	shop := testkit.Open(t)
	id, faults, err := shop.App.Goods.AddGoods(ctx, assortment.NewGoods{Name: "Skua 140", SKU: "GK-SKU", Price: "79", Stock: "4"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, faults, err = shop.App.Goods.AddGoods(ctx, assortment.NewGoods{Product: id, SKU: "GK-SKU-R", Label: "returned", Price: "59", Stock: "1"})
	require.NoError(t, err)
	require.Empty(t, faults)
	page, err := shop.App.Goods.GoodsPage(ctx, id)
	require.NoError(t, err)
	assert.Len(t, page.Variants, 2)
	assert.Equal(t, "Skua 140, returned", page.Variants[1].Name)
	assert.Len(t, page.Ledgers[page.Variants[0].ID], 1, "the ledger begins with it")
	_, faults, err = shop.App.Goods.AddGoods(ctx, assortment.NewGoods{Name: "", SKU: "GK-SKU", Price: "free"})
	require.NoError(t, err)
	assert.Len(t, faults, 2)
	ember, err := shop.App.Goods.GoodsPage(ctx, "ember")
	require.NoError(t, err)
	var used []string
	for _, u := range ember.Used {
		used = append(used, u.What+" "+u.Name)
	}
	assert.Contains(t, used, "Offer Lantern week")
	assert.Contains(t, used, "Page Night flight")
	assert.Equal(t, int64(6800), ember.Struck["ember"].Struck.Minor)
	require.NoError(t, shop.App.Goods.AddAttribute(ctx, "Tail length", "number", "cm"))
	require.ErrorContains(t, shop.App.Goods.AddAttribute(ctx, "tail length", "text", ""), "already")
	require.ErrorContains(t, shop.App.Goods.AddAttribute(ctx, "Description", "text", ""), "Every product has “Description” already.")
	require.ErrorContains(t, shop.App.Goods.AddAttribute(ctx, "!!", "text", ""), "letters")
}
