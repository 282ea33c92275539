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

func path(name string) string { return "/assets/" + name }

// anyHouse is a house of known parts, in any colours.
func anyHouse(t *rapid.T) style.House {
	h := style.House{Palette: map[string]string{}}
	for _, token := range style.Tokens {
		if rapid.Bool().Draw(t, "chosen") {
			h.Palette[token.Name] = rapid.StringMatching(`#[0-9a-f]{6}`).Draw(t, token.Name)
		}
	}
	family := func() string { return rapid.SampledFrom(style.Families).Draw(t, "family").ID }
	pick := func(list []style.Choice) string { return rapid.SampledFrom(list).Draw(t, "choice").Value }
	h.Heads, h.Body = family(), family()
	for _, s := range style.Settings {
		s.Put(&h, pick(s.Choices))
	}
	return h
}

// Whatever colours are chosen, what is computed from them reads where it stands.
func TestComputedShadesReadOnTheirGround(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		h := anyHouse(t)
		require.NoError(t, h.Validate())
		action, night := h.Colour("action"), h.Colour("night")
		assert.GreaterOrEqual(t, style.Contrast(h.Shade("on-action"), action), 4.5, "words on a button")
		assert.GreaterOrEqual(t, style.Contrast(h.Shade("on-action"), h.Shade("hover")), 4.5, "and under the pointer")
		assert.GreaterOrEqual(t, style.Contrast(h.Shade("on-night"), night), 4.5, "words on night")
	})
}

// One sheet says all of a house: each token, each shade, each family once, and
// nothing that is not closed again.
func TestAHouseIsOneStyleSheet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		h := anyHouse(t)
		css := h.CSS(path)
		assert.Equal(t, strings.Count(css, "{"), strings.Count(css, "}"))
		for _, token := range style.Tokens {
			assert.Equal(t, 1, strings.Count(css, ";--"+token.Name+":"), token.Name)
		}
		faces := regexp.MustCompile(`@font-face`).FindAllString(css, -1)
		want := 4 // each in two files, for Latin and for what is beyond it
		if h.Heads == h.Body {
			want = 2
		}
		assert.Len(t, faces, want)
		assert.True(t, h.Equal(h)) //nolint:gocritic // a house is like itself
		assert.NotContains(t, css, "<")
	})
}

// Headings grow by the scale, and are never smaller than copy, on a phone too.
func TestHeadingsGrowByTheScale(t *testing.T) {
	sizes := regexp.MustCompile(`--h([123]):clamp\(([0-9.]+)rem,[0-9.]+vw,([0-9.]+)rem\)`)
	for _, scale := range style.Scales {
		found := sizes.FindAllStringSubmatch(style.House{Scale: scale.Value}.CSS(path), -1)
		require.Len(t, found, 3, scale.Value)
		last := [2]float64{1, 1}
		for i, one := range found { // from the third to the first
			assert.Equal(t, strconv.Itoa(3-i), one[1])
			for side := range last {
				size, err := strconv.ParseFloat(one[2+side], 64)
				require.NoError(t, err)
				assert.Greater(t, size, last[side]-0.2, "%s: heading %s", scale.Value, one[1])
				last[side] = size
			}
		}
	}
}

func TestTwoHousesAreAlikeWhenTheyLookAlike(t *testing.T) {
	shipped := style.House{}
	said := style.House{Heads: "fraunces", Body: "figtree", Scale: "even", Corner: "small", Shadow: "none", Button: "solid", Palette: map[string]string{"ink": "#17332E"}}
	assert.True(t, shipped.Equal(said), "what is chosen as it ships is no other choice")
	assert.False(t, shipped.Equal(style.House{Logo: "dunes"}))
	assert.False(t, shipped.Equal(style.House{Button: "pill"}))
	assert.NoError(t, said.Validate())
	for place, h := range map[string]style.House{
		"palette.gold": {Palette: map[string]string{"gold": "#ffd700"}}, "palette.ink": {Palette: map[string]string{"ink": "black"}}, "heads": {Heads: "comic"}, "hover": {Hover: "jump"}, "logo": {Logo: "<svg>"},
	} {
		assert.ErrorContains(t, h.Validate(), place)
	}
}

