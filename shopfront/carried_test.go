package shopfront_test

import (
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"chrysagon/app/offers"
	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a link from a mail brings along holds on whichever page is opened next: the page, its
// summary and its charge agree, until the buyer lets it go.
func TestALinkCarriesItsCodeAlong(t *testing.T) {
	shop, _ := open(t)
	offered(t, shop, offers.OfferInput{Name: "Letter", Kind: "order_amount_off", Members: map[string]string{"amount": "6.00"}, Covers: "all", Code: "Frost Letter"})
	lists(t, shop)
	ofProducts(t, shop)
	b := shop.Browser()
	landed := b.Get("/night-flight?code=frost+letter&utm_source=mail")
	assert.Contains(t, landed.Body, "€45.00")
	assert.Contains(t, landed.Body, `value="frost letter"`)
	const gull = "/goods/gull-90-single-line"
	assert.Contains(t, b.Get("/night-flight").Body, "€45.00", "and stays")
	page := b.Get(gull)
	total := regexp.MustCompile(`data-total>€(\d+)\.(\d+)<`).FindStringSubmatch(page.Body)
	require.Len(t, total, 3)
	without := regexp.MustCompile(`data-total>€(\d+)\.(\d+)<`).FindStringSubmatch(shop.Browser().Get(gull).Body)
	assert.NotEqual(t, without, total)
	form := b.Form(page, b.Card(approves))
	form.Set("code", "frost letter")
	require.NotNil(t, b.Post(gull+"/checkout", form, asJSON).JSON(t)["go"])
	charged := shop.Number(`SELECT amount_minor FROM payments WHERE state = 'charged' ORDER BY settled_at DESC LIMIT 1`)
	assert.Equal(t, total[1]+total[2], strconv.FormatInt(charged, 10), "what was shown")
	assert.NotContains(t, shop.Browser().Get("/night-flight").Body, "€45.00", "nobody else's")

	// A checkout that has no field for codes takes it all the same.
	shop.Set("night-flight", "order-form", m.Fields{"codes": "none"})
	assert.Contains(t, b.Get("/night-flight").Body, `type="hidden" name="code" value="frost letter"`)
	// Let go on one page, it is let go on all.
	form = b.Form(b.Get("/night-flight"), "")
	form.Set("code", "")
	b.Post("/night-flight/quote", form, asJSON)
	assert.NotContains(t, b.Get("/night-flight").Body, "€45.00")
	assert.NotContains(t, b.Get(gull).Body, "frost letter")
}

// What is no code is carried nowhere, and a robot carries nothing.
func TestWhatIsNoCodeIsNotCarried(t *testing.T) {
	shop, _ := open(t)
	for _, query := range []string{"code=" + strings.Repeat("x", 61), "code=", "code=%20", "via="} {
		answer := shop.Browser().Get("/night-flight?" + query)
		assert.Equal(t, http.StatusOK, answer.Status)
		assert.NotContains(t, strings.Join(answer.Header.Values("Set-Cookie"), ";"), "carried=", query)
	}
	kept := strings.Join(shop.Browser().Get("/night-flight?code=x%3B%22").Header.Values("Set-Cookie"), ";")
	assert.Contains(t, kept, "carried=code=x%3B%22")
	assert.Contains(t, strings.ToLower(kept), "httponly")
	assert.NotContains(t, strings.ToLower(kept), "domain=", "of this host alone")
	head := request(t, http.MethodHead, shop.App.Origins.Shop+"/night-flight?code=x")
	assert.NotContains(t, strings.Join(shop.Browser().Do(head).Header.Values("Set-Cookie"), ";"), "carried=")
}
