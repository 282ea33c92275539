package style_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func colour(t require.TestingT, text string) style.Colour {
	c, err := style.ParseColour(text)
	require.NoError(t, err)
	return c
}

// WCAG 2.2 gives the formula; these are its values for pairs much quoted: black
// on white is 21 by definition, #767676 is the lightest grey that passes 4.5 on
// white (W3C, Understanding SC 1.4.3, and technique G18), #777777 fails.
func TestContrastIsThatOfWCAG(t *testing.T) {
	white := colour(t, "#fff")
	assert.InDelta(t, 21, style.Contrast(colour(t, "#000"), white), 1e-9)
	assert.InDelta(t, 1, style.Contrast(white, white), 1e-9)
	assert.InDelta(t, 4.54, style.Contrast(colour(t, "#767676"), white), 0.005)
	assert.InDelta(t, 4.48, style.Contrast(colour(t, "#777777"), white), 0.005)
	assert.InDelta(t, 3.998, style.Contrast(colour(t, "#ff0000"), white), 0.005, "pure red on white, 4.0 in W3C's examples")
	assert.InDelta(t, 8.59, style.Contrast(colour(t, "#0000ff"), white), 0.005)
}

// Björn Ottosson's page on OKLab (2020) gives white as L = 1 with no colour; that
// mixing stays on sRGB's greys for greys follows.
func TestMixingIsEvenToTheEye(t *testing.T) {
	black, white := colour(t, "#000"), colour(t, "#fff")
	assert.Equal(t, "#636363", style.Mix(black, white, 0.5).String(), "OKLab's middle grey: L 0.5 is linear 0.125")
	assert.InDelta(t, 1, style.Apart(black, white), 1e-4)
	rapid.Check(t, func(t *rapid.T) {
		c := style.Colour{R: rapid.Uint8().Draw(t, "r"), G: rapid.Uint8().Draw(t, "g"), B: rapid.Uint8().Draw(t, "b")}
		other := style.Colour{R: rapid.Uint8().Draw(t, "r2"), G: rapid.Uint8().Draw(t, "g2"), B: rapid.Uint8().Draw(t, "b2")}
		assert.Equal(t, c, style.Mix(c, other, 0), "nothing of the other")
		assert.Equal(t, other, style.Mix(c, other, 1), "all of it")
		again, err := style.ParseColour(c.String())
		require.NoError(t, err)
		assert.Equal(t, c, again)
		ratio := style.Contrast(c, other)
		assert.InDelta(t, ratio, style.Contrast(other, c), 1e-12)
		assert.True(t, ratio >= 1 && ratio <= 21.0001)
		assert.GreaterOrEqual(t, style.Contrast(style.On(c), c), 4.0, "there is always something to write with")
	})
}

func TestTheShippedHouseReads(t *testing.T) {
	for _, r := range (style.House{}).Contrasts() {
		assert.True(t, r.Holds(), "%s: %.2f", r.What, r.Ratio)
	}
}

func TestEveryComputedShadeReadsInAnyHouse(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		h := style.House{Palette: map[string]string{}}
		for _, token := range style.Tokens {
			h.Palette[token.Name] = style.Colour{R: rapid.Uint8().Draw(t, token.Name), G: rapid.Uint8().Draw(t, "g"), B: rapid.Uint8().Draw(t, "b")}.String()
		}
		require.NoError(t, h.Validate())
		// On some pairs of middling grounds nothing is read; then black or white is
		// the best there is.
		card, paper := h.Colour("card"), h.Colour("paper")
		best := min(style.ForText, max(style.Worst(style.Colour{}, card, paper), style.Worst(style.Colour{R: 255, G: 255, B: 255}, card, paper)))
		for _, shade := range []string{"quiet", "link"} {
			assert.GreaterOrEqual(t, style.Worst(h.Shade(shade), card, paper), best, shade)
		}
		for _, r := range h.Contrasts() {
			if r.Mended == "" {
				continue
			}
			h.Palette[r.Token] = r.Mended
			for _, again := range h.Contrasts() {
				if again.What == r.What && again.Token != "action" && again.Token != "night" {
					assert.True(t, again.Holds(), "%s with what was proposed: %.2f", r.What, again.Ratio)
				}
			}
		}
	})
}

func TestHousesOfUnknownPartsAreRefused(t *testing.T) {
	for _, h := range []string{
		`{"palette":{"ink":"red;}body{display:none"}}`, `{"palette":{"sky":"#fff"}}`, `{"heads":"../../etc/passwd"}`, `{"scale":"huge"}`, `{"button":"javascript:"}`,
	} {
		var house style.House
		require.NoError(t, json.Unmarshal([]byte(h), &house))
		require.Error(t, house.Validate(), h)
	}
	assert.NoError(t, style.House{Heads: "lora", Scale: "loud", Hover: "lift", Button: "outline"}.Validate())
}

