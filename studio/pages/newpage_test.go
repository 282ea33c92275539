package pages_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTemplatesAreShownAndFound(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	place := d.Get(d.At("/pages/new")).Body
	assert.GreaterOrEqual(t, strings.Count(place, `name="template"`), 17, "sixteen, and a blank one")
	found := d.Get(d.At("/templates?find=gift")).Body
	assert.Equal(t, 2, strings.Count(found, `name="template"`))
	assert.Contains(t, found, "Gift guide")
	assert.Contains(t, d.Get(d.At("/templates?find=submarine")).Body, "No template has these words")
	assert.Contains(t, d.Get(d.At("/templates?season=clearance")).Body, "Clearance by rule")

	proof := d.Get(d.At("/templates/sales/proof"))
	assert.Equal(t, http.StatusOK, proof.Status)
	assert.Contains(t, proof.Body, "€51.00", "with the store's own goods at their price")
	assert.Contains(t, proof.Header.Get("Content-Security-Policy"), "default-src 'none'")
	assert.NotContains(t, proof.Body, "<script", "nothing in a proof runs")
	assert.NotEqual(t, http.StatusOK, d.Get(d.At("/templates/submarine/proof")).Status)
}

func newPage(t *testing.T, d testkit.Desk, form url.Values) string {
	t.Helper()
	made := d.Send("/pages", form)
	require.Equal(t, http.StatusSeeOther, made.Status, made.Body)
	return strings.TrimPrefix(made.Header.Get("Location"), "/pages/")
}

func TestAPageIsMadeCopiedKeptAndDressed(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	wrong := d.Send("/pages", url.Values{"name": {"Before it"}, "address": {"night-flight"}, "purpose": {"bridge"}, "layout": {"bare"}, "template": {"bridge"}})
	assert.Contains(t, wrong.Body, "Another page already has this address")
	assert.Contains(t, wrong.Body, `value="Before it"`, "nothing typed is lost")
	assert.Contains(t, d.Send("/pages", url.Values{"name": {"Thanks"}, "purpose": {"thank_you"}, "layout": {"bare"}}).Body, "has a thank-you page already")

	id := newPage(t, d, url.Values{"name": {"Before it"}, "layout": {"header"}, "template": {"bridge"}})
	sheet := d.Get(d.At("/pages/" + id)).Body
	assert.Contains(t, sheet, "bridge page", "its template said what it is for")
	assert.Contains(t, sheet, "/before-it")
	copied := d.Send("/pages/"+id+"/copy", url.Values{})
	assert.Contains(t, d.Get(d.At(copied.Header.Get("HX-Redirect"))).Body, "Before it, copy")
	assert.Contains(t, d.Send("/pages/"+id+"/keep", url.Values{}).Body, "Kept as the template “Before it”")
	assert.Contains(t, d.Get(d.At("/templates?find=before")).Body, "kept:")
	assert.Equal(t, "true", d.Send("/pages/"+id+"/dress", url.Values{"purpose": {"plain"}, "layout": {"full"}}).Header.Get("HX-Refresh"))
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/pages/"+id+"/dress", url.Values{"purpose": {"upsell"}, "layout": {"full"}}).Status)
	assert.Equal(t, "true", d.Send("/pages/"+id+"/retake", url.Values{"template": {"coming-soon"}}).Header.Get("HX-Refresh"))
	assert.Contains(t, d.Get(d.At("/pages/"+id)).Body, "Something is being sewn")
}

func TestAPlanBecomesBandsAndPieces(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	id := newPage(t, d, url.Values{"name": {"Planned"}, "layout": {"bare"}, "purpose": {"sales"}})
	page := d.Get(d.At("/pages/" + id)).Body
	assert.Contains(t, page, "No band serves: <b>attention, interest, desire, action</b>")
	for _, line := range []string{"hero with the headline", "the countdown", "three benefits", "checkout"} {
		added := d.Command(id, map[string]any{"line": line, "command": manuscript.Command{Op: manuscript.AddBand, Index: 99}}).JSON(t)
		require.NotEmpty(t, added["added"], line)
	}
	page = d.Get(d.At("/pages/" + id)).Body
	assert.NotContains(t, page, "No band serves")
	for _, kind := range []string{"heading", "timer", "perks", "checkout"} {
		assert.Contains(t, page, `data-kind="`+kind+`"`)
	}
	last := strings.LastIndex(page, `data-band="`) + len(`data-band="`)
	band := page[last : last+strings.Index(page[last:], `"`)]
	added := d.Command(id, map[string]any{"piece": "badges", "command": manuscript.Command{Op: manuscript.AddPiece, ID: band, Index: 9}}).JSON(t)
	assert.NotEmpty(t, added["added"])
	assert.Contains(t, added["sheet"], `data-kind="badges"`)
	assert.Equal(t, http.StatusBadRequest, d.Command(id, map[string]any{"piece": "malware", "command": manuscript.Command{Op: manuscript.AddPiece, ID: band}}).Status)
	assert.Equal(t, http.StatusUnprocessableEntity, d.Command(id, map[string]any{"command": manuscript.Command{Op: manuscript.Arrange, ID: band, Widths: []int{1, 1, 1, 1, 1}}}).Status)
	two := d.Command(id, map[string]any{"command": manuscript.Command{Op: manuscript.Arrange, ID: band, Widths: []int{2, 1}}}).JSON(t)
	assert.Contains(t, two["sheet"], "To the next column")
}

