package shopfront_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is said of a product stands on its page, in what search engines read and in the
// tables of goods, and follows at once when it changes.
func TestWhatIsSaidOfAProduct(t *testing.T) {
	shop, _ := open(t)
	ofProducts(t, shop)
	b, d := shop.Browser(), testkit.SignIn(t, shop)
	const gull = "/goods/gull-90-single-line"
	at := b.Get(gull).Body
	for _, has := range []string{"<li>Packs to the length of an umbrella</li>", `<dt>Wingspan</dt><dd>90 cm</dd>`, `<dt>Flies in light wind</dt><dd>no</dd>`, `"description":"The kite most people here began with.`} {
		assert.Contains(t, at, has)
	}
	describe := func(text string) string {
		answer := d.Send("/goods/gull/description", url.Values{"text": {text}})
		shop.Forget()
		return answer.Body
	}
	assert.Contains(t, describe(`<p>It <b>forgives</b> <a href="javascript:go()">all</a>.<img src=x onerror=go()></p>`), "Kept.")
	for _, where := range []string{gull, gull + "-returned"} {
		assert.Contains(t, b.Get(where).Body, "<p>It <b>forgives</b> all.</p>", "of all its variants")
	}
	assert.Contains(t, d.Get(d.At("/goods/gull")).Body, "<p>It <b>forgives</b> all.</p>")
	assert.Contains(t, d.Get(d.At("/goods/goods.csv")).Body, "<p>It <b>forgives</b> all.</p>")
	assert.Contains(t, describe(strings.Repeat("x", 20_001)), "longer than 20,000 characters")
	assert.Equal(t, http.StatusNotFound, d.Send("/goods/none/description", url.Values{"text": {"x"}}).Status)

	require.Contains(t, describe(""), "Kept.")
	at = b.Get(gull).Body
	assert.NotContains(t, at, "forgives")
	assert.Contains(t, at, `<dt>Wingspan</dt>`, "its attributes stay")
	shop.Exec(`UPDATE variants SET attributes = '{}' WHERE id = 'gull'`)
	shop.Forget()
	assert.NotContains(t, b.Get(gull).Body, "<dt>")
}

// Beside a product stands what its own shelves hold, those of the smallest first, without
// itself; a product that is on none has nothing there.
func TestWhatStandsBesideAProduct(t *testing.T) {
	shop, _ := open(t)
	ofProducts(t, shop)
	b := shop.Browser()
	beside := func(address string) []string {
		_, list, _ := strings.Cut(b.Get("/goods/"+address).Body, "<h2>From the same bench")
		list, _, _ = strings.Cut(list, "<footer")
		var names []string
		for _, part := range strings.Split(list, `<li class="card`)[1:] {
			_, name, _ := strings.Cut(part, `href="/`)
			name, _, _ = strings.Cut(name, `"`)
			names = append(names, name)
		}
		return names
	}
	shop.Exec(`UPDATE shelves SET shelf = '{"rule": {"all": [{"field": "price", "at_least": 99999999}]}}'`)
	shop.Forget()
	assert.Empty(t, beside("gull-90-single-line"))
	assert.NotContains(t, b.Get("/goods/gull-90-single-line").Body, `class="shelf"`)

	shop.Exec(`INSERT INTO shelves (id, name, shelf) VALUES ('a-all', 'Everything', '{"rule": {"all": [{"field": "price", "at_least": 1}]}, "order": [{"by": "price"}]}'),
		('z-dear', 'Dearest', '{"rule": {"all": [{"field": "price", "at_least": 1}]}, "order": [{"by": "price", "down": true}], "limit": 2}'),
		('few', 'Gifts', '{"rule": {"all": [{"field": "tag", "is": ["gift"]}, {"field": "price", "at_most": 2500}]}, "order": [{"by": "price"}]}')`)
	shop.Forget()
	assert.Equal(t, []string{"goods/repair-kit-in-a-tin", "goods/beech-reel", "goods/gull-90-single-line-returned", "goods/spare-lantern-cell"}, beside("tern-60-pocket-kite"), "the gifts first, then the cheapest of all")
	assert.Equal(t, "goods/loom-four-line", beside("tramontane-3-5-power-kite")[0], "of the two dearest the other")
	assert.NotContains(t, beside("loom-four-line"), "goods/loom-four-line")
}
