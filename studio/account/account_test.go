package account_test

import (
	"net/http"
	"net/url"
	"testing"

	"chrysagon/app/account"
	"chrysagon/core/refusal"
	"chrysagon/internal/server"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A store that was just begun can be looked at in every place, says what to do
// first, and lets no checkout out while nobody could pay.
func TestANewStoreSaysWhatToDoFirst(t *testing.T) {
	s := testkit.Empty(t)
	b := account.Beginning{Store: "Dune Post", Currency: "EUR", Zone: "Europe/Lisbon", Country: "PT", Owner: "Ines Prado", Email: "ines@dune-post.example", Password: "four words over dunes"}
	require.NoError(t, account.Begin(t.Context(), s, b, testkit.Start))
	shop := testkit.On(t, s, func(o *server.Options) { o.StandIns, o.Demo = nil, false })
	stranger := shop.Browser()
	assert.NotContains(t, stranger.Get(shop.App.Origins.Studio+"/sign-in").Body, "demo", "no sign-in is shown")
	d := testkit.SignInAs(t, shop, b.Email, b.Password)
	page := d.Get(d.At("/pages"))
	for _, say := range []string{"What to do first", "Say who you are", "Bring your goods in", "No payment gateway is connected", "No mail server is set"} {
		assert.Contains(t, page.Body, say)
	}
	for _, path := range []string{"/season", "/goods", "/offers", "/results", "/shelves", "/rates", "/store", "/house", "/pictures", "/pages/new", "/account", "/publish"} {
		assert.Equal(t, http.StatusOK, d.Get(d.At(path)).Status, path)
	}
	for _, host := range []string{"till", "letterbox", "book"} {
		answer := d.Get(at(shop, host) + "/")
		assert.Equal(t, http.StatusMisdirectedRequest, answer.Status, "no stand-in is run: %s", host)
		for _, name := range []string{"Content-Security-Policy", "X-Content-Type-Options", "Referrer-Policy", "Permissions-Policy"} {
			assert.NotEmpty(t, answer.Header.Get(name), name)
		}
	}
}

// at is the address of a host below localhost at a shop's port.
func at(shop *testkit.Shop, host string) string {
	u, err := url.Parse(shop.App.Origins.Studio)
	if err != nil {
		panic(err)
	}
	return "http://" + host + ".localhost:" + u.Port()
}

// Without a gateway no checkout goes out, and one that is live sells nothing.
func TestWithoutAGatewayNoCheckoutGoesOut(t *testing.T) {
	shop := testkit.OpenWith(t, func(o *server.Options) { o.StandIns = nil })
	d := testkit.SignIn(t, shop)
	panel := d.Get(d.At("/publish"))
	assert.Contains(t, panel.Body, "No payment gateway is connected")
	_, err := shop.App.Publishing.Publish(t.Context(), "frost-lanterns", "Marta")
	require.ErrorIs(t, err, refusal.ErrInvalid)
	live := d.Get("/night-flight")
	assert.Equal(t, http.StatusOK, live.Status)
	assert.Contains(t, live.Body, "No payment can be taken here at the moment.")
	sent := d.Post("/night-flight/checkout", url.Values{"name": {"Ines"}, "email": {"ines@example.org"}}, "application/json")
	assert.Contains(t, sent.Body, "Nothing was charged")
	assert.Zero(t, shop.Number("SELECT count(*) FROM payments WHERE state = 'asked'"))
}

func TestThePlaceOfSigningIn(t *testing.T) {
	shop := testkit.Open(t)
	d, other := testkit.SignIn(t, shop), testkit.SignIn(t, shop)
	page := d.Get(d.At("/account"))
	assert.Contains(t, page.Body, "Firefox on Linux")
	assert.Contains(t, page.Body, "this one")
	wrong := d.Send("/account/password", url.Values{"now": {"wrong"}, "next": {"four words over dunes"}})
	assert.Contains(t, wrong.Body, "This is not your password now.")
	require.Equal(t, http.StatusNoContent, d.Send("/account/end", url.Values{}).Status)
	assert.Equal(t, "/sign-in", other.Get(d.At("/pages")).Location)
	assert.Equal(t, http.StatusOK, d.Get(d.At("/pages")).Status)
	changed := d.Send("/account/password", url.Values{"now": {"lantern-kite-demo"}, "next": {"four words over dunes"}})
	assert.Contains(t, changed.Body, "Changed.")
}
