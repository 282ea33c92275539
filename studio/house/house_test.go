package house_test

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"chrysagon/core/style"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// chosen is a house as its form sends it, with one thing chosen otherwise.
func chosen(name, value string) url.Values {
	var h style.House
	form := url.Values{"heads": {h.HeadFamily().ID}, "body": {h.BodyFamily().ID}}
	form.Set(name, value)
	return form
}

func TestAHouseIsTriedThenPutOnEveryPage(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	visitor := shop.Browser()
	style := func(path string) string {
		shop.Follow(t)
		return strings.Join(regexp.MustCompile(`(?s)<style[^>]*>.*?</style>`).FindAllString(visitor.Get(path).Body, -1), "")
	}
	before := style("/night-flight")
	require.NotEmpty(t, before)
	form := chosen("c-action", "#1d4ed8")
	form.Set("pair", "works")

	tried := d.Get(d.At("/house?" + form.Encode()))
	assert.Contains(t, tried.Body, "#1d4ed8")
	assert.Contains(t, tried.Body, "Leave it as it is")
	assert.Equal(t, before, style("/night-flight"), "trying changes nothing")
	proof := d.Get(d.At("/pages/night-flight/house?" + form.Encode())).Body
	assert.Contains(t, proof, "#1d4ed8", "the proof shows what is tried")
	assert.Contains(t, proof, "Bitter", "a pair brings its families")

	put := d.Send("/house", form)
	assert.Contains(t, put.Body, "Every page looks like this now.")
	for _, path := range []string{"/night-flight", "/no-such-page"} {
		assert.Contains(t, style(path), "#1d4ed8", path)
	}
	back := d.Send("/house", url.Values{"undo": {"1"}})
	assert.Contains(t, back.Body, "The house style before is back on every page.")
	assert.Equal(t, before, style("/night-flight"))
}

func TestAHouseTooFaintToReadSaysSoAndOffersWhatReads(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	body := d.Get(d.At("/house?" + chosen("c-ink", "#c9c9c9").Encode())).Body
	assert.Contains(t, body, "too faint")
	mend := regexp.MustCompile(`data-mend-ink="c-ink" data-to="(#[0-9a-f]{6})"`).FindStringSubmatch(body)
	require.Len(t, mend, 2, "a colour that reads is offered")
	mended := d.Get(d.At("/house?" + chosen("c-ink", mend[1]).Encode())).Body
	assert.NotContains(t, mended, `data-mend-ink="c-ink"`)
	assert.Contains(t, d.Get(d.At("/house")).Body, "OKLab (Ottosson 2020)", "it says how shades are computed")
}

func TestAHouseOfUnknownPartsIsRefused(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	form := regexp.MustCompile(`(?s)<form id="house-form".*?</form>`)
	before := form.FindString(d.Get(d.At("/house")).Body)
	for name, value := range map[string]string{
		"c-action": "url(https://elsewhere.example)", "c-ink": "red; } body { display: none", "heads": "comic", "scale": "huge", "corner": "9px", "shadow": "x", "button": "<b>", "hover": "jump", "logo": "../../etc/passwd",
	} {
		refused := d.Send("/house", chosen(name, value))
		assert.Equal(t, http.StatusUnprocessableEntity, refused.Status, name)
		assert.Contains(t, refused.Body, "The house style cannot be used", name)
	}
	assert.Equal(t, before, form.FindString(d.Get(d.At("/house")).Body), "nothing of it was put on")
}

func TestALogoStandsForTheStoresName(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	require.Contains(t, d.Send("/house", chosen("logo", "dunes")).Body, "Every page looks like this now.")
	require.Less(t, d.Send("/pages/night-flight/dress", url.Values{"layout": {"full"}}).Status, 400)
	proof := d.Get(d.At("/pages/night-flight/proof")).Body
	assert.Regexp(t, `(?s)<header.*<img[^>]+alt="Gustwell Kiteworks"`, proof, "the picture says the name to those who cannot see it")
	assert.Contains(t, d.Get(d.At("/house")).Body, "Dunes", "the picture is named where it is chosen")
}