// halves is a picture whose left half is black and whose right half is white.
func halves() style.Pixels {
	black, white := style.Colour{}, style.Colour{R: 255, G: 255, B: 255}
	p := style.Pixels{Patch: style.Patch{Dark: black, Light: white}}
	for i := range style.PatchColumns * style.PatchRows {
		one := black
		if i%style.PatchColumns >= style.PatchColumns/2 {
			one = white
		}
		p.Patches = append(p.Patches, style.Patch{Dark: one, Light: one})
	}
	return p
}

func TestWhatLiesUnderAPartOfAPicture(t *testing.T) {
	p := halves()
	left, right := p.In(style.Box{Right: 0.5, Bottom: 1}), p.In(style.Box{Left: 0.5, Right: 1, Bottom: 1})
	assert.Equal(t, "#000000 #000000", left.Dark.String()+" "+left.Light.String(), "an edge that touches white has nothing of it")
	assert.Equal(t, "#ffffff #ffffff", right.Dark.String()+" "+right.Light.String())
	both := p.In(style.Whole)
	assert.Equal(t, "#000000 #ffffff", both.Dark.String()+" "+both.Light.String())
	assert.Equal(t, p.Patches, style.ReadPatches(p.Bytes()), "as they are kept")
	assert.Nil(t, style.ReadPatches([]byte("something else")))
	assert.Equal(t, p.Patch, style.Pixels{Patch: p.Patch}.In(style.Box{Right: 0.1, Bottom: 0.1}), "without patches the whole is what is known")
}

// CSS Backgrounds and Borders 3, 3.6: a position of 0 % lays the left edge of a
// picture on the left edge of its box, 100 % the right one on the right one.
func TestAPictureLiesBehindABandAsCSSLaysIt(t *testing.T) {
	picture, band := style.Size{Width: 1000, Height: 500}, style.Size{Width: 500, Height: 500}
	for focus, want := range map[int]style.Box{
		0:   {Left: 0, Right: 0.5, Bottom: 1},
		50:  {Left: 0.25, Right: 0.75, Bottom: 1},
		100: {Left: 0.5, Right: 1, Bottom: 1},
	} {
		got, covered := style.Look{}.Behind("", picture, band, style.Whole, focus, 50)
		assert.InDelta(t, want.Left, got.Left, 1e-9, focus)
		assert.InDelta(t, want.Right, got.Right, 1e-9, focus)
		assert.True(t, covered, focus)
	}
	whole, covered := style.Look{"fit": "contain"}.Behind("", picture, band, style.Whole, 50, 50)
	assert.Equal(t, style.Whole, whole, "contain shows all of it")
	assert.False(t, covered, "with strips above and below")
	own, _ := style.Look{"focus_x": "100"}.Behind("", picture, band, style.Whole, 0, 50)
	assert.InDelta(t, 0.5, own.Left, 1e-9, "the band's own focus goes before the picture's")
	_, covered = style.Look{}.Behind("", style.Size{}, band, style.Whole, 50, 50)
	assert.True(t, covered, "of a picture without a size the worst is taken")
}

// The least veil that is named is enough, and five less would not be.
func TestTheLeastVeilUnderWhichWordsAreRead(t *testing.T) {
	white := style.Colour{R: 255, G: 255, B: 255}
	rapid.Check(t, func(t *rapid.T) {
		p := style.Patch{Dark: style.Colour{}, Light: colour(t, rapid.StringMatching(`#[0-9a-f]{6}`).Draw(t, "light"))}
		_, enough := style.Look{}.OverPicture("", white, p, style.ForText)
		if enough < 0 {
			t.Fatal("under a veil that is nearly black, white is always read")
		}
		under := func(percent int) float64 {
			ratio, _ := style.Look{"veil": strconv.Itoa(percent)}.OverPicture("", white, p, style.ForText)
			return ratio
		}
		assert.GreaterOrEqual(t, under(enough), style.ForText)
		if enough >= 5 {
			assert.Less(t, under(enough-5), style.ForText)
		}
	})
}
