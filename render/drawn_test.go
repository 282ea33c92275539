package render_test

import (
	"regexp"
	"testing"

	"chrysagon/core/check"
	m "chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/render"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var declared = regexp.MustCompile(`#p-go\{([^}]*)\}`)

// value is what a custom property of the button comes to in the drawn sheet: its
// own, the band's, or the house's.
func value(t require.TestingT, css, name string) style.Colour {
	for _, rule := range []string{`#p-go\{[^}]*`, `#band-b\{[^}]*`, `:root\{[^}]*`} {
		for _, block := range regexp.MustCompile(rule).FindAllString(css, -1) {
			if found := regexp.MustCompile(`--` + name + `:(#[0-9a-f]{6})`).FindStringSubmatch(block); found != nil {
				c, err := style.ParseColour(found[1])
				require.NoError(t, err)
				return c
			}
		}
	}
	require.Fail(t, "not drawn", name)
	return style.Colour{}
}

// What is judged is what is drawn: whatever the house, the band's tone and ground
// and the button's look, the contrast that is told is that of the drawn sheet; what
// a mend proposes can be read, and a button always changes under the pointer.
func TestAButtonIsJudgedAsItIsDrawn(t *testing.T) {
	r := renderer(t)
	hex := func(t *rapid.T, name string) string {
		return rapid.StringMatching(`#[0-9a-f]{6}`).Draw(t, name)
	}
	rapid.Check(t, func(t *rapid.T) {
		f := world()
		f.Store.House.Palette = map[string]string{}
		for _, token := range style.Tokens {
			if rapid.Bool().Draw(t, "own "+token.Name) {
				f.Store.House.Palette[token.Name] = hex(t, token.Name)
			}
		}
		f.Store.House.Hover = rapid.SampledFrom([]string{"", "darken"}).Draw(t, "hover")
		colour := func(name string) string {
			if rapid.Bool().Draw(t, name+" of the house") {
				return rapid.SampledFrom(style.Tokens).Draw(t, name).Name
			}
			return hex(t, name)
		}
		band := m.Band{ID: "b", Name: "Call", Tone: rapid.SampledFrom(m.Tones).Draw(t, "tone"), Look: style.Look{}}
		if rapid.Bool().Draw(t, "a ground of its own") {
			band.Look["ground"] = colour("band's ground")
		}
		look := style.Look{"ground": colour("ground")}
		if rapid.Bool().Draw(t, "words of its own") {
			look["colour"] = colour("words")
		}
		page := func(look style.Look) m.Page {
			b := band
			b.Columns = []m.Column{{Width: 1, Pieces: []m.Piece{{ID: "go", Kind: "button", Fields: m.Fields{"label": "Order", "target": "checkout"}, Look: look}}}}
			return m.Page{Version: m.Version, Bands: []m.Band{b}}
		}
		drawn := func(look style.Look) (words, ground, hover style.Colour) {
			css := r.Style(render.Input{Page: page(look), Facts: f, Moment: noon})
			require.Regexp(t, declared, css)
			return value(t, css, "on-action"), value(t, css, "action"), value(t, css, "hover")
		}
		words, ground, hover := drawn(look)
		require.NotEqual(t, ground, hover, "it changes under the pointer")
		readings := check.Readings(check.Page{Schema: r.Registry.Schema(), Manuscript: page(look), Facts: f, Moment: noon})
		require.NotEmpty(t, readings)
		require.InDelta(t, style.Contrast(words, ground), readings[0].Ratio, 1e-9, "judged as drawn")
		for _, finding := range check.Run(check.Page{Schema: r.Registry.Schema(), Manuscript: page(look), Facts: f, Moment: noon}) {
			if finding.PieceID != "go" || finding.Mend == nil || finding.Mend.Op != m.Dress {
				continue
			}
			mended := style.Look{}
			for name, v := range look {
				mended[name] = v
			}
			for _, at := range finding.Mend.Looks {
				for name, v := range at.Set {
					if v != nil {
						mended[name] = *v
					}
				}
			}
			words, ground, _ := drawn(mended)
			require.GreaterOrEqual(t, style.Contrast(words, ground), style.ForText, "what is mended can be read")
		}
	})
}
