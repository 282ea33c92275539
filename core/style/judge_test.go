package style_test

import (
	"strings"
	"testing"

	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// sketch makes the pixels of a picture of letters: one a patch.
func sketch(t *testing.T, inks map[byte]string, paint func(x, y int) byte) style.Pixels {
	t.Helper()
	p := style.Pixels{Patch: style.Patch{Dark: style.Colour{R: 255, G: 255, B: 255}}}
	for y := range style.PatchRows {
		for x := range style.PatchColumns {
			c := colour(t, inks[paint(x, y)])
			p.Patches = append(p.Patches, style.Patch{Dark: c, Light: c})
			if c.Luminance() < p.Dark.Luminance() {
				p.Dark = c
			}
			if c.Luminance() > p.Light.Luminance() {
				p.Light = c
			}
		}
	}
	return p
}

func said(list []style.Judgement) string {
	var out []string
	for _, j := range list {
		out = append(out, j.Says)
	}
	return strings.Join(out, " ")
}

func TestAPictureIsJudgedInPlainWords(t *testing.T) {
	inks := map[byte]string{'.': "#ffffff", 'k': "#a93a22", 'n': "#0a0f14", 'g': "#777777"}
	whole := sketch(t, inks, func(x, y int) byte {
		if x > 4 && x < 11 && y > 3 && y < 9 {
			return 'k'
		}
		return '.'
	})
	all := said(whole.Judged(2000, false))
	assert.NotContains(t, all, "Cut at")
	assert.Contains(t, all, "Too mixed for words", "brick and white under one word")
	assert.Contains(t, said(whole.Judged(300, false)), "Too small: 300 pixels wide")
	assert.Contains(t, said(whole.Judged(900, false)), "too small behind a band")
	assert.NotContains(t, said(whole.Judged(48, true)), "small", "a drawn one is as large as it has to be")

	cut := sketch(t, inks, func(x, y int) byte {
		if x > 4 && x < 11 && y < 9 {
			return 'k'
		}
		return '.'
	})
	assert.Contains(t, said(cut.Judged(2000, false)), "Cut at the top:")
	near := sketch(t, inks, func(x, y int) byte {
		if x > 4 && x < 11 && y > 0 && y < 9 {
			return 'k'
		}
		return '.'
	})
	near.Patches[7].Dark = colour(t, "#a93a22") // its tip is in the row at the edge, with ground above it
	assert.NotContains(t, said(near.Judged(2000, false)), "Cut at", "what comes near is whole")
	table := sketch(t, inks, func(_, y int) byte {
		if y > 8 {
			return 'k'
		}
		return '.'
	})
	assert.NotContains(t, said(table.Judged(2000, false)), "Cut at the bottom", "a table is no cut")
	night := sketch(t, inks, func(int, int) byte { return 'n' })
	assert.Equal(t, []style.Judgement{{Says: "Very dark: little of it will be seen. White words are read on it.", Mend: true}}, night.Judged(2000, false))
}

// Where nothing is said of words on a picture, black or white ones are read on all of it.
func TestWhatIsNotBlamedCanBeWrittenOn(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		grey := func(label string) style.Colour {
			n := rapid.Uint8().Draw(t, label)
			return style.Colour{R: n, G: n, B: n}
		}
		dark, light := grey("dark"), grey("light")
		if light.Luminance() < dark.Luminance() {
			dark, light = light, dark
		}
		found := style.Pixels{Patch: style.Patch{Dark: dark, Light: light}}.Judged(2000, false)
		white, ink := style.Colour{R: 255, G: 255, B: 255}, style.Colour{R: 0x0b, G: 0x14, B: 0x12}
		reads := max(style.Worst(white, dark, light), style.Worst(ink, dark, light)) >= style.ForText
		if len(found) == 0 && !reads {
			t.Fatalf("nothing is read between %s and %s, and nothing is said", dark, light)
		}
		if len(found) > 0 && strings.Contains(found[0].Says, "mixed") && reads {
			t.Fatalf("%s to %s is blamed, and yet words are read on it: %v", dark, light, found)
		}
	})
}
