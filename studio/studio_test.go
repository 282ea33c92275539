package studio_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/demo"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestNobodyComesInUnasked(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	for _, path := range []string{"/", "/pages", "/pages/night-flight", "/offers", "/results", "/publish", "/pages/night-flight/proof"} {
		assert.Equal(t, "/sign-in", b.Get(shop.App.Origins.Studio+path).Location, path)
	}
	assert.Equal(t, http.StatusUnauthorized, b.Post(shop.App.Origins.Studio+"/publish", url.Values{}, "").Status)
	wrong := b.Post(shop.App.Origins.Studio+"/sign-in", url.Values{"email": {demo.Email}, "password": {"wrong"}}, "")
	unknown := b.Post(shop.App.Origins.Studio+"/sign-in", url.Values{"email": {"nobody@gustwell.example"}, "password": {"wrong"}}, "")
	for _, p := range []testkit.Page{wrong, unknown} {
		assert.Equal(t, http.StatusUnauthorized, p.Status)
		assert.Contains(t, p.Body, "do not belong together", "the same words whether or not the address is known")
	}
	for range 12 {
		wrong = b.Post(shop.App.Origins.Studio+"/sign-in", url.Values{"email": {demo.Email}, "password": {"wrong"}}, "")
	}
	assert.Equal(t, http.StatusTooManyRequests, wrong.Status)
	assert.Contains(t, wrong.Body, "Too many tries. Wait ")
}

func TestFormsNeedTheSessionsToken(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	forged := d.Post(d.At("/publish"), url.Values{"csrf": {"made-up"}}, "")
	assert.Equal(t, http.StatusForbidden, forged.Status)
	assert.Equal(t, http.StatusForbidden, d.Post(d.At("/sign-out"), url.Values{}, "").Status)
	assert.Equal(t, "/sign-in", d.Send("/sign-out", url.Values{}).Location)
	assert.Equal(t, "/sign-in", d.Get(d.At("/pages")).Location, "the session is over")
}

// The slice's promise: change a page, publish it, see it live, put it back.
func TestChangePublishPutBack(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	visitor := shop.Browser()
	require.Contains(t, visitor.Get("/night-flight").Body, "Thirty grams of light")
	changed := d.Command("night-flight", testkit.Set("headline", "text", `Night <b>kites</b> & "lanterns"`))
	require.Equal(t, http.StatusOK, changed.Status, changed.Body)
	assert.Contains(t, d.Get(d.At("/pages/night-flight/gauges")).JSON(t)["live"], "draft differs in 1 place")
	assert.Contains(t, visitor.Get("/night-flight").Body, "Thirty grams", "a draft is not live")
	assert.Contains(t, d.Get(d.At("/publish")).Body, "Opening changed")
	out := d.Send("/publish", url.Values{})
	assert.Contains(t, out.Body, "Edition 2 is live.")
	shop.Follow(t)
	live := visitor.Get("/night-flight").Body
	assert.Contains(t, live, "Night &lt;b&gt;kites&lt;/b&gt; &amp; &#34;lanterns&#34;", "words stay words")
	again := d.Send("/publish", url.Values{})
	assert.Equal(t, http.StatusUnprocessableEntity, again.Status, "nothing changed, so nothing is published")
	back := d.Send("/editions/frost-1/back", url.Values{})
	assert.Contains(t, back.Body, "Edition 1 is live again")
	shop.Follow(t)
	assert.Contains(t, visitor.Get("/night-flight").Body, "Thirty grams of light")
}

func TestUndoTakesBackWordsNotLetters(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	for _, text := range []string{"N", "Ni", "Nig", "Night"} {
		body := testkit.Set("headline", "text", text)
		body["joins"] = true
		require.Equal(t, http.StatusOK, d.Command("night-flight", body).Status)
	}
	undone := d.Command("night-flight", map[string]any{"undo": true})
	assert.Contains(t, undone.JSON(t)["sheet"], "Fly the dark. Thirty grams of light")
	redone := d.Command("night-flight", map[string]any{"redo": true})
	assert.Contains(t, redone.JSON(t)["sheet"], ">Night<")
	assert.Equal(t, http.StatusUnprocessableEntity, d.Command("night-flight", map[string]any{"redo": true}).Status)
}

