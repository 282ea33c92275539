package render_test

import (
	"crypto/sha256"
	"encoding/base64"
	"strings"
	"testing"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/own"
	"chrysagon/render"

	"github.com/stretchr/testify/assert"
)

func TestOwnCodeRunsOnThePageAndInNoProof(t *testing.T) {
	r, f := renderer(t), world()
	f.Store.Own = own.Code{{Name: "Hello", Kind: own.Head, Text: "window.hello = 1 < 2"}, {Name: "Footfall", Kind: own.Measure, Text: "https://count.example/t.js?a=1&b=2"}}
	page := m.Page{Version: 1, Own: own.Code{{Name: "Blue", Kind: own.Styles, Text: "h1 > b{color:navy}"}, {Name: "End", Kind: own.Foot, Text: "done()"}}}
	in := render.Input{Page: page, Facts: f, Moment: noon}

	drawn := draw(t, r, in)
	html := string(drawn.HTML)
	assert.Contains(t, html, "h1 > b{color:navy}</style><script>window.hello = 1 < 2</script>", "styles last, then the head's script, as they were written")
	assert.Contains(t, html, `<script>done()</script><script src="https://count.example/t.js?a=1&amp;b=2" async></script></body>`)
	sum := sha256.Sum256([]byte("window.hello = 1 < 2"))
	assert.Equal(t, "'sha256-"+base64.StdEncoding.EncodeToString(sum[:])+"'", drawn.Own.Hashes[0], "CSP Level 3, 6.7.2.4: the hash is of the script's text")
	assert.Equal(t, []string{"https://count.example"}, drawn.Own.Origins)

	in.Proof = true
	proof := draw(t, r, in)
	assert.NotContains(t, string(proof.HTML), "<script")
	assert.Empty(t, proof.Own.Hashes)
	in.RunOwn = true
	assert.Contains(t, string(draw(t, r, in).HTML), "window.hello", "unless it is asked for")
}

func TestWhatStaysInViewOfAPictureThatIsCut(t *testing.T) {
	r, f := renderer(t), world()
	pic := f.Pictures["ember"]
	pic.Focus = facts.Focus{X: 20, Y: 80}
	f.Pictures["ember"] = pic
	page := m.Page{Version: 1, Bands: []m.Band{{ID: "a", Tone: m.Card, Look: map[string]string{"picture": "ember"}, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "g", Kind: "gallery", Fields: m.Fields{"items": []any{map[string]any{"picture": "ember"}}}},
	}}}}}}
	html := string(draw(t, r, render.Input{Page: page, Facts: f, Moment: noon}).HTML)
	assert.Contains(t, html, ".f20-80{object-position:20% 80%}")
	assert.Contains(t, html, `<img class="f20-80"`)
	assert.Contains(t, html, "background-position:20% 80%", "behind a band too")
}

func TestTheSharedCardShowsWhatWasChosen(t *testing.T) {
	r, f := renderer(t), world()
	f.Pictures["dunes"] = facts.Picture{ID: "dunes", Alt: "Dunes", Path: "/pictures/d.jpg", Width: 2000, Height: 1000, Sizes: []int{640, 1280, 1920}}
	page := m.Page{Version: 1, Sharing: m.Sharing{Picture: "dunes", Keywords: `night "kites", dunes`}}
	html := string(draw(t, r, render.Input{Page: page, Facts: f, Moment: noon, Origin: "https://shop.example"}).HTML)
	assert.Contains(t, html, `<meta property="og:image" content="https://shop.example/pictures/d.jpg?w=1280"><meta property="og:image:alt" content="Dunes">`)
	assert.Contains(t, html, `<meta name="keywords" content="night &#34;kites&#34;, dunes">`)
}

// A logo stands where the store's name would, with the name for those who cannot
// see it; a logo that is gone leaves the name.
func TestTheLogoStandsForTheName(t *testing.T) {
	r, f := renderer(t), world()
	page := m.Page{Version: 1}
	f.Store.House.Logo = "ember"
	head := func() string {
		html := string(draw(t, r, render.Input{Page: page, Facts: f, Moment: noon, Layout: "header"}).HTML)
		from := strings.Index(html, `<a class="store"`)
		return html[from : from+strings.Index(html[from:], "</a>")]
	}
	assert.Contains(t, head(), `alt="`+f.Store.Name+`"`)
	assert.Contains(t, head(), f.Pictures["ember"].Path)
	f.Store.House.Logo = "gone"
	assert.Equal(t, `<a class="store" href="/">`+f.Store.Name, head())
}
