package style_test

import (
	"regexp"
	"strconv"
	"strings"
	"testing"

	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestColoursOfOnesOwnFollow(t *testing.T) {
	h := style.House{Brand: []style.Brand{{ID: "brand-1", Name: "Sail violet", Colour: "#7a5c9e"}}}
	require.NoError(t, h.Validate())
	look := style.Look{"ground": "brand-1-deep"}
	require.NoError(t, look.Validate(style.OnBand))
	before := look.CSS(style.Under{Selector: "#band-a", On: style.OnBand, House: h})
	h.Brand[0].Colour = "#0a7a5c"
	assert.NotEqual(t, before, look.CSS(style.Under{Selector: "#band-a", On: style.OnBand, House: h}), "the shade follows its colour")
	h.Brand = nil
	assert.Contains(t, look.CSS(style.Under{Selector: "#band-a", On: style.OnBand, House: h}), h.Colour("action").String(), "what is gone is drawn in action")
	for _, wrong := range []string{"brand-0", "brand-10", "brand-1-loud", "brand-1}", "brand"} {
		assert.Error(t, style.Look{"ground": wrong}.Validate(style.OnBand), wrong)
	}
}

func TestColoursOfOnesOwnAreNamedOnce(t *testing.T) {
	one := style.Brand{ID: "brand-1", Name: "Sail violet", Colour: "#7a5c9e"}
	for why, list := range map[string][]style.Brand{
		"twice": {one, one}, "without a name": {{ID: "brand-2", Colour: "#fff"}}, "no colour": {{ID: "brand-2", Name: "x", Colour: "red"}}, "a shade": {{ID: "brand-1-pale", Name: "x", Colour: "#fff"}},
	} {
		assert.Error(t, style.House{Brand: list}.Validate(), why)
	}
	var h style.House
	for n := range style.MostBrands {
		id := h.NextBrand()
		assert.Equal(t, "brand-"+strconv.Itoa(n+1), id)
		h.Brand = append(h.Brand, style.Brand{ID: id, Name: "x", Colour: "#fff"})
	}
	assert.Empty(t, h.NextBrand(), "no more fit")
	assert.Len(t, h.Branded(), style.MostBrands*len(style.BrandShades))
}

// A pale shade lies between its colour and card, a deep one between it and ink, for any
// colour of any house: by distance in OKLab.
func TestShadesLieBetween(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := style.Colour{R: rapid.Uint8().Draw(t, "r"), G: rapid.Uint8().Draw(t, "g"), B: rapid.Uint8().Draw(t, "b")}
		h := style.House{Brand: []style.Brand{{ID: "brand-1", Name: "x", Colour: c.String()}}}
		card, ink := h.Colour("card"), h.Colour("ink")
		assert.LessOrEqual(t, style.Apart(h.Look("brand-1-pale"), card), style.Apart(h.Look("brand-1-soft"), card)+0.02)
		assert.LessOrEqual(t, style.Apart(h.Look("brand-1-deep"), ink), style.Apart(c, ink)+0.02)
		assert.Equal(t, c, h.Look("brand-1"))
	})
}

func TestTypeOfOnesOwnIsSetWhereItIsAskedFor(t *testing.T) {
	own := style.Type{ID: "type-0123456789abcdef", Name: "Mast Grotesk", Generic: "sans-serif", Least: 300, Most: 700, Format: "woff2", Licence: "invoice 118"}
	h := style.House{Types: []style.Type{own}}
	require.NoError(t, h.Validate())
	path := func(file string) string { return "/" + file }
	assert.NotContains(t, h.CSS(path), "Mast", "nobody waits for what no page is set in")
	look := style.Look{"family": own.ID}
	require.NoError(t, look.Validate(style.OnPiece))
	assert.Contains(t, h.Faces(path, look), "url(/types/"+own.ID+") format('woff2')")
	assert.Contains(t, look.CSS(style.Under{Selector: "#p-a", On: style.OnPiece, House: h}), "font-family:'Mast Grotesk',system-ui")
	h.Heads = own.ID
	require.NoError(t, h.Validate())
	assert.Contains(t, h.CSS(path), "--heads:'Mast Grotesk'")
	assert.Empty(t, h.Faces(path, look), "the house has brought it already")
	h.Types = nil
	require.Error(t, h.Validate(), "headings in what is gone")
	assert.Equal(t, "Fraunces", h.HeadFamily().Name, "and yet pages are drawn")

	for why, broken := range map[string]func(*style.Type){
		"a name that ends the rule": func(x *style.Type) { x.Name = "a';}*{display:none" }, "no licence": func(x *style.Type) { x.Licence = " " },
		"weights upside down": func(x *style.Type) { x.Least, x.Most = 700, 300 }, "an ID that is none": func(x *style.Type) { x.ID = "../../etc" }, "a format that is none": func(x *style.Type) { x.Format = "svg" },
	} {
		x := own
		broken(&x)
		assert.Error(t, style.House{Types: []style.Type{x}}.Validate(), why)
	}
}

var point = regexp.MustCompile(`([0-9.]+)% ([0-9.]+)vw`)

// An upper edge is cut across the whole band and never deeper than the band comes up, so
// that nothing of the page's ground shows between two bands.
func TestAnEdgeIsCutNoDeeperThanItsBandComesUp(t *testing.T) {
	rim, _ := style.PropertyOf("rim")
	for _, c := range rim.Choices {
		css := style.Look{"rim": c.Value}.CSS(style.Under{Selector: "#band-a", On: style.OnBand})
		if style.RimDepth(c.Value) == nil {
			assert.Contains(t, css, "clip-path:none", "a straight one takes back that of narrower screens")
			continue
		}
		up := regexp.MustCompile(`margin-top:-([0-9.]+)vw`).FindStringSubmatch(css)
		require.NotNil(t, up, css)
		most, err := strconv.ParseFloat(up[1], 64)
		require.NoError(t, err)
		points := point.FindAllStringSubmatch(css, -1)
		require.Greater(t, len(points), 20, c.Value)
		assert.Equal(t, "0", points[0][1])
		assert.Equal(t, "100", points[len(points)-1][1])
		for _, p := range points {
			deep, err := strconv.ParseFloat(p[2], 64)
			require.NoError(t, err)
			assert.LessOrEqual(t, deep, most, c.Value)
		}
	}
}

// What the hand moves on a part of a piece is said of that part and of nothing else.
func TestPartsTakeLooksOfTheirOwn(t *testing.T) {
	for _, p := range style.Properties {
		if p.Of == "" || p.Kind == style.IsColour {
			continue
		}
		value := strconv.Itoa(p.Default)
		if p.Kind == style.IsChoice {
			value = p.Choices[len(p.Choices)-1].Value
		}
		css := style.Look{p.Name: value}.CSS(style.Under{Selector: "#p-a", On: style.OnPiece, Button: p.Needs == style.Pressed})
		assert.Contains(t, css, "#p-a "+string(p.Of)+"{", p.Name)
		for _, other := range style.Parts {
			if other != p.Of {
				assert.NotContains(t, css, "#p-a "+string(other)+"{", p.Name)
			}
		}
		assert.True(t, strings.HasSuffix(css, "}"))
	}
}