// Nothing but a look comes out of a look: whatever text is offered as a value
// either is refused or leaves the style sheet with as many rules as before.
func TestAHostileLookIsRefused(t *testing.T) {
	for _, l := range []style.Look{
		{"size": "100;}*{display:none"}, {"colour": "red"}, {"colour": "#fff}body{color:red"}, {"colour": "url(//evil)"}, {"align": "justify"},
		{"above": "-4"}, {"above": "04"}, {"above": "9999"}, {"picture": "a)b"}, {"nothing": "1"}, {"wide.order": "1"}, {"effect": ""},
	} {
		require.Error(t, l.Validate(style.OnBand|style.OnPiece), l)
	}
	rapid.Check(t, func(t *rapid.T) {
		p := rapid.SampledFrom(style.Properties).Draw(t, "property")
		l := style.Look{p.Name: rapid.String().Draw(t, "value")}
		if l.Validate(p.On) != nil {
			return
		}
		css := l.CSS(style.Under{Selector: "#p-a", On: p.On, Address: func(string, int) string { return "/pictures/a.jpg" }})
		assert.LessOrEqual(t, strings.Count(css, "{"), 4)
		assert.Equal(t, strings.Count(css, "{"), strings.Count(css, "}"))
	})
}

func TestLooksSayWhatPhonesAndWiderScreensShow(t *testing.T) {
	address := func(id string, width int) string { return fmt.Sprintf("/pictures/%s.jpg?w=%d", id, width) }
	band := style.Under{Selector: "#band-hero", On: style.OnBand, Address: address}
	css := style.Look{"picture": "dunes", "veil": "40", "focus_x": "20", "above": "32", "wide.above": "96"}.CSS(band)
	assert.Contains(t, css, `background-image:linear-gradient(rgb(11 20 18/40%),rgb(11 20 18/40%)),url("/pictures/dunes.jpg?w=900");background-size:cover;background-position:20% 50%`)
	assert.Contains(t, css, `@media(min-width:768px){#band-hero{padding-top:96px;background-image:`, "and the larger picture on a wider screen")
	assert.Contains(t, css, `dunes.jpg?w=1800`)
	piece := style.Under{Selector: "#p-h", On: style.OnPiece}
	assert.Equal(t, "#p-h{--size:1.30;--words:#a93a22;color:#a93a22;--own:#a93a22}", style.Look{"size": "130", "colour": "urgent"}.CSS(piece))
	assert.Equal(t, "@media(max-width:767px){#p-h{display:none}}", style.Look{"seen": "wide"}.CSS(piece))
	assert.Equal(t, "@media(min-width:768px){#p-h{display:none}}", style.Look{"seen": "phone"}.CSS(piece))
	piece.Button = true
	assert.Equal(t, "#p-h{--action:#23705f;--edge:#23705f;--on-action:#ffffff;--own-words:#ffffff;--hover:#1c5d4f;--own-ground:#23705f}", style.Look{"ground": "good", "colour": "#ffffff"}.CSS(piece), "a button's ground is the button's")
}

// White on mid grey #808080 has 3.95; under a dark veil of enough it reads.
func TestWordsOverAPictureAreJudgedByItsPixels(t *testing.T) {
	white := colour(t, "#fff")
	bright := style.Patch{Dark: colour(t, "#202020"), Light: colour(t, "#f0f0f0")}
	ratio, enough := style.Look{}.OverPicture("", white, bright, style.ForText)
	assert.Less(t, ratio, 1.5)
	require.Positive(t, enough)
	mended, _ := style.Look{"veil": fmt.Sprint(enough)}.OverPicture("", white, bright, style.ForText)
	assert.GreaterOrEqual(t, mended, style.ForText)
	less, _ := style.Look{"veil": fmt.Sprint(enough - 5)}.OverPicture("", white, bright, style.ForText)
	assert.Less(t, less, style.ForText, "and no more than needed")
	_, none := style.Look{"veil_of": "light"}.OverPicture("", white, bright, style.ForText)
	assert.Equal(t, -1, none, "no white veil helps white words")
}

func TestDriftIsWhereAlikeThingsDiffer(t *testing.T) {
	worn := []style.Worn{
		{"a", "Button", false, style.Look{"ground": "#c8951a"}}, {"b", "Button", false, style.Look{"ground": "#c9951b"}}, {"c", "Button", false, nil}, {"d", "Button", false, nil},
		{"h", "Heading", false, style.Look{"size": "120"}}, {"i", "Heading", false, style.Look{"size": "120", "above": "8"}}, {"alone", "Timer", false, style.Look{"size": "200"}},
		{"hero", "bands", true, style.Look{"ground": "#102030"}}, {"more", "bands", true, nil}, {"last", "bands", true, style.Look{"ground": "#f0e8d8"}},
	}
	drifts := style.Drifts(worn)
	require.Len(t, drifts, 1, "headings agree, room may differ, bands are meant to, and what is alone drifts from nothing")
	assert.Equal(t, "Button", drifts[0].Alike)
	assert.Equal(t, "2 like the house, 1 #c8951a, 1 #c9951b", drifts[0].Says)
	assert.Equal(t, []string{"a", "b", "c", "d"}, drifts[0].IDs)
	worn = append(worn, style.Worn{ID: "near", Alike: "bands", Band: true, Look: style.Look{"ground": "#112131"}})
	assert.Len(t, style.Drifts(worn), 2, "two grounds that only almost agree")
}

