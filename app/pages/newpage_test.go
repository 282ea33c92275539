package pages_test

import (
	"bytes"
	"context"
	"strings"
	"testing"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/app/pages"
	"chrysagon/core/check"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/purpose"
	"chrysagon/internal/testkit"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

const campaign = "frost-lanterns"

func added(t *testing.T, shop *testkit.Shop, in pages.NewPage) drafts.Draft {
	t.Helper()
	in.CampaignID = campaign
	if in.Layout == "" {
		in.Layout = "bare"
	}
	d, faults, err := shop.App.Pages.AddPage(ctx, in)
	require.NoError(t, err)
	require.Empty(t, faults)
	return d
}

func TestAddressesAreMadeOfNames(t *testing.T) {
	for name, want := range map[string]string{
		"Gifts for the wind": "gifts-for-the-wind", "  Ção & Pão!  ": "cao-pao", "Marta’s kites": "martas-kites", "30 % off": "30-off", "風": "",
		"Große Straße": "grosse-strasse", "Воздушный змей": "vozdushnyi-zmei", "Χαρταετός": "khartaetos", "Łódź wiatru": "lodz-wiatru", "A & B @ C": "a-b-c", strings.Repeat("ab ", 40): strings.TrimSuffix(strings.Repeat("ab-", 20), "-"),
	} {
		assert.Equal(t, want, pages.Address(name), name)
	}
}

// Every template makes a page with the store's own goods on it, and nothing on
// it keeps it from going out.
func TestEveryTemplateMakesAPageThatCanGoOut(t *testing.T) {
	shop := testkit.Open(t)
	for _, tpl := range all.Templates() {
		if tpl.Purpose == "thank_you" {
			continue // the campaign has one; see below
		}
		d := added(t, shop, pages.NewPage{Purpose: tpl.Purpose, Name: tpl.Title, Template: tpl.Name, Layout: tpl.Layout})
		unwritten, err := shop.App.Publishing.Check(ctx, d)
		require.NoError(t, err)
		// The headline of the page of a product is the product's name, and needs no writing.
		assert.Equal(t, tpl.Purpose != purpose.Product, check.Stopping(unwritten), "%s: what nobody has written does not go out", tpl.Name)
		shop.Write(campaign)
		d, err = shop.App.Drafts.Draft(ctx, d.ID)
		require.NoError(t, err)
		found, err := shop.App.Publishing.Check(ctx, d)
		require.NoError(t, err)
		for _, f := range found {
			assert.NotEqual(t, "stops publishing", string(f.Gravity), "%s: %s", tpl.Name, f.What)
		}
	}
	state, err := shop.App.Publishing.State(ctx, campaign)
	require.NoError(t, err)
	assert.Empty(t, state.Stopping(), "the funnel grew with them and is sound")
	shop.Write(campaign)
	_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	b := shop.Browser()
	for _, path := range []string{"/gift-guide", "/about", "/contact-2", "/clearance-by-rule"} { // /contact is the shop's own
		page := b.Get(path)
		assert.Equal(t, 200, page.Status, path)
		assert.Contains(t, page.Body, `class="store" href="/"`, "%s has the store's header", path)
		assert.Contains(t, page.Body, `href="/about"`, "whose menu leads to the live pages")
	}
}

func TestAPageIsRefusedByField(t *testing.T) {
	shop := testkit.Open(t)
	before := shop.Number("SELECT count(*) FROM pages")
	for field, in := range map[string]pages.NewPage{
		"name":     {Purpose: "plain", Layout: "bare"},
		"address":  {Purpose: "plain", Layout: "bare", Name: "Night", Address: "night-flight"},
		"purpose":  {Purpose: "wizard", Layout: "bare", Name: "Night"},
		"layout":   {Purpose: "plain", Layout: "sideways", Name: "Night"},
		"template": {Purpose: "plain", Layout: "bare", Name: "Night", Template: "submarine"},
	} {
		in.CampaignID = campaign
		_, faults, err := shop.App.Pages.AddPage(ctx, in)
		require.NoError(t, err)
		assert.NotEmpty(t, faults[field], "%s: %v", field, faults)
	}
	_, _, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: campaign, Purpose: "thank_you", Layout: "bare", Name: "Thanks again"})
	require.ErrorContains(t, err, "has a thank-you page already")
	assert.Equal(t, before, shop.Number("SELECT count(*) FROM pages"), "nothing half made is left")
}

