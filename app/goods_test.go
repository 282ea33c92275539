package app_test

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"
	"time"

	"chrysagon/app"
	"chrysagon/core/catalogue"
	"chrysagon/core/goods"
	"chrysagon/core/shelf"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func handIn(t *testing.T, shop *testkit.Shop, text string) app.DryRun {
	t.Helper()
	id, err := shop.App.KeepImport(ctx, "marta", "goods.csv", []byte(text))
	require.NoError(t, err)
	d, err := shop.App.DryRun(ctx, id, nil)
	require.NoError(t, err)
	return d
}

// snapshot is everything about goods that an import can change.
func snapshot(t *testing.T, shop *testkit.Shop) string {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, shop.App.ExportCSV(ctx, &out))
	return out.String()
}

func TestWhatGoesOutComesBackInUnchanged(t *testing.T) {
	shop := testkit.Open(t)
	d := handIn(t, shop, snapshot(t, shop))
	assert.Equal(t, 24, d.Left)
	assert.Zero(t, d.Added+d.Changed+d.Faulty, "%+v", d)
	var out bytes.Buffer
	require.NoError(t, shop.App.ExportJSON(ctx, &out))
	attributes, err := shop.App.AttributeList(ctx)
	require.NoError(t, err)
	back, err := app.FromJSON(out.Bytes(), attributes)
	require.NoError(t, err)
	d = handIn(t, shop, string(back))
	assert.Equal(t, 24, d.Left, "as JSON too: %+v", d.Samples)
}

func TestAnImportIsTriedThenAppliedAsAWholeThenUndone(t *testing.T) {
	shop := testkit.Open(t)
	before := snapshot(t, shop)
	d := handIn(t, shop, "SKU;Name;Preis;Stock;wingspan\nGK-EMB-180;Ember 180, with lantern and line;72,50;240;180\nNEW-1;Skylark;39,90;12;95\nGK-GUL-90;Gull 90, single line;x;1;1\n;;1,00;;\n")
	assert.Equal(t, []int{1, 1, 0, 2}, []int{d.Added, d.Changed, d.Left, d.Faulty})
	assert.Equal(t, catalogue.Fault{Line: 4, Column: "price", Value: "x", Reason: "is not a number"}, d.Faults[0])
	assert.Equal(t, []string{"price: 68.00 → 72.50"}, d.Samples[0].Changes)
	_, err := shop.App.Import(ctx, "marta", d.ID, nil)
	require.ErrorContains(t, err, "2 lines are faulty, so nothing was changed")
	assert.Equal(t, before, snapshot(t, shop))

	d = handIn(t, shop, "SKU;Name;Preis;Stock;wingspan\nGK-EMB-180;Ember 180, with lantern and line;72,50;240;180\nNEW-1;Skylark;39,90;12;95\n")
	batch, err := shop.App.Import(ctx, "marta", d.ID, nil)
	require.NoError(t, err)
	assert.Equal(t, int64(7250), shop.Number(`SELECT price_minor FROM variants WHERE id = 'ember'`))
	assert.Equal(t, int64(5438), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`), "72.50 less a quarter, computed anew")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM price_ledger WHERE variant_id = 'ember' AND price_minor = 5438 AND list_minor = 7250 AND why LIKE '%imported' AND since = $1`, shop.App.Now()))
	_, err = shop.App.Import(ctx, "marta", d.ID, nil)
	require.ErrorContains(t, err, "applied already")

	shop.Exec(`UPDATE variants SET stock = stock - 5 WHERE id = 'ember'`) // sold meanwhile
	said, err := shop.App.UndoBatch(ctx, batch)
	require.NoError(t, err)
	assert.Contains(t, said, "Undone")
	assert.Equal(t, strings.Replace(before, "68.00,29.00,240", "68.00,29.00,235", 1), snapshot(t, shop), "all as before, but for what was sold")
	assert.Equal(t, int64(5100), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
	_, err = shop.App.UndoBatch(ctx, batch)
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
	_, err := shop.App.KeepImport(ctx, "marta", "x.csv", []byte("PK\x03\x04\x00\x00\x00"))
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
	begun, err := shop.App.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	require.True(t, begun)
	twice, err := shop.App.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	assert.False(t, twice, "a second press, or a second program, does not begin it again")
	batch, err := shop.App.Import(ctx, "marta", d.ID, nil)
	require.NoError(t, err)
	p, err := shop.App.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []any{int64(3000), batch, ""}, []any{p.Total, p.Batch, p.Failed})
	assert.Equal(t, int64(1000), shop.Number(`SELECT count(*) FROM products WHERE id LIKE 'P-%'`))
	list, err := shop.App.Goods(ctx, app.GoodsQuery{Find: "kite 77", Shelf: shelf.Shelf{Order: []shelf.Order{{By: shelf.ListPrice, Down: true}}}, Number: 50})
	require.NoError(t, err)
	assert.Equal(t, 33, list.Count, "Kite 77 and 770 to 779, three each")
	assert.GreaterOrEqual(t, list.Rows[0].Price.Minor, list.Rows[1].Price.Minor)
}

