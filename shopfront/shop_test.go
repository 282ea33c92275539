package shopfront_test

import (
	"encoding/xml"
	"image/png"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/internal/server"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAddressesThatLeadNowhereSaySo(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	for _, path := range []string{"/nothing", "/night-flight/x", "/pictures/none.svg", "/orders/made-up", "/quiver-bag", "/thank-you?order=made-up", "/%00", "/..%2fetc", "/assets/none.js"} {
		page := b.Get(path)
		assert.Equal(t, http.StatusNotFound, page.Status, path)
		assert.NotContains(t, page.Body, "goroutine", path)
	}
	assert.Equal(t, "/night-flight", b.Get("/").Location, "the shop opens on its campaign")
	assert.Equal(t, "/night-flight#checkout", b.Get("/night-flight/checkout").Location)
}

func TestHostsThatAreNotOursAreRefused(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	for _, host := range []string{"elsewhere.example", "shop.localhost.elsewhere.example", "localhost.elsewhere.example"} {
		req, err := http.NewRequest(http.MethodGet, shop.App.Origins.Shop+"/night-flight", nil)
		require.NoError(t, err)
		req.Host = host
		page := b.Do(req)
		assert.Equal(t, http.StatusMisdirectedRequest, page.Status, host)
		assert.NotContains(t, page.Body, host, "a made-up host is not repeated")
	}
}

func TestPagesCarryTheirPolicies(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	for range 2 { // drawn, then kept
		page := b.Get("/night-flight")
		policy := page.Header.Get("Content-Security-Policy")
		assert.Contains(t, policy, "default-src 'none'")
		assert.NotContains(t, policy, "unsafe")
		assert.Contains(t, policy, "frame-src "+shop.App.Origins.Till)
		assert.Equal(t, "nosniff", page.Header.Get("X-Content-Type-Options"))
	}
	studio := b.Get(shop.App.Origins.Studio + "/sign-in").Header.Get("Content-Security-Policy")
	assert.Contains(t, studio, "script-src 'self'; style-src 'self'")
	assert.NotContains(t, studio, "unsafe")
	cookie := shop.Browser().Get("/night-flight").Header.Get("Set-Cookie")
	assert.Contains(t, cookie, "HttpOnly")
	assert.NotContains(t, strings.ToLower(cookie), "domain=", "the cookie is this host's only")
}

func TestPicturesAreKeptForEverAndCannotRun(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight").Body
	card := regexp.MustCompile(`<meta property="og:image" content="[^"]*(/pictures/[a-z0-9]+\.png)">`).FindStringSubmatch(page)
	require.NotNil(t, card, "a shared card can be shown the page's drawn picture")
	for range 2 { // made the first time, kept the second
		pixels := b.Get(card[1])
		config, err := png.DecodeConfig(strings.NewReader(pixels.Body))
		require.NoError(t, err)
		assert.Equal(t, 1200, config.Width)
		assert.Equal(t, "image/png", pixels.Header.Get("Content-Type"))
	}
	at := page[strings.Index(page, `src="/pictures/`)+5:]
	pic := b.Get(at[:strings.Index(at, `"`)])
	assert.Equal(t, "image/svg+xml", pic.Header.Get("Content-Type"))
	assert.Contains(t, pic.Header.Get("Cache-Control"), "immutable")
	assert.Contains(t, pic.Header.Get("Content-Security-Policy"), "sandbox")
}

func TestLegalPagesStand(t *testing.T) {
	shop, _ := open(t)
	for path, words := range map[string]string{"/privacy": "Your card number never reaches us", "/terms": "within 30 days", "/contact": "hello@gustwell.example"} {
		page := shop.Browser().Get(path)
		assert.Equal(t, http.StatusOK, page.Status)
		assert.Contains(t, page.Body, words)
	}
}

func TestAFormThatIsTooLargeIsRefused(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	form := b.Form(page, b.Card(approves))
	form.Set("name", strings.Repeat("n", 300_000))
	assert.Equal(t, http.StatusRequestEntityTooLarge, b.Post("/night-flight/checkout", form, "").Status)
	books.hold(t, 0, 0)
}

func TestABumpThatRanOutIsTakenOffAndTold(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	shop.Exec(`UPDATE variants SET stock = 0 WHERE id = 'lantern-cell'`)
	form := b.Form(page, b.Card(approves))
	form.Set("bump", "1")
	answer := b.Post("/night-flight/checkout", form, asJSON).JSON(t)
	assert.Contains(t, answer["notice"], "add-on is no longer to be had")
	assert.Equal(t, "€51.00", answer["total"])
	books.hold(t, 0, 0)
}