// A copy and a kept template are pages of their own: writing in one leaves the
// other, and the frame goes along.
func TestCopiesAndTemplatesStandForThemselves(t *testing.T) {
	shop := testkit.Open(t)
	first := added(t, shop, pages.NewPage{Purpose: "about", Name: "Who we are", Template: "about", Layout: "full"})
	second, err := shop.App.Pages.CopyPage(ctx, first.ID)
	require.NoError(t, err)
	assert.Equal(t, "full", second.Layout)
	assert.Equal(t, "who-we-are-2", second.Address)
	heading := second.Tree.Bands[0].Columns[0].Pieces[0].ID
	_, err = shop.App.Desk.Edit(ctx, "marta", second.ID, manuscript.Command{Op: manuscript.SetField, Piece: heading, Field: "text", Value: "Somebody else"}, false)
	require.NoError(t, err)
	again, err := shop.App.Drafts.Draft(ctx, first.ID)
	require.NoError(t, err)
	assert.Equal(t, first.Tree, again.Tree)

	tpl, err := shop.App.Pages.KeepTemplate(ctx, first.ID)
	require.NoError(t, err)
	third := added(t, shop, pages.NewPage{Purpose: "about", Name: "Third", Template: "kept:" + tpl.ID, Layout: tpl.Layout})
	assert.Len(t, third.Tree.Bands, len(first.Tree.Bands))
	assert.NotEqual(t, first.Tree.Bands[0].ID, third.Tree.Bands[0].ID)

	sale, err := shop.App.Pages.CopyPage(ctx, "night-flight")
	require.NoError(t, err)
	state, err := shop.App.Publishing.State(ctx, campaign)
	require.NoError(t, err)
	assert.Empty(t, state.Faults, "a second sales page leads where the first does")
	assert.Equal(t, "sales", sale.Purpose)
}

func TestAnotherTemplateCanBeTakenAndTakenBack(t *testing.T) {
	shop := testkit.Open(t)
	d := added(t, shop, pages.NewPage{Purpose: "plain", Name: "Night", Template: "bridge"})
	taken, err := shop.App.Pages.Retake(ctx, "marta", d.ID, "coming-soon")
	require.NoError(t, err)
	assert.NotEqual(t, d.Tree, taken.Tree)
	back, err := shop.App.Desk.Undo(ctx, "marta", d.ID)
	require.NoError(t, err)
	assert.Equal(t, d.Tree, back.Tree)
	require.NoError(t, shop.App.Pages.Dress(ctx, d.ID, "bridge", "header"))
	require.ErrorContains(t, shop.App.Pages.Dress(ctx, d.ID, "sales", "header"), "make a new page for that")
	require.Error(t, shop.App.Pages.Dress(ctx, d.ID, "", "sideways"))
}

// A page that is renamed keeps its links, and its old address leads to it.
func TestARenamedPageIsStillFound(t *testing.T) {
	shop := testkit.Open(t)
	about := added(t, shop, pages.NewPage{Purpose: "about", Name: "About", Template: "about", Layout: "full"})
	bridge := added(t, shop, pages.NewPage{Purpose: "bridge", Name: "Bridge", Template: "bridge"})
	var button string
	bridge.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "button" {
			button = p.ID
		}
	})
	_, err := shop.App.Desk.Edit(ctx, "marta", bridge.ID, manuscript.Command{Op: manuscript.SetField, Piece: button, Field: "target", Value: "page:" + about.ID}, false)
	require.NoError(t, err)
	shop.Write(campaign)
	_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	b := shop.Browser()
	assert.Contains(t, b.Get("/bridge").Body, `href="/about"`)
	shop.Rename(about.ID, publish.Naming{Name: "Who makes it", Address: "who-makes-it", Title: "Who makes it"})
	assert.Equal(t, 200, b.Get("/about").Status, "until it is published")
	shop.Write(campaign)
	_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	shop.Follow(t)
	assert.Contains(t, b.Get("/bridge").Body, `href="/who-makes-it"`)
	moved := b.Get("/about")
	assert.Equal(t, 301, moved.Status)
	assert.Equal(t, "/who-makes-it", moved.Header.Get("Location"))
}

func TestLeadsLeaveAsCSV(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`INSERT INTO leads (id, kind, email, name, piece_id, at) VALUES ('l', 'opt_in', 'ines@example.org', '=HYPERLINK("http://x")', 'p', now())`)
	var out bytes.Buffer
	require.NoError(t, shop.App.People.ExportLeads(ctx, &out))
	lines := strings.Split(out.String(), "\r\n")
	assert.Equal(t, "at,kind,email,name,message,consent,page,link", lines[0])
	assert.Contains(t, lines[1], `"'=HYPERLINK(""http://x"")"`, "a spreadsheet takes it for words")
}

