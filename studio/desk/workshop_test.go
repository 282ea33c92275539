package desk_test

import (
	"context"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatPagesSayOfTheStoreIsMendedInOnePlace(t *testing.T) {
	shop := testkit.Open(t)
	shop.Follow(t)
	d := testkit.SignIn(t, shop)
	words := url.Values{"name": {"Gustwell"}, "legal_name": {"Marta Venn"}, "legal_address": {"4 Sailmakers’ Row"}, "contact_email": {"hello@"}, "phone": {"call me"}, "privacy": {"What we keep."}, "terms": {""}}
	refused := d.Send("/store", words)
	assert.Contains(t, refused.Body, "Write it like name@example.org.")
	assert.Contains(t, refused.Body, "too few digits to be called")
	assert.Contains(t, refused.Body, "Write the terms on which you sell.")
	assert.Contains(t, refused.Body, `value="call me"`, "what was typed stays")
	words.Set("contact_email", "hello@gustwell.example")
	words.Set("phone", "+351 255 000 222")
	words.Set("terms", "Thirty days.")
	assert.Contains(t, d.Send("/store", words).Body, "Every page says so now.")
	visitor := shop.Browser()
	assert.Contains(t, visitor.Get("/night-flight").Body, "Marta Venn, 4 Sailmakers’ Row")
	assert.Contains(t, visitor.Get("/terms").Body, "Thirty days.")
}

func TestOwnCodeIsKeptNamedAndOutOfTheStudio(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	bad := d.Send("/store/own", url.Values{"own_name": {"Bar", ""}, "own_kind": {"foot", "styles"}, "own_text": {"</script>", ""}})
	assert.Contains(t, bad.Body, "Own code “Bar”")
	assert.Contains(t, bad.Body, "&lt;/script&gt;", "what was refused stays to be mended")
	assert.Contains(t, d.Send("/store/own", url.Values{"own_name": {"Footfall"}, "own_kind": {"measure"}, "own_text": {"https://count.example/t.js"}}).Body, "It runs on every page now.")
	assert.Contains(t, d.Send("/pages/night-flight/own", url.Values{"own_name": {"End"}, "own_kind": {"foot"}, "own_text": {"done()"}}).Body, "goes out when you publish")
	assert.Contains(t, d.Get(d.At("/publish")).Body, "own code", "the panel says what goes out")
	assert.NotContains(t, d.Get(d.At("/pages/night-flight/proof")).Body, "<script")
	ran := d.Get(d.At("/pages/night-flight/ran"))
	policy := ran.Header.Get("Content-Security-Policy")
	assert.Regexp(t, `^sandbox allow-scripts; .*script-src 'sha256-[^']+' https://count\.example;`, policy)
	assert.NotContains(t, policy, "allow-same-origin", "what runs there is somebody else")
	history := d.Get(d.At("/pages/night-flight/history")).Body
	assert.Contains(t, history, "changed the page’s own code")
}

// Two who write code of the store's own at once both find it on the pages.
func TestTheStoresOwnCodeIsMerged(t *testing.T) {
	shop := testkit.Open(t)
	one, two := testkit.SignIn(t, shop), testkit.SignIn(t, shop)
	first := one.Send("/store/own", url.Values{"own_was": {"[]"}, "own_name": {"Bar"}, "own_kind": {"styles"}, "own_text": {".bar{color:red}"}})
	assert.Contains(t, first.Body, "It runs on every page now.")
	second := two.Send("/store/own", url.Values{"own_was": {"[]"}, "own_name": {"Count"}, "own_kind": {"measure"}, "own_text": {"https://count.example/t.js"}})
	for _, want := range []string{"Bar", "Count"} {
		assert.Contains(t, second.Body, `value="`+want+`"`)
		assert.Contains(t, one.Get(one.At("/store")).Body, `value="`+want+`"`)
	}
	assert.Equal(t, http.StatusBadRequest, one.Send("/store/own", url.Values{"own_was": {"{"}}).Status)
}

func TestAnythingIsFoundByAWord(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	for asked, want := range map[string]string{
		"night":      `href="/pages/night-flight"`,
		"GULL":       `href="/goods/gull"`,
		"lantern we": `Lantern week`,
		"light wind": `href="/shelves?shelf=light-wind"`,
		"dunes":      `href="/pictures#picture-dunes"`,
		"phone":      `href="/store"`,
		"tax":        `href="/rates"`,
	} {
		assert.Contains(t, d.Get(d.At("/find?q="+url.QueryEscape(asked))).Body, want, asked)
	}
	assert.Contains(t, d.Get(d.At("/find?q="+url.QueryEscape("100%_<b>"))).Body, "Nothing is called “100%_&lt;b&gt;”.")
	assert.Contains(t, d.Get(d.At("/find")).Body, "House style", "nothing asked: what can be done")
}

func TestAnyTwoEditionsStandBesideEachOther(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	for _, words := range []string{"The second words", "The third words"} {
		require.Equal(t, http.StatusOK, d.Command("night-flight", testkit.Set("headline", "text", words)).Status)
		require.Contains(t, d.Send("/publish", url.Values{}).Body, "is live")
	}
	ids := regexp.MustCompile(`href="/editions/([^"]+)"`).FindAllStringSubmatch(d.Get(d.At("/publish")).Body, -1)
	require.Len(t, ids, 3)
	beside := d.Get(d.At("/editions/" + ids[1][1] + "?with=" + ids[2][1])).Body
	assert.Contains(t, beside, "Edition 2 and Edition 1")
	assert.Contains(t, beside, "<del>The second words</del>")
	assert.Contains(t, beside, "<ins>Fly the dark. Thirty grams of light, one steady line</ins>")
	assert.Contains(t, beside, `src="/editions/`+ids[2][1]+`/pages/night-flight"`)
	draft := d.Get(d.At("/editions/" + ids[0][1])).Body
	assert.Contains(t, draft, "Word for word the same.")
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/editions/"+ids[0][1]+"?with=none")).Status)
}

func TestAPackageGoesOutAndComesIn(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	out := d.Get(d.At("/pages/quiver-bag/package.zip"))
	assert.Equal(t, `attachment; filename="quiver-bag.zip"`, out.Header.Get("Content-Disposition"))
	refused := d.Upload("/packages", "package", nil, map[string]string{"page.zip": "not a zip"})
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Body, "is no zip file")
	assert.Contains(t, d.Upload("/packages", "other", nil, map[string]string{"page.zip": out.Body}).Body, "Choose the zip file")
	in := d.Upload("/packages", "package", nil, map[string]string{"page.zip": d.Get(d.At("/pages/night-flight/package.zip")).Body})
	to := in.Header.Get("HX-Redirect")
	require.Regexp(t, `^/pages/[a-z0-9]+$`, to, in.Body)
	assert.Contains(t, d.Get(d.At(to)).Body, "Fly the dark")
}

