package shopfront_test

import (
	"context"
	"net/http"
	"net/url"
	"testing"
	"time"

	"chrysagon/app/pages"
	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// lists makes a page of two lists with one checkout from its template, as an owner does,
// and answers with the ID of its checkout.
func lists(t *testing.T, shop *testkit.Shop) string {
	t.Helper()
	ctx := context.Background()
	d, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "frost-lanterns", Name: "Spares", Purpose: "sales", Template: "list-sale", Layout: "bare", ShelfID: "spares"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, err = shop.App.Desk.Edit(ctx, "marta", d.ID, m.Command{Op: m.AddBand, Index: 3, Band: &m.Band{
		ID: "second", Name: "To begin with", Beat: m.Desire, Tone: m.Card,
		Columns: []m.Column{{Width: 1, Pieces: []m.Piece{{ID: "second-list", Kind: "shelf", Fields: m.Fields{"shelf": "to-begin", "show": "12"}}}}},
	}}, false)
	require.NoError(t, err)
	shop.Write("frost-lanterns")
	form, fills := "", ""
	d, err = shop.App.Drafts.Draft(ctx, d.ID)
	require.NoError(t, err)
	d.Tree.Walk(func(_ m.Band, p m.Piece) {
		if p.Kind == "checkout" {
			form, fills = p.ID, p.Fields.Text("fill")
		}
	})
	require.Equal(t, "lists", fills, "as its template has it")
	shop.Set(d.ID, form, m.Fields{"button": "Order it all"})
	return form
}

func pageAt(shop *testkit.Shop, address string) string {
	var id string
	shop.Store.DB.Raw("SELECT id FROM pages WHERE address = ?", address).Scan(&id)
	return id
}

// filled is a buyer's form on the demo's page of lists, with what is put in and the sum as
// the shop has just told it.
func filled(t *testing.T, b *testkit.Browser, puts map[string]string) url.Values {
	t.Helper()
	form := b.Form(b.Get("/spares"), b.Card(approves))
	for id, n := range puts {
		form.Set("put:"+id, n)
	}
	form.Set("seen", b.Post("/spares/quote", form, asJSON).JSON(t)["seen"].(string))
	return form
}

func TestNothingPutInIsNotOrdered(t *testing.T) {
	shop, books := open(t)
	lists(t, shop)
	b := shop.Browser()
	page := b.Get("/spares")
	assert.Contains(t, page.Body, "Nothing is in your order yet")
	assert.Contains(t, page.Body, `name="put:tern" form="order" value="0" min="0" max="20"`)
	form := b.Form(page, b.Card(approves))
	for _, puts := range []string{"", "0", "-3", "x", "1e3"} {
		form.Set("put:tern", puts)
		assert.Contains(t, b.Post("/spares/checkout/fields", form, asJSON).JSON(t)["notice"], "Nothing is in your order yet", puts)
		told := b.Post("/spares/checkout", form, asJSON).JSON(t)
		assert.Contains(t, told["notice"], "Nothing is in your order yet", puts)
	}
	assert.Contains(t, b.Post("/spares/checkout", form, "").Body, "Nothing is in your order yet. Say in the list")
	form.Set("bump", "1")
	assert.Nil(t, b.Post("/spares/checkout", form, asJSON).JSON(t)["go"])
	books.came(t, 0, 0)
}

// Fewer are left than were put in: the buyer is told, the order stands at what there is,
// and the next press buys that.
func TestFewerAreLeftThanWerePutIn(t *testing.T) {
	shop, books := open(t)
	lists(t, shop)
	b := shop.Browser()
	form := filled(t, b, map[string]string{"tern": "5", "reel": "1"})
	shop.Exec(`UPDATE variants SET stock = 2 WHERE id = 'tern'`)
	shop.Forget()
	told := b.Post("/spares/checkout", form, asJSON).JSON(t)
	assert.Contains(t, told["notice"], "Of Tern 60, pocket kite only 2 are left")
	assert.Nil(t, told["go"])
	assert.Equal(t, map[string]any{"put:tern": "2", "put:reel": "1"}, told["stands"])
	assert.EqualValues(t, 3, told["count"])
	form.Set("put:tern", "2")
	form.Set("seen", told["seen"].(string))
	require.NotNil(t, b.Post("/spares/checkout", form, asJSON).JSON(t)["go"])
	assert.Equal(t, "1 reel, 2 tern", linesOf(shop))
	books.came(t, 1, 1)
	assert.Zero(t, shop.Number(`SELECT stock FROM variants WHERE id = 'tern'`))
}

// What leaves its list while it is in an order is taken out of it, and said.
func TestWhatLeavesTheListLeavesTheOrder(t *testing.T) {
	shop, _ := open(t)
	lists(t, shop)
	b := shop.Browser()
	form := filled(t, b, map[string]string{"tern": "1", "reel": "1"})
	shop.Exec(`UPDATE products SET category = 'Kept back' WHERE id = 'tern'`)
	shop.Forget()
	told := b.Post("/spares/checkout", form, asJSON).JSON(t)
	assert.Contains(t, told["notice"], "no longer to be had here")
	assert.Equal(t, map[string]any{"put:reel": "1"}, told["stands"])
	form.Del("put:tern")
	form.Set("seen", told["seen"].(string))
	require.NotNil(t, b.Post("/spares/checkout", form, asJSON).JSON(t)["go"])
	assert.Equal(t, "1 reel", linesOf(shop))
}

// Two buyers put the last piece in: one has it, the other is told and charged nothing.
func TestTheLastPieceOfAList(t *testing.T) {
	shop, books := open(t)
	lists(t, shop)
	shop.Exec(`UPDATE variants SET stock = 1 WHERE id = 'tern'`)
	shop.Forget()
	first, second := shop.Browser(), shop.Browser()
	one, two := filled(t, first, map[string]string{"tern": "1"}), filled(t, second, map[string]string{"tern": "1", "reel": "1"})
	require.NotNil(t, first.Post("/spares/checkout", one, asJSON).JSON(t)["go"])
	shop.Forget()
	told := second.Post("/spares/checkout", two, asJSON).JSON(t)
	assert.NotEmpty(t, told["notice"])
	assert.Nil(t, told["go"])
	books.came(t, 1, 1)
}

// Without script the list posts and comes back with what was put in; a total that was not
// seen is not charged.
func TestAListWithoutScript(t *testing.T) {
	shop, books := open(t)
	lists(t, shop)
	b := shop.Browser()
	form := b.Form(b.Get("/spares"), b.Card(approves))
	form.Set("put:tern", "3")
	again := b.Post("/spares/checkout", form, "")
	assert.Equal(t, http.StatusUnprocessableEntity, again.Status)
	assert.Contains(t, again.Body, "Please look at the total once more")
	books.came(t, 0, 0)
	form.Set("requote", "1")
	shown := b.Post("/spares/checkout", form, "")
	assert.Contains(t, shown.Body, `name="put:tern" form="order" value="3"`)
	assert.Contains(t, shown.Body, "3 × Tern 60, pocket kite")
	form.Del("requote")
	form.Set("seen", shown.Hidden("seen"))
	paid := b.Post("/spares/checkout", form, "")
	assert.Equal(t, http.StatusSeeOther, paid.Status, paid.Body)
	books.came(t, 1, 1)
}

// What was put in is kept with an unfinished checkout.
func TestWhatWasPutInIsThereTomorrow(t *testing.T) {
	shop, _ := open(t)
	form := lists(t, shop)
	shop.Set(pageAt(shop, "spares"), form, m.Fields{"parts": "2"})
	b := shop.Browser()
	b.Get("/spares")
	typed := url.Values{"name": {"Ines Falk"}, "email": {"ines@example.org"}, "part": {"1"}, "put:tern": {"3"}, "put:wisp": {"0"}}
	assert.EqualValues(t, 2, b.Post("/spares/checkout/next", typed, asJSON).JSON(t)["part"])
	shop.Clock.Advance(24 * time.Hour)
	assert.Contains(t, b.Get("/spares").Body, `name="put:tern" form="order" value="3"`)
	assert.Contains(t, shop.Browser().Get("/spares").Body, `name="put:tern" form="order" value="0"`, "nobody else’s")
}

// A checkout that is filled from lists and has none stops publishing.
func TestListsThatAreNotThere(t *testing.T) {
	shop, _ := open(t)
	lists(t, shop)
	d, err := shop.App.Drafts.Draft(t.Context(), pageAt(shop, "spares"))
	require.NoError(t, err)
	var away []m.Command
	d.Tree.Walk(func(b m.Band, p m.Piece) {
		if p.Kind == "shelf" {
			away = append(away, m.Command{Op: m.RemoveBand, ID: b.ID})
		}
	})
	require.Len(t, away, 2)
	_, err = shop.App.Desk.Edit(t.Context(), "marta", d.ID, m.Command{Op: m.Several, Steps: away}, false)
	require.NoError(t, err)
	_, err = shop.App.Publishing.Publish(t.Context(), "frost-lanterns", "Marta Venn")
	require.ErrorContains(t, err, "Something keeps this from going out")
	desk := testkit.SignIn(t, shop)
	assert.Contains(t, desk.Get(desk.At("/publish")).Body, "there is no list on the page")
}