func TestAPageIsMadeOfAShelf(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	made := d.Send("/shelves", url.Values{"name": {"Back from a fair"}, "join": {"all"}, "c_field": {"condition"}, "c_name": {""}, "c_not": {""}, "c_is": {"returned, ex-demo"}, "c_min": {""}, "c_max": {""}, "c_days": {""}, "c_since": {""}, "order": {"price"}, "page": {"1"}})
	to := made.Header.Get("HX-Redirect")
	require.Contains(t, to, "/pages/", made.Body)
	page := d.Get(d.At(to)).Body
	assert.Contains(t, page, "Back from a fair")
	assert.Contains(t, page, "goods page · /back-from-a-fair")
}

func TestLeadsAreCountedBesideThePages(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	shop.Exec(`INSERT INTO leads (id, kind, email, piece_id, campaign_id, page_id, at) SELECT 'l' || n, 'opt_in', 'b' || n || '@example.org', 'p', 'frost-lanterns', 'night-flight', now() FROM generate_series(1, 3) n`)
	assert.Contains(t, d.Get(d.At("/pages")).Body, "<b>3</b> from Night flight")
	table := d.Get(d.At("/leads.csv"))
	assert.Contains(t, table.Header.Get("Content-Disposition"), "leads.csv")
	assert.Equal(t, 5, strings.Count(table.Body, "\n")+1, "a head, three rows and the end")
}

func TestWordsAreFoundShownAndReplacedOnAllPages(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	assert.Contains(t, d.Get(d.At("/pages")).Body, "Find and replace words")
	assert.Contains(t, d.Send("/words", url.Values{"find": {"submarine"}}).Body, "stands nowhere on these pages")
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/words", url.Values{"find": {" "}}).Status)
	shown := d.Send("/words", url.Values{"find": {"kite"}, "with": {"<b>sail</b>"}}).Body
	assert.Contains(t, shown, "Night flight")
	assert.Contains(t, shown, "Thank you", "pages that have the word")
	assert.Contains(t, shown, "&lt;b&gt;sail&lt;/b&gt;", "words stay words")
	assert.Contains(t, d.Get(d.At("/pages/night-flight")).Body, "A kite that carries its own lantern", "looking changes nothing")
	assert.Contains(t, d.Send("/words/replace", url.Values{"find": {"kite"}, "with": {"sail"}, "page": {"night-flight"}}).Body, "Replaced.")
	assert.Contains(t, d.Get(d.At("/pages/night-flight")).Body, "A sail that carries its own lantern")
	assert.Contains(t, d.Get(d.At("/pages/thank-you")).Body, "kite is being packed", "another page is left")
	d.Command("night-flight", map[string]any{"undo": true})
	assert.Contains(t, d.Get(d.At("/pages/night-flight")).Body, "A kite that carries its own lantern")
}

// Every place of the studio opens on a campaign whose pages have no funnel.
func TestACampaignWithoutAFunnelIsNoFault(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('spring', 'Spring winds')`)
	d.Send("/campaign", url.Values{"campaign": {"spring"}})
	for range 2 { // before and after it is live
		for _, place := range []string{"/pages", "/pages/new", "/publish", "/results", "/season", "/offers", "/live"} {
			assert.Equal(t, http.StatusOK, d.Get(d.At(place)).Status, place)
		}
		if strings.Contains(d.Get(d.At("/pages")).Body, "Spring shelf") {
			break
		}
		newPage(t, d, url.Values{"name": {"Spring shelf"}, "layout": {"full"}, "template": {"clearance"}})
		shop.Write("spring")
		assert.Equal(t, http.StatusOK, d.Send("/publish", url.Values{}).Status)
	}
	assert.Contains(t, d.Get(d.At("/live")).Body, "Edition 1 live")
}

// A product's page in the studio leads to a new page that sells it.
func TestAPageIsMadeForAProduct(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	form := d.Get(d.At("/pages/new?purpose=sales&product=gull"))
	assert.Contains(t, form.Body, `name="product" value="gull"`)
	assert.Contains(t, form.Body, `value="Gull 90, single line"`)
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/pages/new?product=nothing")).Status)
	id := newPage(t, d, url.Values{"name": {"Gull 90"}, "layout": {"bare"}, "template": {"sales"}, "purpose": {"sales"}, "product": {"gull"}})
	page, err := shop.App.Drafts.Draft(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "gull", shop.App.Render.Registry.Schema().Sells(page.Tree, ""))
	assert.Contains(t, d.Get(d.At("/goods/gull")).Body, "/pages/new?purpose=sales&amp;product=gull")
}