func TestAFeedFileFillsAList(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	_, err := shop.App.Desk.Edit(context.Background(), "marta", "night-flight", manuscript.Command{Op: manuscript.AddPiece, ID: firstBand(t, shop), Index: 9, New: &manuscript.Piece{ID: "posts", Kind: "social", Fields: manuscript.Fields{}}}, false)
	require.NoError(t, err)
	path := "/pages/night-flight/feed/posts/items"
	told := d.Upload(path, "feed", nil, map[string]string{"feed.json": `{"version":"https://jsonfeed.org/version/1.1","items":[
		{"url":"https://posts.example/1","content_text":"Over the dunes","image":"https://posts.example/files/Dunes.jpg"},{"url":"https://posts.example/2","content_text":"At sea","image":"sea.jpg"}]}`})
	require.Equal(t, http.StatusOK, told.Status, told.Body)
	assert.Contains(t, told.Body, "2 posts came in. The shelf lacks these pictures")
	assert.Contains(t, told.Body, "sea.jpg")
	assert.Contains(t, d.Get(d.At("/pages/night-flight/proof")).Body, `<a href="https://posts.example/1" title="Over the dunes">`)
	assert.Contains(t, d.Upload(path, "feed", nil, map[string]string{"x": "<html>"}).Body, "cannot be taken")
	require.Equal(t, http.StatusOK, d.Command("night-flight", map[string]any{"undo": true}).Status)
	assert.NotContains(t, d.Get(d.At("/pages/night-flight/proof")).Body, "posts.example", "undo takes it back")
}

func firstBand(t *testing.T, shop *testkit.Shop) string {
	t.Helper()
	draft, err := shop.App.Drafts.Draft(context.Background(), "night-flight")
	require.NoError(t, err)
	return draft.Tree.Bands[0].ID
}

func TestFilesAreTakenByTheirContent(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	kept := d.Upload("/files", "file", nil, map[string]string{"Line lengths.pdf": "%PDF-1.7 …"})
	require.Equal(t, http.StatusOK, kept.Status, kept.Body)
	assert.Contains(t, kept.Body, `"name":"Line lengths.pdf"`)
	assert.Regexp(t, `data-pick="file:[a-z0-9]+" title="Line lengths.pdf"`, d.Get(d.At("/choose/link?page=night-flight&q=lengths")).Body, "links can lead to it")
	assert.Contains(t, d.Upload("/files", "file", nil, map[string]string{"setup.exe": "MZ\x00\x90"}).Body, "cannot be handed out")
	assert.Contains(t, d.Upload("/videos", "video", nil, map[string]string{"a.mp4": "<html>"}).Body, "not a video that browsers play")
	assert.Contains(t, d.Upload("/pictures", "pictures", nil, map[string]string{"a.svg": `<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"/>`}).Body, "is a drawing (SVG)")
	assert.Contains(t, d.Upload("/videos", "other", nil, map[string]string{"a.mp4": ""}).Body, "Choose a file first.")
}

