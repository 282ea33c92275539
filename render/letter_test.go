package render_test

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/render"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"
)

// letterOf is a letter of every kind of piece that can stand in one.
func letterOf(t *testing.T, r *render.Renderer) m.Page {
	t.Helper()
	var pieces []m.Piece
	for _, name := range r.Registry.Names() {
		k, _ := r.Registry.Kind(name)
		if !k.InLetters() {
			continue
		}
		f := m.Fields{}
		fill(k.Kind, f)
		if _, has := k.Field("target"); has {
			f["target"] = "page:home"
		}
		pieces = append(pieces, m.Piece{ID: "p-" + name, Kind: name, Fields: f})
	}
	pieces = append(pieces, m.Piece{ID: "p-greets", Kind: "text", Fields: m.Fields{"text": `<p>Dear {name|friend}, see <a href="page:home">our page</a>.</p>`}})
	return m.Page{Version: m.Version, Bands: []m.Band{{ID: "b", Name: "All", Columns: []m.Column{{Width: 12, Pieces: pieces}}}}}
}

func writtenTo(t *testing.T, to render.Addressed) render.Letter {
	t.Helper()
	r := renderer(t)
	f := world()
	f.Pages = map[string]facts.Page{"home": {ID: "home", Name: "Night flight", Address: "night-flight", Live: true}}
	l, err := r.Letter(render.Input{Page: letterOf(t, r), Title: "For {name|you}", Description: "Look\r\nBcc: all@example.org", Facts: f, Moment: noon, Origin: "https://shop.example"}, to)
	require.NoError(t, err)
	return l
}

// A letter shows in mail programs: no script, no style sheet elsewhere, no address that is
// not whole, nothing above 102 KB; its links say whose letter they stand in.
func TestALetterStandsByItself(t *testing.T) {
	l := writtenTo(t, render.Addressed{Posting: "p1", Name: "Inês", Why: "You asked for the guide.", Wishes: "https://shop.example/letters/x"})
	assert.Less(t, len(l.HTML), check.LetterMost)
	doc, err := html.Parse(strings.NewReader(l.HTML))
	require.NoError(t, err)
	var visit func(*html.Node)
	links := 0
	visit = func(n *html.Node) {
		assert.NotContains(t, []string{"script", "link", "iframe", "form", "svg"}, n.Data)
		for _, a := range n.Attr {
			assert.False(t, strings.HasPrefix(a.Key, "on"), "%s on %s", a.Key, n.Data)
			if a.Key == "src" || (a.Key == "href" && n.Data == "a") {
				assert.Regexp(t, `^(https://|tel:)`, a.Val)
			}
			if a.Key == "href" && strings.Contains(a.Val, "/night-flight") {
				links++
				assert.Contains(t, a.Val, "letter=p1")
			}
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			visit(c)
		}
	}
	visit(doc)
	assert.Positive(t, links)
	assert.Equal(t, "For Inês", l.Subject)
	assert.Equal(t, "Look Bcc: all@example.org", l.Preview, "one line, whatever was typed")
	assert.Contains(t, l.HTML, "Dear Inês")
	assert.Contains(t, l.HTML, "You asked for the guide.")
	assert.Contains(t, l.HTML, "they hold until")
}

// The text says what the HTML does, with its links.
func TestALettersTextIsOfTheSameBlocks(t *testing.T) {
	l := writtenTo(t, render.Addressed{Posting: "p1", Why: "You asked for the guide.", Wishes: "https://shop.example/letters/x"})
	for _, says := range []string{"Dear friend, see our page (https://shop.example/night-flight?letter=p1).", "Ember 180", "€51.00", "You asked for the guide.", "Fewer letters, or none: https://shop.example/letters/x", "Gustwell"} {
		assert.Contains(t, l.Text, says)
	}
	assert.NotContains(t, l.Text, "<p>")
	assert.Equal(t, "For you", l.Subject)
}

// Names are what somebody typed into a form: they become words and nothing else.
func TestANameIsWordsOnly(t *testing.T) {
	for _, name := range []string{`<script>alert(1)</script>`, `"><img src=x onerror=alert(1)>`, "{name|x}", "Ana\r\nBcc: all@example.org", "שלום", "🪁 Kite", strings.Repeat("n", 10_000)} {
		l := writtenTo(t, render.Addressed{Posting: "p1", Name: name})
		assert.NotContains(t, l.HTML, "<script")
		assert.NotContains(t, l.HTML, "<img src=x")
		assert.NotContains(t, l.Subject, "\n")
		assert.Contains(t, l.Text, strings.Fields(name)[0])
	}
}

