package routes_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// The map with its numbers, the chosen step as sentences, what is proved and what a
// tenth better would bring; and every change by a form, as by a pulled line.
func TestTheMapIsShownAndChanged(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	page := d.Get(d.At("/routes?days=0&step=seven-knots"))
	assert.Equal(t, http.StatusOK, page.Status, page.Body)
	for _, says := range []string{"Seven knots", "The first gust", "Harbour lamps", "signed up", "of it is left", "A tenth better", "Proved: every outcome leads on", "Kite club", "Who <b>signs up</b>"} {
		assert.Contains(t, page.Body, says)
	}
	assert.Contains(t, d.Get(d.At("/routes?days=0&mode=forecast")).Body, "of a thousand")
	assert.Contains(t, d.Get(d.At("/routes?days=0&source=Posters")).Body, "who came by “Posters”")

	lead := url.Values{"from": {"seven-knots"}, "outcome": {"submitted"}, "ways": {"1"}, "w0_id": {"two-bridges"}, "w0_to": {"first-gust", "ask-the-wind", "night-flight"}, "w0_share": {"10", "5", "1"}}
	assert.Contains(t, d.Send("/routes/lead", lead).Body, "Undo: who signs up on “Seven knots” led otherwise")
	assert.Equal(t, int64(3), shop.Number("SELECT count(*) FROM route_targets WHERE route_id = 'two-bridges'"))
	lead["w0_share"] = []string{"10", "half", "1"}
	refused := d.Send("/routes/lead", lead)
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Body, "A share is a whole number")
	assert.Equal(t, http.StatusOK, d.Send("/routes/undo", url.Values{}).Status)
	assert.Equal(t, int64(2), shop.Number("SELECT count(*) FROM route_targets WHERE route_id = 'two-bridges'"))

	bought := url.Values{"from": {"night-flight"}, "outcome": {"bought"}, "ways": {"2"}, "w0_id": {"has-a-bag"}, "w0_to": {"thank-you"}, "w0_share": {"1"}, "w0_c0": {"-owns"}, "w0_c0_value": {"quiver", ""}, "w0_c1": {"at_least"}, "w0_c1_amount": {"60.00"}, "w1_id": {"bought"}, "w1_to": {"quiver-bag"}, "w1_share": {"1"}}
	assert.Equal(t, http.StatusOK, d.Send("/routes/lead", bought).Status)
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM routes WHERE id = 'has-a-bag' AND conditions @> '[{"kind": "owns", "not": true, "values": ["quiver"]}, {"kind": "at_least", "at_least": 6000}]'`))
	bought.Set("another", "1")
	assert.Equal(t, http.StatusOK, d.Send("/routes/lead", bought).Status)
	assert.Equal(t, int64(3), shop.Number("SELECT count(*) FROM routes WHERE from_step = 'night-flight'"))

	turned := d.Send("/routes/turn", url.Values{"from": {"first-gust"}, "outcome": {"clicked:yes"}, "route": {"gust-on"}, "was": {"night-flight"}, "to": {"quiver-bag"}})
	assert.Equal(t, http.StatusUnprocessableEntity, turned.Status)
	assert.Contains(t, turned.Body, "can follow a payment only")
	assert.Equal(t, http.StatusOK, d.Send("/routes/turn", url.Values{"from": {"first-gust"}, "outcome": {"clicked:yes"}, "route": {"gust-on"}, "was": {"night-flight"}, "to": {"ask-the-wind"}}).Status)
	moved := d.Send("/routes/move", url.Values{"step": {"first-gust"}, "dx": {"20"}, "dy": {"-9999"}})
	assert.Equal(t, http.StatusOK, moved.Status)
	assert.Equal(t, int64(20), shop.Number("SELECT dx FROM steps WHERE id = 'first-gust'"))

	added := d.Send("/routes/add", url.Values{"kind": {"outside"}, "name": {"The kite club"}, "address": {"javascript:alert(1)"}})
	assert.Contains(t, added.Body, "Write the whole address")
	assert.Equal(t, http.StatusOK, d.Send("/routes/add", url.Values{"kind": {"bridge"}, "name": {"A third way"}, "from": {"seven-knots"}, "outcome": {"submitted"}}).Status)
	assert.Equal(t, int64(3), shop.Number("SELECT count(*) FROM route_targets WHERE route_id = 'two-bridges'"), "one more share")

	found := d.Get(d.At("/routes?days=0")).Body
	assert.Contains(t, found, "“A third way” leads nowhere") // its button has a route to get
	assert.Contains(t, found, "Do that")
}

// What is tried, rehearsed and linked.
func TestTryingRehearsingAndLinking(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	tried := d.Send("/routes/whatif", url.Values{"days": {"0"}, "rate|night-flight|bought": {"11,5"}, "share|two-bridges|first-gust": {"1"}, "price|night-flight": {"60.00"}})
	assert.Equal(t, http.StatusOK, tried.Status, tried.Body)
	assert.Contains(t, tried.Body, "a visitor if so")
	assert.Contains(t, tried.Body, "written by hand")
	for name, value := range map[string]string{"rate|night-flight|bought": "101", "share|two-bridges|first-gust": "-1", "price|night-flight": "dear"} {
		assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/routes/whatif", url.Values{name: {value}}).Status, name)
	}
	rehearsed := d.Send("/routes/rehearse", url.Values{"days": {"0"}, "seed": {"3"}})
	assert.Contains(t, rehearsed.Body, "They agree within four standard errors.")
	assert.Contains(t, rehearsed.Body, "No rule was broken on any walk.")
	assert.Contains(t, rehearsed.Body, "data-watch=")

	made := d.Send("/routes/links", url.Values{"name": {"A & B’s"}, "to": {"fork:two-bridges"}})
	assert.Contains(t, made.Body, "/to/a-b")
	id := strings.SplitN(strings.SplitN(made.Body, "/routes/links/", 4)[3], ".svg", 2)[0]
	svg := d.Get(d.At("/routes/links/" + id + ".svg"))
	assert.Equal(t, "image/svg+xml", svg.Header.Get("Content-Type"))
	assert.True(t, strings.HasPrefix(svg.Body, "<svg"))
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/routes/links/none.svg")).Status)
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/routes/settings", url.Values{"minutes": {"60"}, "hosts": {"*.example"}}).Status)
	assert.Equal(t, http.StatusOK, d.Send("/routes/settings", url.Values{"minutes": {"90"}, "hosts": {"lamps.example"}}).Status)
	assert.Equal(t, int64(90), shop.Number("SELECT left_minutes FROM store"))

	// Who has seen the figures is told that nothing changed.
	body := d.Get(d.At("/routes?days=7")).Body
	seen := strings.SplitN(strings.SplitN(body, `data-seen="`, 2)[1], `"`, 2)[0]
	assert.Equal(t, http.StatusNoContent, d.Get(d.At("/routes/body?days=7&seen="+seen)).Status)
}

// A campaign without a map begins from plans, each seen as a map.
func TestAMapBeginsFromAPlan(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec("INSERT INTO campaigns (id, name) VALUES ('spring', 'First Winds')")
	d := testkit.SignIn(t, shop)
	d.Send("/campaign", url.Values{"campaign": {"spring"}})
	page := d.Get(d.At("/routes")).Body
	assert.Equal(t, 5, strings.Count(page, "Begin with this"))
	begun := d.Send("/routes/begin", url.Values{"plan": {"two-bridges"}, "name_opt-in": {"Seven signs"}})
	assert.Contains(t, begun.Body, "Seven signs")
	assert.Equal(t, int64(5), shop.Number("SELECT count(*) FROM steps WHERE campaign_id = 'spring'"))
	assert.Equal(t, http.StatusConflict, d.Send("/routes/begin", url.Values{"plan": {"gift"}}).Status)
}