func TestTwoWritersNeverOverwriteEachOther(t *testing.T) {
	shop := testkit.Open(t)
	one, two := testkit.SignIn(t, shop), testkit.SignIn(t, shop)
	require.Equal(t, http.StatusOK, one.Command("night-flight", testkit.Set("headline", "text", "Theirs")).Status)
	mine := map[string]any{"command": manuscript.Command{Op: manuscript.SetField, Piece: "headline", Field: "text", Value: "Mine", Was: "Fly the dark. Thirty grams of light, one steady line", Guard: true}}
	merged := two.Command("night-flight", mine)
	require.Equal(t, http.StatusOK, merged.Status)
	assert.Equal(t, "Theirs Mine", merged.JSON(t)["taken"], "both rewrote the same words, so both stay")
	assert.Contains(t, merged.JSON(t)["sheet"], "Theirs Mine")
	// Another field is another matter: both changes stand, and the second
	// writer is sent the sheet with the first one's words.
	both := two.Command("night-flight", map[string]any{"revision": 0, "command": manuscript.Command{Op: manuscript.SetField, Piece: "kite-name", Field: "text", Value: "Ember"}})
	assert.Contains(t, both.JSON(t)["sheet"], "Theirs")
}

func TestBandsComeGoAndMove(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	names := func(p testkit.Page) string {
		var all []string
		for _, m := range regexp.MustCompile(`data-band-field="name"[^>]*>([^<]*)<`).FindAllStringSubmatch(fmt.Sprint(p.JSON(t)["sheet"]), -1) {
			all = append(all, m[1])
		}
		return strings.Join(all, ", ")
	}
	moved := d.Command("night-flight", map[string]any{"command": manuscript.Command{Op: manuscript.MoveBand, ID: "hurry", Index: 1}})
	assert.Equal(t, "Opening, Timer, The kite, Why, Voices, Checkout, Legal footer", names(moved))
	added := d.Command("night-flight", map[string]any{"arrangement": "perks", "command": manuscript.Command{Op: manuscript.AddBand, Index: 2}})
	assert.Equal(t, "Opening, Timer, Perks, The kite, Why, Voices, Checkout, Legal footer", names(added))
	gone := d.Command("night-flight", map[string]any{"command": manuscript.Command{Op: manuscript.RemoveBand, ID: "order"}})
	assert.NotContains(t, names(gone), "Checkout")
	assert.Contains(t, gone.JSON(t)["gauges"], "This page needs one checkout; it has 0")
	refused := d.Send("/publish", url.Values{})
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status, "a page that cannot sell is not published")
	for _, bad := range []map[string]any{
		{"arrangement": "malware", "command": manuscript.Command{Op: manuscript.AddBand}},
		{"command": manuscript.Command{Op: "drop_table"}},
		testkit.Set("headline", "onclick", "x"),
		testkit.Set("headline", "text", strings.Repeat("x", 20_001)),
		{},
	} {
		assert.GreaterOrEqual(t, d.Command("night-flight", bad).Status, 400)
	}
}

// A deadline is changed once and changed everywhere.
func TestMovingTheDeadlineMovesPriceTimerAndCheckout(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	moved := d.Send("/deadlines", url.Values{"id": {"lantern-friday"}, "name": {"Lantern Friday"}, "at": {"2026-11-23T12:30"}})
	assert.Contains(t, moved.Body, "Monday 23 November 2026, 12:30")
	shop.Follow(t)
	page := shop.Browser().Get("/night-flight").Body
	assert.Contains(t, page, "Until Monday 23 November 2026, 12:30")
	future := d.Get(d.At("/pages/night-flight/proof.json?as_of=1795437000")).JSON(t) // 12:30 that day
	assert.Equal(t, "€68.00 · timer gone · checkout open", future["says"])
	for field, form := range map[string]url.Values{
		"name": {"id": {"lantern-friday"}, "name": {""}, "at": {"2026-11-27T23:59"}},
		"at":   {"id": {"lantern-friday"}, "name": {"x"}, "at": {"soon"}},
	} {
		assert.Contains(t, d.Send("/deadlines", form).Body, `role="alert"`, field)
	}
}