// A price raised by hand between view and pay is told first, once the grace
// time since the change is over; a lower one is charged at once.
func TestAPriceChangedByHand(t *testing.T) {
	shop, books := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight")
	shop.Exec(`UPDATE variants SET price_minor = 8000 WHERE id = 'ember'`)
	answer := b.Post("/night-flight/checkout", b.Form(page, b.Card(approves)), asJSON).JSON(t)
	assert.Contains(t, answer["notice"], "the total is now €60.00")
	books.hold(t, 0, 0)
	shop.Exec(`UPDATE variants SET price_minor = 4000 WHERE id = 'ember'`)
	require.NotNil(t, b.Post("/night-flight/checkout", b.Form(page, b.Card(approves)), asJSON).JSON(t)["go"])
	assert.Equal(t, int64(3000), shop.Number(`SELECT total_minor FROM orders ORDER BY number DESC LIMIT 1`))
	books.hold(t, 1, 1)
}

func TestQuotesFollowTheBump(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	assert.Equal(t, "€51.00", b.Post("/night-flight/quote", url.Values{}, asJSON).JSON(t)["total"])
	assert.Equal(t, "€58.00", b.Post("/night-flight/quote", url.Values{"bump": {"1"}}, asJSON).JSON(t)["total"])
	assert.Equal(t, http.StatusNotFound, b.Post("/thank-you/quote", url.Values{}, asJSON).Status)
}

// Too many forms in a minute are refused in words: on a page of their own, and
// to the checkout's script as a notice it can show. What an order comes to is asked at every
// change of it, so that four times as many pass, and hold up no order.
func TestTooManyFormsAreRefusedInWords(t *testing.T) {
	shop := testkit.OpenWith(t, func(o *server.Options) { o.Forms = 2 })
	b := shop.Browser()
	form := b.Form(b.Get("/night-flight"), "")
	for range 8 {
		assert.Equal(t, http.StatusOK, b.Post("/night-flight/quote", form, asJSON).Status)
	}
	for range 2 {
		assert.Equal(t, http.StatusOK, b.Post("/night-flight/checkout/fields", form, asJSON).Status)
	}
	for _, path := range []string{"/night-flight/quote", "/night-flight/checkout/fields", "/night-flight/checkout"} {
		refused := b.Post(path, form, asJSON)
		assert.Equal(t, http.StatusTooManyRequests, refused.Status)
		assert.Contains(t, refused.JSON(t)["notice"], "Wait a minute", path)
	}
	page := b.Post("/night-flight/checkout", form, "")
	assert.Equal(t, http.StatusTooManyRequests, page.Status)
	assert.Contains(t, page.Body, "Wait a minute")
}

// What the sitemap protocol asks (sitemaps.org/protocol.html, from memory): its
// namespace, absolute addresses, dates of W3C's format. Pages of an order are
// not for everybody.
func TestTheSitemapListsWhatAnybodyMayOpen(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	page := b.Get("/sitemap.xml")
	assert.Contains(t, page.Header.Get("Content-Type"), "application/xml")
	var set struct {
		XMLName xml.Name `xml:"http://www.sitemaps.org/schemas/sitemap/0.9 urlset"`
		URLs    []struct {
			Loc     string `xml:"loc"`
			LastMod string `xml:"lastmod"`
		} `xml:"url"`
	}
	require.NoError(t, xml.Unmarshal([]byte(page.Body), &set))
	require.Len(t, set.URLs, 1, "not the upsell, not the thank-you page")
	assert.Equal(t, shop.App.Origins.Shop+"/night-flight", set.URLs[0].Loc)
	_, err := time.Parse(time.RFC3339, set.URLs[0].LastMod)
	require.NoError(t, err)
	robots := b.Get("/robots.txt").Body
	assert.Contains(t, robots, "Sitemap: "+shop.App.Origins.Shop+"/sitemap.xml")
	assert.Contains(t, robots, "Disallow: /orders/")
}

// Bytes that are no text reach no query, whoever sends them.
func TestUnreadableBytesAreRefusedOrDropped(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	for _, path := range []string{"/%00", "/%ff%fe", "/pictures/%00.jpg", "/orders/%00"} {
		assert.Equal(t, http.StatusNotFound, b.Get(path).Status, path)
	}
	assert.Equal(t, http.StatusBadRequest, b.Get("/night-flight?via=%00").Status)
	answer := b.Post("/night-flight/checkout", url.Values{"name": {"In\x00es"}, "email": {"in\xffes@example.org"}, "requote": {"1"}}, "")
	assert.Less(t, answer.Status, 500)
}
