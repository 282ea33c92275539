package shopfront_test

import (
	"maps"
	"net/http"
	"net/url"
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An address that looks mistyped is asked about once, whatever takes the order: with script
// and without, in one part and in several. Nothing is corrected unasked, and whoever stands
// by what they typed orders by it.
func TestASlipInACheckoutIsAskedAboutOnce(t *testing.T) {
	const slip, right = "ines@gmial.com", "ines@gmail.com"
	for _, parts := range []string{"1", "2"} {
		shop := openMailed(t)
		shop.Set("night-flight", "order-form", m.Fields{"parts": parts})
		last := map[string]string{"1": "", "2": "2"}[parts]

		// With script: told at the field, and held once by whoever presses before they can see it.
		b := shop.Browser()
		form := b.Form(b.Get("/night-flight"), b.Card("9200 0000 0000 0017"))
		form.Set("email", slip)
		form.Set("part", last)
		assert.Equal(t, right, b.Post("/night-flight/quote", form, "application/json").JSON(t)["meant"])
		checked := b.Post("/night-flight/checkout/fields", form, "application/json").JSON(t)
		assert.Contains(t, checked["errors"], "email")
		assert.Equal(t, right, checked["meant"])
		if parts == "2" {
			form.Set("part", "1")
			turned := b.Post("/night-flight/checkout/next", form, "application/json").JSON(t)
			assert.Contains(t, turned["errors"], "email")
			assert.Equal(t, right, turned["meant"])
			form.Set("part", last)
		}
		refused := b.Post("/night-flight/checkout", form, "application/json").JSON(t)
		assert.Contains(t, refused["errors"], "email")
		assert.Nil(t, refused["go"])
		assert.Zero(t, shop.Number("SELECT count(*) FROM orders WHERE email = $1", slip), "nothing is ordered by it")
		form.Set("sure", " "+slip)
		require.NotNil(t, b.Post("/night-flight/checkout", form, "application/json").JSON(t)["go"], "they stand by it")
		assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM orders WHERE email = $1 AND state = 'paid'", slip))

		// Without script: on the page, with a tick that takes what was meant.
		b = shop.Browser()
		form = b.Form(b.Get("/night-flight"), b.Card("9200 0000 0000 0017"))
		form.Set("email", slip)
		form.Set("part", last)
		held := b.Post("/night-flight/checkout", form, "")
		require.Equal(t, http.StatusUnprocessableEntity, held.Status)
		assert.Contains(t, held.Words(), "Did you mean "+right+"?")
		assert.Contains(t, held.Body, `name="sure" value="`+slip+`"`)
		assert.NotRegexp(t, `<button[^>]*name="use"`, held.Body, "no button that Enter in a field would press")
		stands := maps.Clone(form)
		form.Set("use", right)
		require.Equal(t, http.StatusSeeOther, b.Post("/night-flight/checkout", form, "").Status)
		assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM orders WHERE email = $1 AND state = 'paid'", right), "the tick takes what was meant")

		b = shop.Browser()
		fresh := b.Form(b.Get("/night-flight"), b.Card("9200 0000 0000 0017"))
		stands.Set("seen", fresh.Get("seen"))
		stands.Set("token", fresh.Get("token"))
		stands.Set("sure", slip)
		require.Equal(t, http.StatusSeeOther, b.Post("/night-flight/checkout", stands, "").Status)
	}
}

// What is no slip is asked of nobody, and a word of the form that says so cannot be made to
// say anything else.
func TestWhatIsNoSlipIsNotAskedAbout(t *testing.T) {
	shop := openMailed(t)
	b := shop.Browser()
	form := b.Form(b.Get("/night-flight"), b.Card("9200 0000 0000 0017"))
	for _, email := range []string{"ines@gmail.com", "ines@gmaik.example", "ines@readers.example", `"><script>@gmial.com`, "ines@\xffgmial.com"} {
		form.Set("email", email)
		form.Del("use")
		page := b.Post("/night-flight/checkout/fields", form, "application/json")
		require.Less(t, page.Status, http.StatusInternalServerError, email)
		form.Set("use", email)
		assert.NotContains(t, b.Post("/night-flight/checkout", form, "").Body, "<script>@", email)
	}
	form = url.Values{"email": {"ines@gmaik.example"}}
	assert.Empty(t, b.Post("/night-flight/quote", form, "application/json").JSON(t)["meant"])
}