func TestOffersAreComputedWhileTheyAreWritten(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	week := func(pairs ...string) url.Values {
		form := url.Values{"id": {"lantern-week"}, "name": {"Lantern week"}, "kind": {"percent_off"}, "percent": {"50"}, "covers": {"goods"}, "goods": {"ember"}, "deadline": {"lantern-friday"}, "item": {"ember"}, "qty": {"1"}, "via": {"page"}}
		for i := 0; i < len(pairs); i += 2 {
			form.Set(pairs[i], pairs[i+1])
		}
		return form
	}
	receipt := d.Send("/offers/receipt", week("kind", "amount_off", "amount", "20,00")).Body
	assert.Contains(t, receipt, "€48.00")
	assert.Contains(t, receipt, "€68.00", "what holds after the deadline")
	assert.Contains(t, receipt, "€51.00 → <b>€48.00</b>", "what keeping it changes for everybody")
	assert.Contains(t, receipt, "Whoever has the page open and pays by")
	saved := d.Send("/offers", week())
	assert.Contains(t, saved.Body, "Every page, price and checkout that shows it follows.")
	proof := d.Get(d.At("/pages/night-flight/proof.json")).JSON(t)
	assert.Contains(t, proof["says"], "€34.00")
	meant := d.Send("/offers/receipt", week("first_order", "1", "link", "kite-letter")).Body
	assert.Contains(t, meant, "For a buyer who buys for the first time and came by the link kite-letter")
	assert.Contains(t, meant, "€34.00", "the receipt is that buyer's")
	for field, value := range map[string]string{"percent": "101", "goods": "nothing", "covers": "shelf", "name": "", "kind": "free", "deadline": "doomsday", "only": "everywhere", "starts": "2027-01-01T00:00"} {
		assert.Contains(t, d.Send("/offers", week("id", "", field, value)).Body, `class="bad" role="alert"`, field)
	}
}

func TestResultsCountWhatHappened(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	before, err := shop.App.Results.Results(context.Background(), "frost-lanterns", testkit.Start.AddDate(0, 0, -30))
	require.NoError(t, err)
	next, _ := shop.Browser().Buy("9200 0000 0000 0017")["go"].(string)
	require.NotEmpty(t, next)
	after, err := shop.App.Results.Results(context.Background(), "frost-lanterns", testkit.Start.AddDate(0, 0, -30))
	require.NoError(t, err)
	assert.Equal(t, before.Orders+1, after.Orders)
	assert.Equal(t, before.Revenue.Minor+5100, after.Revenue.Minor)
	var days int64
	for _, day := range after.Daily {
		days += day.Revenue.Minor
	}
	assert.Equal(t, after.Revenue.Minor, days, "the days add up to the whole")
	assert.Contains(t, d.Get(d.At("/results")).Body, after.Revenue.String())
}

func TestAnAddressIsKeptSound(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	name := func(address string) testkit.Page {
		return d.Command("night-flight", map[string]any{"command": manuscript.Command{Op: manuscript.SetPage, Field: manuscript.Address, Value: address}})
	}
	for _, bad := range []string{"", "Näh", "a b", "-a", "a--b", "../etc", "orders", "quiver-bag", strings.Repeat("a", 61)} {
		refused := name(bad)
		assert.GreaterOrEqual(t, refused.Status, 400, bad)
		assert.Regexp(t, "An address has only small letters|the shop's own|already has the address", refused.JSON(t)["detail"])
	}
	assert.Contains(t, name("lantern-kite").JSON(t)["sheet"], "/lantern-kite")
}

// Somebody who is behind asks for the sheet as it stands.
func TestTheSheetAsItStands(t *testing.T) {
	shop := testkit.Open(t)
	one, two := testkit.SignIn(t, shop), testkit.SignIn(t, shop)
	one.Command("night-flight", testkit.Set("headline", "text", "From one"))
	told := two.Get(two.At("/pages/night-flight/sheet.json")).JSON(t)
	assert.InDelta(t, 1, told["revision"], 0)
	assert.Contains(t, told["sheet"], "From one")
	assert.Contains(t, told["gauges"], "Ways out")
	assert.Contains(t, fmt.Sprint(told["proof"]), "From one")
}

// What is not JSON, or says nothing to do, is told so, and changes nothing.
func TestACommandThatCannotBeReadIsTold(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	for body, say := range map[string]string{
		`{"command":`:               "ends too soon",
		`{"command":{"op":1}}`:      "is a number there",
		`{"command" "op"}`:          "broken at byte",
		``:                          "ends too soon",
		`{}`:                        "says nothing to do",
		`{"joins":true}`:            "says nothing to do",
		`{"arrangement":"opening"}`: "says nothing to do",
	} {
		req, err := http.NewRequest(http.MethodPost, d.At("/pages/night-flight/commands"), strings.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("X-Csrf-Token", d.CSRF)
		page := d.Do(req)
		assert.Equal(t, http.StatusBadRequest, page.Status, body)
		assert.Contains(t, page.Body, say, body)
		assert.Contains(t, page.Body, "Nothing was changed", body)
	}
}