func ExampleHouse_Contrasts() {
	h := style.House{Palette: map[string]string{"urgent": "#e08a70"}}
	for _, r := range h.Contrasts() {
		if !r.Holds() && r.Mended != "" {
			fmt.Printf("%s: %.1f, under %.1f; %s would do\n", r.What, r.Ratio, r.Least, r.Mended)
		}
	}
	// Output: Urgency on card and paper: 2.4, under 4.5; #a0614e would do
}

// Whatever ground a band is given, all that pages write on it can be read: the
// ink itself, a shade of it, or the colour of the words.
func TestEveryInkIsReadOnAnyGround(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		part := rapid.Uint8()
		ground := style.Colour{R: part.Draw(t, "red"), G: part.Draw(t, "green"), B: part.Draw(t, "blue")}
		words := style.On(ground)
		css := style.House{}.InksOn(words, ground)
		for _, declared := range strings.Split(css, ";") {
			name, value, ok := strings.Cut(strings.TrimPrefix(declared, "--"), ":")
			if !ok {
				continue
			}
			c, err := style.ParseColour(value)
			require.NoError(t, err, name)
			assert.GreaterOrEqual(t, style.Contrast(c, ground), style.ForText, "%s on %s", name, ground)
		}
		if style.Contrast(style.House{}.Colour("urgent"), ground) < style.ForText {
			assert.Contains(t, css, "--urgent:")
		}
	})
}

// The picture's share at its position stands on that share of the band (CSS
// Backgrounds 3, 3.6): 25% of a picture twice as wide as its band leaves a
// quarter of what is over to the left.
func TestWhatLiesBehindAPartOfABand(t *testing.T) {
	picture, band := style.Size{Width: 2000, Height: 500}, style.Size{Width: 1000, Height: 500}
	near := func(want, got style.Box) {
		t.Helper()
		for _, pair := range [][2]float64{{want.Left, got.Left}, {want.Top, got.Top}, {want.Right, got.Right}, {want.Bottom, got.Bottom}} {
			assert.InDelta(t, pair[0], pair[1], 1e-9)
		}
	}
	box, covered := style.Look{"focus_x": "25"}.Behind("", picture, band, style.Whole, 50, 50)
	near(style.Box{Left: 0.125, Top: 0, Right: 0.625, Bottom: 1}, box)
	assert.True(t, covered)
	box, _ = style.Look{}.Behind("", picture, band, style.Box{Left: 0, Top: 0, Right: 0.5, Bottom: 1}, 0, 50)
	near(style.Box{Left: 0, Top: 0, Right: 0.25, Bottom: 1}, box)
	box, covered = style.Look{"fit": "contain"}.Behind("", picture, band, style.Whole, 50, 50)
	near(style.Whole, box)
	assert.False(t, covered, "above and below it the band's own ground is seen")
	box, _ = style.Look{"wide.focus_x": "100", "focus_x": "0"}.Behind(style.Wide, picture, band, style.Whole, 50, 50)
	near(style.Box{Left: 0.5, Top: 0, Right: 1, Bottom: 1}, box)
}

func TestPatchesAreKeptAsTheyAre(t *testing.T) {
	var px style.Pixels
	for i := range style.PatchColumns * style.PatchRows {
		px.Patches = append(px.Patches, style.Patch{Dark: style.Colour{R: uint8(i)}, Light: style.Colour{R: 255, G: uint8(i)}})
	}
	assert.Equal(t, px.Patches, style.ReadPatches(px.Bytes()))
	assert.Nil(t, style.ReadPatches([]byte("else")))
	corner := px.In(style.Box{Left: 0, Top: 0, Right: 1.0 / style.PatchColumns, Bottom: 1.0 / style.PatchRows})
	assert.Equal(t, px.Patches[0], corner, "an edge that only touches the next patch has nothing of it")
	assert.Equal(t, px.Patches[0].Dark, px.In(style.Whole).Dark)
	px.Patches = nil
	px.Patch = style.Patch{Light: style.Colour{R: 9}}
	assert.Equal(t, px.Patch, px.In(style.Whole), "without patches only the whole is known")
}

func TestPricesTakeLooksOfTheirOwn(t *testing.T) {
	look := style.Look{"size": "120", "now_size": "160", "now_weight": "800", "struck_colour": "#0a7d55", style.Wide + "struck_size": "90"}
	assert.NoError(t, look.Validate(style.OnPiece))
	assert.Error(t, look.Validate(style.OnBand))
	assert.Equal(t, "#p-x{--size:1.20}#p-x .now{--part:1.60;font-weight:800}#p-x s{color:#0a7d55}@media(min-width:768px){#p-x s{--part:0.90}}",
		look.CSS(style.Under{House: style.House{}, Selector: "#p-x", On: style.OnPiece}))
}