func TestManyPricesAreChangedAsTheyWereShown(t *testing.T) {
	shop := testkit.Open(t)
	ids := []string{"ember", "gull", "line-30", "plans"}
	ten := app.PriceChange{Percent: decimal.NewFromInt(-65)}
	preview, err := shop.App.Preview(ctx, ids, ten)
	require.NoError(t, err)
	b, err := shop.App.ChangePrices(ctx, "marta", ids, ten)
	require.NoError(t, err)
	for _, r := range preview {
		assert.Equal(t, r.To.Minor, shop.Number(`SELECT price_minor FROM variants WHERE id = $1`, r.ID))
		assert.Equal(t, r.Under, r.ID == "ember" || r.ID == "gull", "%s: 23.80 of 29.00, 10.15 of 11.00 cost", r.Name)
	}
	assert.Equal(t, int64(2380*3/4), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
	_, err = shop.App.UndoBatch(ctx, b.ID)
	require.NoError(t, err)
	assert.Equal(t, int64(6800), shop.Number(`SELECT price_minor FROM variants WHERE id = 'ember'`))
	_, err = shop.App.Preview(ctx, nil, ten)
	require.ErrorContains(t, err, "Choose some goods first")
}

func TestCellsAreChangedInPlace(t *testing.T) {
	shop := testkit.Open(t)
	for column, typed := range map[string]string{"price": "70,00", "stock": "11", "category": "Night kites", "wingspan": "185 cm", "tags": "Night, Sale", "cost": "", "sku": "GK-NEW"} {
		fault, err := shop.App.EditGoods(ctx, "marta", "ember", column, typed)
		require.NoError(t, err)
		assert.Empty(t, fault, column)
	}
	assert.Equal(t, int64(5250), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM variants v JOIN products p ON p.id = v.product_id WHERE v.sku = 'GK-NEW' AND v.stock = 11 AND v.cost_minor IS NULL
		AND p.tags = '{night,sale}' AND p.category = 'Night kites' AND v.attributes ->> 'wingspan' = '185'`))
	for column, typed := range map[string]string{"price": "cheap", "stock": "-1", "sku": "GK-BAG-3", "wingspan": "wide", "condition": "lost", "colour": "red"} {
		fault, err := shop.App.EditGoods(ctx, "marta", "ember", column, typed)
		require.NoError(t, err)
		assert.NotEmpty(t, fault, column)
	}
	shop.Exec(`UPDATE variants SET reserved = 4 WHERE id = 'ember'`)
	fault, err := shop.App.EditGoods(ctx, "marta", "ember", "stock", "2")
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
		require.NoError(t, shop.App.KeepLedger(ctx))
	}
	assert.Equal(t, []string{"07-26 12:00 6800/6800", "11-20 00:00 5100/6800", "11-27 23:59 6800/6800"}, ledger())
	_, faults, err := shop.App.SaveOffer(ctx, app.OfferInput{Name: "Again", Kind: "amount_off", Value: "8.00", Covers: "shelf", ShelfID: "stood-long"})
	require.NoError(t, err)
	require.Empty(t, faults)
	assert.Equal(t, int64(2100), shop.Number(`SELECT now_minor FROM variants WHERE id = 'gull'`), "112 days in stock")
	// The lantern kite has been there for 24 + 10 days: it comes onto the shelf at
	// the midnight of its 91st.
	shop.Clock.Advance(60 * 24 * time.Hour)
	require.NoError(t, shop.App.KeepLedger(ctx))
	rows := ledger()
	assert.Equal(t, "01-29 00:00 6000/6800", rows[len(rows)-1])
	require.NoError(t, shop.App.EndOffer(ctx, mustID(t, shop, "Again")))
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
	require.NoError(t, shop.App.MakeCodes(ctx, "lantern-week", "frost", 5000, 1))
	var out bytes.Buffer
	require.NoError(t, shop.App.ExportCodes(ctx, "lantern-week", &out))
	lines := strings.Split(strings.TrimSpace(out.String()), "\r\n")
	assert.Len(t, lines, 5001)
	assert.Regexp(t, `^FROST-[ACDEFGHJKMNPQRTUVWXY34679]{4}-[ACDEFGHJKMNPQRTUVWXY34679]{4},1,0$`, lines[1])
	assert.Equal(t, int64(5000), shop.Number(`SELECT count(DISTINCT normal) FROM codes`))
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM offers WHERE id = 'lantern-week' AND needs_code`))
	require.ErrorContains(t, shop.App.MakeCodes(ctx, "lantern-week", "x", 0, 1), "From 1 to")
	_, faults, err := shop.App.SaveOffer(ctx, app.OfferInput{Name: "A", Kind: "order_amount_off", Value: "1", Covers: "all", Code: "Wind 7"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, faults, err = shop.App.SaveOffer(ctx, app.OfferInput{Name: "B", Kind: "order_amount_off", Value: "1", Covers: "all", Code: "wind-7"})
	require.NoError(t, err)
	assert.Contains(t, faults["code"], "or one that reads the same")
}

func picture(t *testing.T, w, h int, as string) []byte {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for x := range w {
		img.Set(x, h/2, color.NRGBA{R: 200, A: 120})
	}
	var b bytes.Buffer
	if as == "png" {
		require.NoError(t, png.Encode(&b, img))
	} else {
		require.NoError(t, jpeg.Encode(&b, img, nil))
	}
	return b.Bytes()
}

// Pictures are judged by content; what is sent is encoded anew in the widths
// that pages need, and the original is kept.
func TestPicturesAreKeptAndResized(t *testing.T) {
	shop := testkit.Open(t)
	raw := picture(t, 1000, 500, "jpeg")
	pic, err := shop.App.Upload(ctx, `C:\fakepath\Dunes at dusk.png`, append(raw, "<script>alert(1)</script>"...))
	require.NoError(t, err)
	assert.Equal(t, "Dunes at dusk", pic.Name)
	assert.Equal(t, "image/jpeg", pic.Mime, "whatever its name says")
	assert.Equal(t, int64(4), shop.Number(`SELECT count(*) FROM picture_sizes WHERE picture_id = $1 AND mime = 'image/jpeg' AND width IN (320, 640, 960, 1000)`, pic.ID))
	for want, got := range map[int]int{200: 320, 640: 640, 700: 960, 5000: 1000} {
		sized, err := shop.App.PictureAt(ctx, pic.Hash, want, "image/*")
		require.NoError(t, err)
		config, _, err := image.DecodeConfig(bytes.NewReader(sized.Bytes))
		require.NoError(t, err)
		assert.Equal(t, []int{got, got / 2}, []int{config.Width, config.Height})
		assert.NotContains(t, string(sized.Bytes), "<script>")
	}
	assert.Equal(t, int64(len(raw)+25), shop.Number(`SELECT length(bytes) FROM pictures WHERE id = $1`, pic.ID), "the original as it came")
	again, err := shop.App.Upload(ctx, "other name.jpg", append(raw, "<script>alert(1)</script>"...))
	require.NoError(t, err)
	assert.Equal(t, pic.ID, again.ID, "the same picture is kept once")
	clear, err := shop.App.Upload(ctx, "x", picture(t, 40, 40, "png"))
	require.NoError(t, err)
	assert.Equal(t, "image/png", clear.Mime, "what one can see through stays so")
	huge := picture(t, 8, 8, "png")
	copy(huge[16:], []byte{0, 0, 0x4e, 0x20, 0, 0, 0x4e, 0x20}) // says it has 20,000 by 20,000 pixels
	binary.BigEndian.PutUint32(huge[29:], crc32.ChecksumIEEE(huge[12:29]))
	for why, bad := range map[string][]byte{
		"is a drawing":          []byte("<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>"),
		"is not a picture that": []byte("GIF89 or not"), "is damaged": raw[:len(raw)/3], "too many": huge, "at most 20 MB": make([]byte, app.MaxPictureBytes+1),
	} {
		_, err := shop.App.Upload(ctx, "bad.jpg", bad)
		require.ErrorContains(t, err, why)
	}
}

func TestAPictureIsCutReplacedAndLookedAfter(t *testing.T) {
	shop := testkit.Open(t)
	raw := picture(t, 1000, 500, "jpeg")
	pic, err := shop.App.Upload(ctx, "Dunes.jpg", raw)
	require.NoError(t, err)
	modern, err := shop.App.PictureAt(ctx, pic.Hash, 640, "image/avif,image/webp,*/*")
	require.NoError(t, err)
	assert.Equal(t, "image/webp", modern.Mime, "in a modern format, to those that read it")
	config, format, err := image.DecodeConfig(bytes.NewReader(modern.Bytes))
	require.NoError(t, err)
	assert.Equal(t, "webp 640", fmt.Sprint(format, " ", config.Width))

	require.NoError(t, shop.App.Crop(ctx, pic.ID, 250, 0, 500, 1000))
	var row store.Picture
	read := func(id string) store.Picture {
		row = store.Picture{}
		require.NoError(t, shop.App.Store.DB.Where("id = ?", id).Find(&row).Error)
		return row
	}
	cut := read(pic.ID)
	assert.Equal(t, []int{500, 500}, []int{cut.Width, cut.Height})
	assert.NotEqual(t, pic.Hash, cut.Hash, "another address, since addresses are kept for ever")
	assert.Len(t, cut.Bytes, len(raw), "the file stays as it came")
	require.NoError(t, shop.App.Crop(ctx, pic.ID, 0, 0, 1000, 1000))
	assert.Equal(t, pic.Hash, read(pic.ID).Hash, "the whole again is what it was")
	for _, bad := range [][4]int{{-1, 0, 500, 500}, {600, 0, 500, 500}, {0, 0, 5, 500}} {
		require.ErrorContains(t, shop.App.Crop(ctx, pic.ID, bad[0], bad[1], bad[2], bad[3]), "does not lie on the picture")
	}
	require.ErrorContains(t, shop.App.Crop(ctx, "ember", 0, 0, 500, 500), "is drawn")

	require.ErrorContains(t, shop.App.Describe(ctx, pic.ID, app.Picturing{Name: "Dunes", FocusX: 120}), "from 0 to 100")
	require.NoError(t, shop.App.Describe(ctx, pic.ID, app.Picturing{Name: "Dunes", Alt: "Pale dunes", FocusX: 0, FocusY: 70}))
	assert.Equal(t, "Pale dunes 0 70", fmt.Sprint(read(pic.ID).Alt, " ", row.FocusX, " ", row.FocusY))

	ember := read("ember")
	require.NoError(t, shop.App.ReplacePicture(ctx, "ember", pic.ID))
	assert.Equal(t, "Dunes", read("ember").Name, "pages name the same ID and show the other picture")
	assert.NotEqual(t, ember.Patches, row.Patches, "and words on it are judged by that one")
	assert.Equal(t, int64(4), shop.Number("SELECT count(*) FROM picture_sizes WHERE picture_id = 'ember' AND mime = 'image/jpeg'"))
	require.NoError(t, shop.App.ReplacePicture(ctx, "ember", pic.ID))
	assert.Equal(t, ember, read("ember"), "doing it again brings it back whole")

	shelf, err := shop.App.PictureShelf(ctx)
	require.NoError(t, err)
	spare := map[string]bool{}
	for _, p := range shelf.Pictures {
		spare[p.ID] = p.Spare()
	}
	for id, nobodySeesIt := range map[string]bool{"ember": false, "ember-night": false, "bag": false, "gull": false, "night-dunes": true, pic.ID: true} {
		assert.Equal(t, nobodySeesIt, spare[id], id)
	}
	require.ErrorContains(t, shop.App.DropPicture(ctx, "ember"), "is shown somewhere")
	require.NoError(t, shop.App.DropPicture(ctx, pic.ID))
	shop.Exec("UPDATE products SET picture_id = NULL; DELETE FROM product_pictures; UPDATE goods_groups SET picture_id = NULL; DELETE FROM pictures WHERE id = 'ember'")
	shelf, err = shop.App.PictureShelf(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, shelf.Missing, "a page names a picture that is gone")
}

func TestAProductAndItsVariants(t *testing.T) {
	shop := testkit.Open(t)
	id, faults, err := shop.App.AddGoods(ctx, app.NewGoods{Name: "Skua 140", SKU: "GK-SKU", Price: "79", Stock: "4"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, faults, err = shop.App.AddGoods(ctx, app.NewGoods{Product: id, SKU: "GK-SKU-R", Label: "returned", Price: "59", Stock: "1"})
	require.NoError(t, err)
	require.Empty(t, faults)
	page, err := shop.App.GoodsPage(ctx, id)
	require.NoError(t, err)
	assert.Len(t, page.Variants, 2)
	assert.Equal(t, "Skua 140, returned", page.Variants[1].Name)
	assert.Len(t, page.Ledgers[page.Variants[0].ID], 1, "the ledger begins with it")
	_, faults, err = shop.App.AddGoods(ctx, app.NewGoods{Name: "", SKU: "GK-SKU", Price: "free"})
	require.NoError(t, err)
	assert.Len(t, faults, 2)
	ember, err := shop.App.GoodsPage(ctx, "ember")
	require.NoError(t, err)
	var used []string
	for _, u := range ember.Used {
		used = append(used, u.What+" "+u.Name)
	}
	assert.Contains(t, used, "Offer Lantern week")
	assert.Contains(t, used, "Page Night flight")
	assert.Equal(t, int64(6800), ember.Struck["ember"].Struck.Minor)
	require.NoError(t, shop.App.AddAttribute(ctx, "Tail length", "number", "cm"))
	require.ErrorContains(t, shop.App.AddAttribute(ctx, "tail length", "text", ""), "already")
	require.ErrorContains(t, shop.App.AddAttribute(ctx, "!!", "text", ""), "letters")
}

func TestShelvesAreLookedAtWhileTheyAreWritten(t *testing.T) {
	shop := testkit.Open(t)
	eighty, ten := decimal.NewFromInt(8000), decimal.NewFromInt(1000)
	s := shelf.Shelf{Rule: shelf.Rule{All: []shelf.Rule{{Field: shelf.Condition, Is: []goods.Value{goods.TextOf("returned"), goods.TextOf("ex-demo")}}, {Field: shelf.Price, AtMost: &eighty}}}}
	st, err := shop.App.Look(ctx, s)
	require.NoError(t, err)
	assert.Equal(t, 3, st.Count)
	s.Rule.All[1].AtMost = &ten
	st, err = shop.App.Look(ctx, s)
	require.NoError(t, err)
	assert.Contains(t, st.Warning, "Nothing stands on this shelf")
	assert.Contains(t, st.Loosen[0].Say+st.Loosen[1].Say, "at most €23.00”: 1 product then.")
	_, err = shop.App.SaveShelf(ctx, "", " ", s)
	require.ErrorContains(t, err, "name")
}
