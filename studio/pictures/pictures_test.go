package pictures_test

import (
	"bytes"
	"image"
	"image/color"
	_ "image/jpeg" // photographs are kept so
	"image/png"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// photograph is a PNG whose left half is dark and whose right half is light.
func photograph(t *testing.T, width, height int) string {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, width, height))
	for y := range height {
		for x := range width {
			tone := uint8(20)
			if x >= width/2 {
				tone = 235
			}
			img.Set(x, y, color.RGBA{tone, tone, uint8(y % 256), 255})
		}
	}
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, img))
	return out.String()
}

var cardID = regexp.MustCompile(`id="picture-([a-z0-9-]+)"`)

// shelfID is the ID of the picture whose card holds a name.
func shelfID(t *testing.T, d testkit.Desk, name string) string {
	t.Helper()
	found := cardID.FindStringSubmatch(d.Get(d.At("/pictures?find=" + url.QueryEscape(name))).Body)
	require.Len(t, found, 2, name)
	return found[1]
}

func TestAPicturesLifeOnTheShelf(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	kept := d.Upload("/pictures", "pictures", nil, map[string]string{"pier.png": photograph(t, 400, 300)})
	require.Equal(t, http.StatusOK, kept.Status, kept.Body)
	id := shelfID(t, d, "pier")
	spare := d.Get(d.At("/pictures?only=spare")).Body
	assert.Contains(t, spare, "picture-"+id, "nothing shows it yet")
	assert.Contains(t, d.Get(d.At("/pictures?only=wordless")).Body, "picture-"+id, "nobody has said what it shows")

	told := d.Send("/pictures/"+id+"/describe", url.Values{"name": {"The pier"}, "alt": {"A pier at dawn"}, "focus_x": {"25"}, "focus_y": {"60"}})
	assert.Contains(t, told.Body, `value="The pier"`)
	assert.Contains(t, told.Body, "focus 25, 60")
	assert.NotContains(t, d.Get(d.At("/pictures?only=wordless")).Body, "picture-"+id)
	for name, form := range map[string]url.Values{
		"no name":        {"name": {""}, "alt": {"x"}, "focus_x": {"50"}, "focus_y": {"50"}},
		"a focus beyond": {"name": {"Pier"}, "alt": {"x"}, "focus_x": {"150"}, "focus_y": {"50"}},
		"no number":      {"name": {"Pier"}, "alt": {"x"}, "focus_x": {"left"}, "focus_y": {"50"}},
	} {
		assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/pictures/"+id+"/describe", form).Status, name)
	}

	cut := d.Send("/pictures/"+id+"/crop", url.Values{"x": {"0"}, "y": {"0"}, "w": {"500"}, "h": {"1000"}})
	require.Equal(t, http.StatusOK, cut.Status, cut.Body)
	assert.Contains(t, cut.Body, "200 × 300 · a part")
	whole := d.Get(d.At("/pictures/whole/" + id))
	size, _, err := image.DecodeConfig(strings.NewReader(whole.Body))
	require.NoError(t, err)
	assert.Equal(t, 400, size.Width, "the file stays whole, to be cut otherwise")
	assert.Contains(t, whole.Header.Get("Content-Security-Policy"), "sandbox")
	for _, out := range []url.Values{{"x": {"600"}, "y": {"0"}, "w": {"500"}, "h": {"1000"}}, {"x": {"0"}, "y": {"0"}, "w": {"0"}, "h": {"0"}}, {"x": {"a"}, "y": {"0"}, "w": {"50"}, "h": {"50"}}} {
		assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/pictures/"+id+"/crop", out).Status, "%v", out)
	}

	assert.NotContains(t, d.Send("/pictures/"+id+"/drop", url.Values{}).Body, "picture-"+id)
	assert.NotContains(t, d.Get(d.At("/pictures")).Body, "picture-"+id)
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/pictures/whole/"+id)).Status)
}

// A picture that pages show stays; it changes places with another one, on every
// page and live ones too, and back again.
func TestAPictureIsReplacedWhereverItIsShown(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	refused := d.Send("/pictures/dunes/drop", url.Values{})
	assert.GreaterOrEqual(t, refused.Status, 400, "it is shown somewhere")
	d.Upload("/pictures", "pictures", nil, map[string]string{"pier.png": photograph(t, 400, 300)})
	id := shelfID(t, d, "pier")
	hash := func() string {
		shop.Follow(t)
		return regexp.MustCompile(`(?s)id="picture-dunes".*?<image href="([^"]+)"`).FindStringSubmatch(d.Get(d.At("/pictures")).Body)[1]
	}
	before := hash()
	require.NotEmpty(t, before)
	require.Less(t, d.Send("/pictures/dunes/replace", url.Values{"other": {id}}).Status, 400)
	assert.NotEqual(t, before, hash())
	require.Less(t, d.Send("/pictures/dunes/replace", url.Values{"other": {id}}).Status, 400)
	assert.Equal(t, before, hash(), "the two have changed places again")
	assert.GreaterOrEqual(t, d.Send("/pictures/dunes/replace", url.Values{"other": {"none"}}).Status, 400)
}

func TestThingsAreChosenByAWord(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	for asked, want := range map[string]string{
		"/choose/picture?page=night-flight&q=dun":  `data-pick="dunes"`,
		"/choose/product?page=night-flight&q=gull": `data-pick="gull"`,
		"/choose/sign?page=night-flight&q=wind":    `data-pick="wind"`,
		"/choose/link?page=night-flight&q=quiver":  `data-pick="page:quiver-bag"`,
	} {
		assert.Contains(t, d.Get(d.At(asked)).Body, want, asked)
	}
	assert.NotContains(t, d.Get(d.At("/choose/link?page=night-flight&q="+url.QueryEscape("javascript:alert(1)"))).Body, `data-pick="javascript:`)
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/choose/nothing?page=night-flight")).Status)
}

// A group is a shelf with a name and a picture; cards on pages lead to it.
func TestAShelfIsMadeAGroup(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	made := d.Send("/groups", url.Values{"shelf": {"light-wind"}, "name": {" Light & easy "}, "picture": {"dunes"}})
	require.Less(t, made.Status, 400, made.Body)
	assert.Equal(t, "/shelves?shelf=light-wind", made.Header.Get("HX-Redirect")+made.Location)
	assert.Contains(t, d.Get(d.At("/shelves?shelf=light-wind")).Body, "Light &amp; easy")
	for name, form := range map[string]url.Values{
		"no name":          {"shelf": {"light-wind"}, "name": {" "}},
		"no shelf":         {"shelf": {"none"}, "name": {"x"}},
		"no such picture":  {"shelf": {"light-wind"}, "name": {"x"}, "picture": {"none"}},
		"a name too long":  {"shelf": {"light-wind"}, "name": {strings.Repeat("x", 81)}},
		"bytes of no text": {"shelf": {"light-wind\x00"}, "name": {"\x00"}},
	} {
		refused := d.Send("/groups", form)
		assert.GreaterOrEqual(t, refused.Status, 400, name)
		assert.Less(t, refused.Status, 500, name)
	}
	require.Less(t, d.Send("/groups", url.Values{"shelf": {"light-wind"}, "drop": {"group-light-wind"}}).Status, 400)
	assert.NotContains(t, d.Get(d.At("/shelves?shelf=light-wind")).Body, "Light &amp; easy")
}