// What a letter says of prices holds until the first of them changes, and not from a proof
// that was drawn at another moment.
func TestALetterIsOfItsMoment(t *testing.T) {
	l := writtenTo(t, render.Addressed{})
	assert.True(t, l.Until.After(noon))
	assert.NotContains(t, l.HTML, "letter=", "a proof is nobody's letter")
	assert.Len(t, l.Bands, 1)
	r := renderer(t)
	f := world()
	later, err := r.Letter(render.Input{Page: letterOf(t, r), Title: "x", Facts: f, Moment: l.Until.Add(24 * time.Hour), Origin: "https://shop.example"}, render.Addressed{})
	require.NoError(t, err)
	assert.NotContains(t, later.Text, "Lisbon time at the latest")
}

// A picture that counts stands in a letter only where it was switched on, and never in a
// proof or a mail about an order.
func TestOnlyLettersThatCountBearAPicture(t *testing.T) {
	assert.NotContains(t, writtenTo(t, render.Addressed{Posting: "p1"}).HTML, "/letters/seen/")
	assert.Contains(t, writtenTo(t, render.Addressed{Posting: "p1", Counts: true}).HTML, `src="https://shop.example/letters/seen/p1"`)
	assert.NotContains(t, writtenTo(t, render.Addressed{Counts: true}).HTML, "/letters/seen/")
	assert.NotContains(t, writtenTo(t, render.Addressed{Order: "1000", Sent: true, Counts: true}).HTML, "/letters/seen/")
}

// In every house, by day and in the dark, words of a letter are read: 4.5 to 1 (WCAG 2.2,
// success criterion 1.4.3).
func TestLettersAreReadByDayAndInTheDark(t *testing.T) {
	colour := func(hex string) style.Colour {
		c, err := style.ParseColour(hex)
		require.NoError(t, err)
		return c
	}
	for _, h := range style.Houses {
		f := world()
		f.Store.House = h.House
		r := renderer(t)
		l, err := r.Letter(render.Input{Page: letterOf(t, r), Title: "x", Facts: f, Moment: noon, Origin: "https://shop.example"}, render.Addressed{Posting: "p1"})
		require.NoError(t, err)
		one := func(pattern string) style.Colour {
			found := regexp.MustCompile(pattern).FindStringSubmatch(l.HTML)
			require.NotNil(t, found, pattern)
			return colour(found[1])
		}
		for what, pair := range map[string][2]style.Colour{
			"words":                  {one(`class="in ink" style="[^"]*;color:(#\w+)`), one(`class="in ink" style="[^"]*background:(#\w+)`)},
			"the footer":             {one(`class="quiet" style="[^"]*;color:(#\w+)`), one(`class="out" style="[^"]*background:(#\w+)`)},
			"words in the dark":      {one(`\.ink\{color:(#\w+)`), one(`\.in\{background:(#\w+) !important\}`)},
			"links in the dark":      {one(`\.ink a\{color:(#\w+)`), one(`\.in\{background:(#\w+) !important\}`)},
			"the button":             {one(`class="press"[^>]*><a href="[^"]*"\s+style="[^"]*;color:(#\w+)`), one(`class="press" style="background:(#\w+)`)},
			"the button in the dark": {one(`\.ink \.press a\{color:(#\w+)`), one(`class="press" style="background:(#\w+)`)},
			"the footer, when dark":  {one(`\.quiet,\.quiet a\{color:(#\w+)`), one(`\.out\{background:(#\w+)`)},
		} {
			assert.GreaterOrEqual(t, style.Contrast(pair[0], pair[1]), style.ForText, "%s, %s", h.Name, what)
		}
		edge, dark := one(`class="press" style="[^"]*border:1px solid (#\w+)`), one(`\.press\{border-color:(#\w+)`)
		assert.GreaterOrEqual(t, style.Contrast(edge, one(`class="in ink" style="[^"]*background:(#\w+)`)), style.ForLarge, h.Name)
		assert.GreaterOrEqual(t, style.Contrast(dark, one(`\.in\{background:(#\w+) !important\}`)), style.ForLarge, h.Name)
	}
}
