package shopfront_test

import (
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const quickNotice = "That was quick. Press once more"

// A form that is sent sooner than anybody could fill it in is asked for once more, with all
// that was typed; a press two seconds later is taken. So it is for every kind of form.
func TestAFormThatIsSentAtOnceIsAskedForOnceMore(t *testing.T) {
	shop := openMailed(t)
	leads := func(email string) int64 {
		return shop.Number("SELECT count(*) FROM leads WHERE email = $1", email)
	}
	onPage(t, shop.Shop, manuscript.Piece{ID: "loft", Kind: "appointment", Fields: manuscript.Fields{"minutes": "30", "what": "A fitting in the loft"}})
	for piece, form := range map[string]url.Values{
		"/seven-knots/forms/k-form": {"email": {"quick@readers.example"}, "consent": {"1"}},
		"/night-flight/forms/loft":  {"email": {"slot@readers.example"}, "name": {"Ines"}},
	} {
		b := shop.Quick()
		page := b.Get(strings.Split(piece, "/forms/")[0])
		if strings.HasSuffix(piece, "loft") {
			form.Set("slot", regexp.MustCompile(`name="slot" value="([^"]+)"`).FindStringSubmatch(page.Body)[1])
		}
		email := form.Get("email")
		for range 2 {
			held := b.Post(piece, form, "")
			require.Equal(t, http.StatusUnprocessableEntity, held.Status, piece)
			assert.Contains(t, held.Words(), quickNotice)
			assert.Contains(t, held.Body, `value="`+email+`"`)
			assert.Zero(t, leads(email))
			if form.Has("consent") {
				assert.Contains(t, held.Body, `name="consent" value="1" required checked`, "the tick stays")
			}
		}
		shop.Clock.Advance(2 * time.Second)
		require.Equal(t, http.StatusSeeOther, b.Post(piece, form, "").Status, piece)
		assert.Equal(t, int64(1), leads(email))
	}
}

// Who was given no page, and keeps no cookies, is asked for a press too, and can give it;
// what they say of when they came must be a moment that can be.
func TestAFormOfABrowserWithoutCookies(t *testing.T) {
	shop := openMailed(t)
	const email = "bare@readers.example"
	send := func(came string) testkit.Page {
		form := url.Values{"email": {email}, "consent": {"1"}}
		if came != "" {
			form.Set("came", came)
		}
		return shop.Quick().Post("/seven-knots/forms/k-form", form, "") // a jar of its own each time
	}
	at := func(ago time.Duration) string {
		return strconv.FormatInt(shop.Clock.Now().Add(-ago).UnixMilli(), 10)
	}
	for _, came := range []string{"", "soon", `"><b>`, "-1", "99999999999999999999", at(0), at(time.Second), at(-time.Hour), at(25 * time.Hour)} {
		held := send(came)
		require.Equal(t, http.StatusUnprocessableEntity, held.Status, came)
		assert.NotContains(t, held.Body, `"><b>`)
	}
	assert.Zero(t, shop.Number("SELECT count(*) FROM leads WHERE email = $1", email))
	held := send("")
	assert.Contains(t, held.Body, `name="came" value="`+at(0)+`"`)
	moment := at(0)
	shop.Clock.Advance(3 * time.Second)
	assert.Equal(t, http.StatusSeeOther, send(moment).Status)
}

// A robot is told nothing of when it came, and what is asked by HEAD is no visit.
func TestOnlyNewBrowsersAreTimed(t *testing.T) {
	shop := openMailed(t)
	for agent, want := range map[string]int{testkit.Agent: 2, "Somebot/2.1": 0} {
		req, err := http.NewRequest(http.MethodGet, shop.App.Origins.Shop+"/seven-knots", nil)
		require.NoError(t, err)
		req.Header.Set("User-Agent", agent)
		assert.Len(t, shop.Quick().Do(req).Header.Values("Set-Cookie"), want, agent)
	}
	req, err := http.NewRequest(http.MethodHead, shop.App.Origins.Shop+"/seven-knots", nil)
	require.NoError(t, err)
	assert.Empty(t, shop.Quick().Do(req).Header.Values("Set-Cookie"))
	b := shop.Quick()
	b.Get("/seven-knots")
	shop.Clock.Advance(-time.Hour) // a clock that was put right holds up nobody
	assert.Equal(t, http.StatusSeeOther, b.Post("/seven-knots/forms/k-form", url.Values{"email": {"clock@readers.example"}, "consent": {"1"}}, "").Status)
	assert.Empty(t, b.Get("/seven-knots").Header.Values("Set-Cookie"), "once")
}
