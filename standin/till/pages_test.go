package till_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Who buys without script types the card on the till's own page and goes back.
func TestACardIsTypedOnTheTillsOwnPage(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	till, back := shop.App.Origins.Till, shop.App.Origins.Shop+"/night-flight"
	page := b.Get(till + "/card?return=" + url.QueryEscape(back))
	assert.Contains(t, page.Body, `value="`+back+`"`)
	form := url.Values{"return": {back}, "number": {"9200 0000 0000 0017"}, "expiry": {"08/31"}, "code": {"123"}}
	for field, c := range map[string]struct{ value, says string }{
		"number": {"9200 0000 0000 0018", "number"}, "expiry": {"01/20", "has expired"}, "code": {"12", "security code"},
	} {
		wrong := url.Values{}
		for name := range form {
			wrong.Set(name, form.Get(name))
		}
		wrong.Set(field, c.value)
		refused := b.Post(till+"/card", wrong, "")
		assert.Equal(t, http.StatusUnprocessableEntity, refused.Status, field)
		assert.Contains(t, refused.Body, c.says, field)
		assert.Contains(t, refused.Body, "Nothing was charged.", field)
	}
	taken := b.Post(till+"/card", form, "")
	assert.Equal(t, http.StatusSeeOther, taken.Status)
	assert.True(t, strings.HasPrefix(taken.Location, back+"?token="), taken.Location)
}

// The till leads back to its own shop and nowhere else.
func TestTheTillLeadsNowhereElse(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	till := shop.App.Origins.Till
	for _, address := range []string{"https://elsewhere.example/", shop.App.Origins.Shop + ".elsewhere.example/", strings.Replace(shop.App.Origins.Shop, "://", "://shop@", 1) + "/x", "javascript:alert(1)", "//elsewhere.example", ""} {
		assert.Equal(t, http.StatusBadRequest, b.Get(till+"/card?return="+url.QueryEscape(address)).Status, address)
		assert.Equal(t, http.StatusBadRequest, b.Post(till+"/card", url.Values{"return": {address}, "number": {"9200000000000017"}, "expiry": {"08/31"}, "code": {"123"}}, "").Status, address)
	}
}

func TestTheLedgerTellsEachCharge(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	before := b.Get(shop.App.Origins.Till + "/")
	assert.Contains(t, before.Body, "Nothing has been charged yet.")
	assert.Contains(t, before.Body, "9200 0000 0000 0025", "the test cards are named")
	bought := b.Buy("9200000000000017")
	require.NotNil(t, bought)
	after := b.Get(shop.App.Origins.Till + "/")
	assert.Contains(t, after.Body, "ends in 0017")
	assert.NotContains(t, strings.ReplaceAll(after.Body, " ", ""), "<td>9200000000000017</td><tdclass=\"num\"", "no whole number stands in the ledger")
	assert.Contains(t, after.Body, "€51.00")
	assert.Equal(t, http.StatusNotFound, b.Get(shop.App.Origins.Till+"/confirm/none").Status)
	for _, key := range []string{"", "Bearer wrong"} {
		req, err := http.NewRequest(http.MethodPost, shop.App.Origins.Till+"/api/charges", strings.NewReader("{}"))
		require.NoError(t, err)
		req.Header.Set("Authorization", key)
		refused := b.Do(req)
		assert.Equal(t, http.StatusUnauthorized, refused.Status)
		assert.Contains(t, refused.Header.Get("Content-Type"), "application/problem+json", "RFC 9457")
	}
}
