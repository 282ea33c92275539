package publishing_test

import (
	"net/http"
	"net/url"
	"regexp"
	"testing"
	"time"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is planned happens in its second, without anybody at the desk, and ends
// in its second again.
func TestAnEditionIsPlannedFromAMomentUntilAnother(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	visitor := shop.Browser()
	require.Equal(t, http.StatusOK, d.Command("night-flight", testkit.Set("headline", "text", "Only this weekend")).Status)

	for _, moment := range []string{"tomorrow", "2026-13-40 25:00"} {
		vague := d.Send("/publish/plan", url.Values{"from": {moment}})
		assert.Equal(t, http.StatusUnprocessableEntity, vague.Status)
		assert.Contains(t, vague.Body, "Write the moment as a day and a time", moment)
	}
	past := d.Send("/publish/plan", url.Values{"from": {"2026-11-20 08:00"}})
	assert.Equal(t, http.StatusUnprocessableEntity, past.Status, past.Body)

	planned := d.Send("/publish/plan", url.Values{"from": {"2026-11-27T06:00"}, "until": {"2026-11-29T23:59"}, "after": {"back"}})
	require.Equal(t, http.StatusOK, planned.Status, planned.Body)
	assert.Contains(t, planned.Body, "Edition 2 goes live on")
	assert.Len(t, regexp.MustCompile(`/publish/plan/[a-z0-9]+/forget`).FindAllString(planned.Body, -1), 2, "its beginning and its end stand in the panel")
	reads := func() string {
		shop.Follow(t)
		return visitor.Get("/night-flight").Body
	}
	assert.Contains(t, reads(), "Thirty grams of light")
	begins := time.Date(2026, 11, 27, 6, 0, 0, 0, time.UTC)
	shop.Clock.Advance(begins.Sub(testkit.Start) - time.Second)
	assert.Contains(t, reads(), "Thirty grams of light", "a second before")
	shop.Clock.Advance(time.Second)
	assert.Contains(t, reads(), "Only this weekend", "in its second")
	shop.Clock.Advance(66 * time.Hour)
	assert.Contains(t, reads(), "Thirty grams of light", "the edition before is back")
	assert.NotContains(t, d.Get(d.At("/publish")).Body, "<h3>Planned</h3>", "all of it has happened")
}

func TestWhatIsPlannedCanBeForgotten(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	require.Equal(t, http.StatusOK, d.Command("night-flight", testkit.Set("headline", "text", "Never seen")).Status)
	planned := d.Send("/publish/plan", url.Values{"from": {"2026-11-27T06:00"}}).Body
	forget := regexp.MustCompile(`/publish/plan/[a-z0-9]+/forget`).FindString(planned)
	require.NotEmpty(t, forget, planned)
	assert.Contains(t, d.Send(forget, url.Values{}).Body, "That is not planned any more.")
	shop.Clock.Advance(30 * 24 * time.Hour)
	shop.Follow(t)
	assert.NotContains(t, shop.Browser().Get("/night-flight").Body, "Never seen")
}

func TestPagesAreTakenDownForASuccessor(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	visitor := shop.Browser()
	own := d.Send("/publish/withdraw", url.Values{"after": {"page:quiver-bag"}})
	assert.Equal(t, http.StatusUnprocessableEntity, own.Status)
	assert.Contains(t, own.Body, "is taken down too")
	assert.Equal(t, http.StatusOK, visitor.Get("/night-flight").Status, "what was refused took nothing down")
	assert.Equal(t, http.StatusNotFound, d.Send("/publish/withdraw", url.Values{"after": {"page:none"}}).Status)

	down := d.Send("/publish/withdraw", url.Values{})
	assert.Contains(t, down.Body, "The pages are taken down.")
	shop.Follow(t)
	gone := visitor.Get("/night-flight")
	assert.Equal(t, http.StatusNotFound, gone.Status)
	assert.Contains(t, gone.Body, "Gustwell", "a page of the shop says so")
	assert.Contains(t, d.Send("/editions/frost-1/back", url.Values{}).Body, "Edition 1 is live again")
	shop.Follow(t)
	assert.Equal(t, http.StatusOK, visitor.Get("/night-flight").Status)
}

func TestTheShopOpensOnTheChosenPage(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	visitor := shop.Browser()
	require.Contains(t, d.Send("/publish/home", url.Values{"home": {"night-flight"}}).Body, "The shop’s first page is chosen.")
	shop.Follow(t)
	first := visitor.Get("/")
	if first.Status != http.StatusOK {
		first = visitor.Get(first.Location)
	}
	assert.Contains(t, first.Body, "Thirty grams of light")
	unknown := d.Send("/publish/home", url.Values{"home": {"no-such-page"}})
	assert.Equal(t, http.StatusNotFound, unknown.Status, unknown.Body)
	assert.Contains(t, unknown.Body, "There is no such page.")
}

// A proof of an edition shows what the edition says, not what the draft says now.
func TestAnEditionIsSeenAsItWas(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	require.Equal(t, http.StatusOK, d.Command("night-flight", testkit.Set("headline", "text", "Written since")).Status)
	was := d.Get(d.At("/editions/frost-1/pages/night-flight"))
	assert.Contains(t, was.Body, "Thirty grams of light")
	assert.NotContains(t, was.Body, "Written since")
	assert.Contains(t, was.Header.Get("Content-Security-Policy"), "default-src 'none'", "nothing of it runs")
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/editions/frost-1/pages/none")).Status)
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/editions/none/pages/night-flight")).Status)
}

func TestAPageIsSetAsideAtTheDesk(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	away := d.Send("/pages/quiver-bag/aside", url.Values{})
	require.Equal(t, "/pages", away.Header.Get("HX-Redirect")+away.Location, away.Body)
	list := d.Get(d.At("/pages")).Body
	assert.Contains(t, list, "/pages/quiver-bag/back", "it can be brought back from the list")
	twice := d.Send("/pages/quiver-bag/aside", url.Values{})
	assert.Equal(t, http.StatusConflict, twice.Status)
	assert.Contains(t, twice.Body, "is set aside already")
	require.Less(t, d.Send("/pages/quiver-bag/back", url.Values{}).Status, 400)
	assert.NotContains(t, d.Get(d.At("/pages")).Body, "/pages/quiver-bag/back")
	assert.Equal(t, http.StatusNotFound, d.Send("/pages/quiver-bag/back", url.Values{}).Status)
}