// A group's card leads to the live page that shows its shelf, and nowhere while
// there is none.
func TestAGroupLeadsToThePageOfItsShelf(t *testing.T) {
	shop := testkit.Open(t)
	require.NoError(t, shop.App.Shelves.SaveGroup(ctx, "stood-long", "Stood long", "ember"))
	var group string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM goods_groups WHERE name = 'Stood long'").Scan(&group).Error)
	bridge := added(t, shop, pages.NewPage{Purpose: "bridge", Name: "Groups", Template: "bridge"})
	card := manuscript.Piece{ID: "cards", Kind: "groups", Fields: manuscript.Fields{"items": []any{map[string]any{"group": group, "text": "For the patient"}}}}
	_, err := shop.App.Desk.Edit(ctx, "marta", bridge.ID, manuscript.Command{Op: manuscript.AddPiece, ID: bridge.Tree.Bands[0].ID, New: &card}, false)
	require.NoError(t, err)
	shop.Write(campaign)
	_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	b := shop.Browser()
	assert.Contains(t, b.Get("/groups").Body, "For the patient")
	assert.NotContains(t, b.Get("/groups").Body, `href="/stood-long"`)
	added(t, shop, pages.NewPage{Purpose: "shelf", Name: "Stood long", Template: "clearance", Layout: "full", ShelfID: "stood-long"})
	shop.Write(campaign)
	_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	shop.Follow(t)
	assert.Contains(t, b.Get("/groups").Body, `href="/stood-long"`)
}

// Goods on a shelf lead to the live page that sells them, by its edition and not
// by a draft; on that page itself to its checkout; else nowhere.
func TestGoodsOnAShelfLeadToWhereTheyAreSold(t *testing.T) {
	shop := testkit.Open(t)
	shelf := added(t, shop, pages.NewPage{Purpose: "shelf", Name: "Everything", Template: "clearance", Layout: "bare"})
	shop.Exec(`INSERT INTO shelves (id, name, shelf) VALUES ('all', 'Everything', '{"rule": {"all": [{"field": "price", "at_least": 5000, "at_most": 9000}, {"field": "condition", "is": ["new"]}]}, "order": [{"by": "price"}]}')`)
	var piece string
	shelf.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "shelf" {
			piece = p.ID
		}
	})
	_, err := shop.App.Desk.Edit(ctx, "marta", shelf.ID, manuscript.Command{Op: manuscript.SetField, Piece: piece, Field: "shelf", Value: "all"}, false)
	require.NoError(t, err)
	shop.Write(campaign)
	_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	shop.Follow(t)
	page := shop.Browser().Get("/everything").Body
	assert.Contains(t, page, `<a href="/night-flight">Ember 180`)
	assert.Equal(t, 1, strings.Count(page, `class="what"><b><a `), "what no live page sells leads nowhere")

	// A draft that sells no more changes nothing until it is published.
	d, err := shop.App.Drafts.Draft(ctx, "night-flight")
	require.NoError(t, err)
	set := func(piece, field, value string) {
		_, err = shop.App.Desk.Edit(ctx, "marta", "night-flight", manuscript.Command{Op: manuscript.SetField, Piece: piece, Field: field, Value: value}, false)
		require.NoError(t, err)
	}
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Fields.Text("product") == "ember" {
			set(p.ID, "product", "petrel")
		}
		if p.Kind == "checkout" { // no offer on the petrel ends: what the timer counts to is the checkout's
			set(p.ID, "deadline", "lantern-friday")
			set(p.ID, "after", "close")
		}
	})
	shop.Follow(t)
	assert.Contains(t, shop.Browser().Get("/everything").Body, `<a href="/night-flight">Ember 180`)
	shop.Write(campaign)
	_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	shop.Follow(t)
	page = shop.Browser().Get("/everything").Body
	assert.Regexp(t, `<a href="/night-flight">Petrel`, page)
	assert.NotContains(t, page, `<a href="/night-flight">Ember 180`)
}