func TestIconsAreFoundByTheirWords(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	found := d.Get(d.At("/choose/sign?q=boat")).Body
	assert.Contains(t, found, `data-pick="kayak"`, "by what is said of it")
	assert.Contains(t, d.Get(d.At("/choose/sign?q=kayak")).Body, "1 of 1")
	assert.Contains(t, d.Get(d.At("/choose/sign?q=zzzz")).Body, "Nothing is found by that")
	all, err := regexp.Compile(`of (\d+)`)
	require.NoError(t, err)
	n := all.FindStringSubmatch(d.Get(d.At("/choose/sign?q=a")).Body)
	require.Len(t, n, 2)
	assert.GreaterOrEqual(t, len(n[1]), 4, "thousands")
}

// Whatever a field leads to or shows is found by a word, among however many.
func TestChoicesAreFoundByAWord(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`INSERT INTO products (id, name, form, category, tax_class, added_at) SELECT 'many-' || n, 'Kite number ' || n, 'physical', 'Many', 'standard', now() FROM generate_series(1, 500) n`)
	shop.Exec(`INSERT INTO variants (id, product_id, sku, price_minor, now_minor, stock) SELECT 'many-' || n, 'many-' || n, 'MANY-' || n, 1000, 1000, 1 FROM generate_series(1, 500) n`)
	d := testkit.SignIn(t, shop)
	find := func(kind, word string) string {
		return d.Get(d.At("/choose/" + kind + "?page=night-flight&q=" + url.QueryEscape(word))).Body
	}
	assert.Contains(t, find("product", "number 499"), `data-pick="many-499"`, "goods beyond what a list could show")
	assert.Contains(t, find("product", "MANY-42"), `data-pick="many-42"`, "by the beginning of a SKU")
	assert.Contains(t, find("picture", "dun"), `data-pick="dunes"`)
	assert.Contains(t, find("picture", "low sun"), `data-pick="dunes"`, "by what it shows")
	assert.NotContains(t, find("picture", "dun"), `data-pick="ember"`)
	for word, target := range map[string]string{
		"": `data-pick="checkout"`, "opening": `data-pick="band:opening"`, "quiver": `data-pick="page:quiver-bag"`, "ember": `data-pick="product:ember"`,
		"call": `data-pick="tel:"`, "mail": `data-pick="mailto:"`, "first page": `data-pick="home"`, "appointment": `data-pick="appointment"`,
	} {
		assert.Contains(t, find("link", word), target, word)
	}
	assert.NotContains(t, find("link", "night flight"), `data-pick="page:night-flight"`, "a page does not lead to itself")
	assert.Contains(t, find("link", "%_"), "Nothing is found", "signs of patterns are signs")
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/choose/secrets")).Status)
	slip := d.Get(d.At("/pages/night-flight/slip/order-form")).Body
	assert.Contains(t, slip, "Ember 180, with lantern and line, €68.00")
	assert.Less(t, strings.Count(slip, "<option"), 60, "no list of all goods")
}

// Two people keep code of their own from forms that were opened at once: neither
// takes the other's away.
func TestTwoPeoplesCodeStays(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	keep := func(name, was string) string {
		return d.Send("/pages/night-flight/own", url.Values{"own_was": {was}, "own_name": {name}, "own_kind": {"foot"}, "own_text": {"go()"}}).Body
	}
	keep("Mine", "null")
	both := keep("Theirs", "null")
	assert.Contains(t, both, `value="Mine"`)
	assert.Contains(t, both, `value="Theirs"`)
	was := regexp.MustCompile(`name="own_was" value="([^"]*)"`).FindStringSubmatch(both)
	require.NotNil(t, was)
	left := keep("Theirs", html.UnescapeString(was[1]))
	assert.NotContains(t, left, `value="Mine"`, "what was seen and left out goes")
}

// A proof is drawn for whoever is asked for: what they pay differs, and so does
// what is left of their time.
func TestAProofIsDrawnForAVisitor(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`UPDATE offers SET detail = detail || '{"link": "lantern-club"}' WHERE id IN (SELECT offer_id FROM offer_goods WHERE variant_id = 'ember') AND only_via = ''`)
	d := testkit.SignIn(t, shop)
	page := d.Get(d.At("/pages/night-flight")).Body
	assert.Contains(t, page, `<option value="link:lantern-club">who came by the link “lantern-club”</option>`)
	assert.Contains(t, page, `<option value="country:ES">who has it sent to Spain</option>`)
	says := func(as string) any { return d.Get(d.At("/pages/night-flight/proof.json?as=" + as)).JSON(t)["says"] }
	assert.Contains(t, says(""), "€68.00")
	assert.Contains(t, says("link:lantern-club"), "€51.00")
	assert.Contains(t, says("link:else"), "€68.00")
	for _, odd := range []string{"zone:Nowhere/Land", "country:", "first", "day", "%F0%9F%AA%81"} {
		assert.Contains(t, says(odd), "€68.00", odd)
	}
}