// The first page of a new campaign that sells brings its thank-you page along,
// so that it can go out and be bought from at once.
func TestANewCampaignsFirstSaleHasSomewhereToGo(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('spring', 'Spring winds')`)
	first, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "spring", Purpose: "sales", Name: "Spring kite", Template: "sales", Layout: "bare"})
	require.NoError(t, err)
	require.Empty(t, faults)
	state, err := shop.App.Publishing.State(ctx, "spring")
	require.NoError(t, err)
	assert.Empty(t, state.Faults)
	require.Len(t, state.Drafts, 2)
	assert.Equal(t, "thank-you-spring-kite", state.Drafts[1].Address)
	shop.Write("spring")
	_, err = shop.App.Publishing.Publish(ctx, "spring", "Marta")
	require.NoError(t, err)
	assert.Equal(t, 200, shop.Browser().Get("/"+first.Address).Status)
	_, faults, err = shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "spring", Purpose: "sales", Name: "Second", Template: "letter", Layout: "bare"})
	require.NoError(t, err)
	require.Empty(t, faults)
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM pages WHERE campaign_id = 'spring' AND purpose = 'thank_you'`), "one is enough")
}

// A campaign of pages that stand for themselves goes out without a funnel; one
// without any page does not.
func TestPagesThatStandForThemselvesGoOut(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('spring', 'Spring winds')`)
	shop.Write("spring")
	_, err := shop.App.Publishing.Publish(ctx, "spring", "Marta")
	require.Error(t, err)
	_, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "spring", Purpose: "shelf", Name: "Spring shelf", Template: "clearance", Layout: "full"})
	require.NoError(t, err)
	require.Empty(t, faults)
	shop.Clock.Advance(time.Minute)
	shop.Write("spring")
	_, err = shop.App.Publishing.Publish(ctx, "spring", "Marta")
	require.NoError(t, err)
	shop.Follow(t)
	b := shop.Browser()
	assert.Equal(t, 200, b.Get("/spring-shelf").Status)
	assert.Equal(t, "/spring-shelf", b.Get("/").Header.Get("Location"), "the latest that is live is where the shop begins")
	results, err := shop.App.Results.Results(ctx, "spring", time.Time{})
	require.NoError(t, err)
	assert.Empty(t, results.Stairs, "there is no funnel whose steps could be counted")
}

// A template of workshop seats begins with goods that are booked, and asks for
// what these need.
func TestATemplateSellsGoodsOfItsForm(t *testing.T) {
	shop := testkit.Open(t)
	d := added(t, shop, pages.NewPage{Purpose: "sales", Name: "Saturday", Template: "workshop", Layout: "bare"})
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "checkout" {
			assert.Equal(t, "seat", p.Fields.Text("product"))
		}
	})
}

// A page that clears begins with what came back or stood long; one with several
// shelves has several, not one twice.
func TestATemplateTakesTheShelvesThatSuitIt(t *testing.T) {
	shop := testkit.Open(t)
	shelves := func(template string) (ids []string) {
		d := added(t, shop, pages.NewPage{Purpose: "shelf", Name: "Look at " + template, Template: template})
		d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
			if p.Kind == "shelf" {
				ids = append(ids, p.Fields.Text("shelf"))
			}
		})
		return ids
	}
	assert.Contains(t, []string{"back-and-shown", "stood-long"}, shelves("clearance")[0])
	guide := shelves("gift-guide")
	require.Len(t, guide, 2)
	assert.NotEqual(t, guide[0], guide[1])
	shop.Exec("UPDATE campaigns SET shelf_id = 'stood-long' WHERE id = $1", campaign)
	first := ""
	added(t, shop, pages.NewPage{Purpose: "shelf", Name: "By the campaign", Template: "gift-guide"}).Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "shelf" && first == "" {
			first = p.Fields.Text("shelf")
		}
	})
	assert.Equal(t, "stood-long", first, "the campaign's own goes first")
}

// A timer stands only where something ends: a page of a shelf that no offer is on
// has none, and neither its words nor the check say that prices end.
func TestATemplateTakesATimerOnlyWhereAPriceEnds(t *testing.T) {
	shop := testkit.Open(t)
	timers := func(in pages.NewPage) (n int) {
		added(t, shop, in).Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
			if p.Kind == "timer" {
				n++
			}
		})
		return n
	}
	assert.Zero(t, timers(pages.NewPage{Purpose: "shelf", Name: "Nothing ends", Template: "clearance", ShelfID: "stood-long"}))
	shop.Exec(`UPDATE offers SET shelf_id = 'stood-long', general = false WHERE id = 'lantern-week'`)
	assert.Equal(t, 1, timers(pages.NewPage{Purpose: "shelf", Name: "A price ends", Template: "clearance", ShelfID: "stood-long"}))
}
