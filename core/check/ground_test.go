package check_test

import (
	"strings"
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// halves is a picture that is night on the left and snow on the right.
func halves() facts.Picture {
	night, snow := style.Colour{R: 10, G: 20, B: 40}, style.Colour{R: 245, G: 245, B: 250}
	pic := facts.Picture{ID: "halves", Alt: "Night and snow", Width: 3200, Height: 900, Focus: facts.Focus{X: 50, Y: 50}}
	pic.Pixels.Dark, pic.Pixels.Light = night, snow
	for range style.PatchRows {
		for x := range style.PatchColumns {
			c := night
			if x >= style.PatchColumns/2 {
				c = snow
			}
			pic.Pixels.Patches = append(pic.Pixels.Patches, style.Patch{Dark: c, Light: c})
		}
	}
	return pic
}

func over(look style.Look, columns ...m.Column) check.Page {
	return check.Page{Schema: schema(),
		Purpose: "plain", Title: "T", Description: "D", Moment: now,
		Manuscript: m.Page{Version: 1, Bands: []m.Band{{ID: "hero", Name: "Opening", Tone: m.Night, Look: look, Columns: columns}}},
		Facts:      facts.Facts{Pictures: map[string]facts.Picture{"halves": halves()}},
	}
}

func column(width int, pieces ...m.Piece) m.Column { return m.Column{Width: width, Pieces: pieces} }

func readingsOf(p check.Page) map[string]check.Reading {
	out := map[string]check.Reading{}
	for _, r := range check.Readings(p) {
		out[strings.TrimSpace(r.What+" "+r.Where)] = r
	}
	return out
}

// Words are judged by the pixels that lie under them: on a wide screen in the
// left column by the night half alone; on a phone by what is left in view.
func TestWordsAreJudgedByThePixelsUnderThem(t *testing.T) {
	head := m.Piece{ID: "h", Kind: "heading", Fields: m.Fields{"text": "Fly the dark", "level": "1"}}
	empty := m.Piece{ID: "e", Kind: "divider"}
	left := over(style.Look{"picture": "halves", "focus_x": "0"}, column(1, head), column(1, empty))
	r := readingsOf(left)
	require.Contains(t, r, "Words of “Opening”")
	assert.Greater(t, r["Words of “Opening”"].Ratio, 15.0, "the night half on both screens: a phone keeps the left in view")

	right := over(style.Look{"picture": "halves", "focus_x": "0"}, column(1, empty), column(1, head))
	r = readingsOf(right)
	assert.Greater(t, r["Words of “Opening” on a phone"].Ratio, 15.0)
	assert.Less(t, r["Words of “Opening” on a wider screen"].Ratio, 1.5)
	found := check.Run(right)
	require.Len(t, found, 1)
	assert.Contains(t, found[0].What, "cannot be read over its picture on a wider screen")
	require.NotNil(t, found[0].Mend)

	middle := readingsOf(over(style.Look{"picture": "halves"}, column(1, head), column(1, empty)))
	assert.Less(t, middle["Words of “Opening” on a phone"].Ratio, 1.5, "a phone cuts the middle, half of it snow")
	assert.Greater(t, middle["Words of “Opening” on a wider screen"].Ratio, 15.0)
}

// A picture that is seen whole leaves words beside it on the band's own ground.
func TestWordsBesideAPictureAreJudgedByTheGround(t *testing.T) {
	head := m.Piece{ID: "h", Kind: "heading", Fields: m.Fields{"text": "Fly"}}
	p := over(style.Look{"picture": "halves", "fit": "contain", "focus_x": "0", "ground": "#ffffff"}, column(1, head))
	assert.Less(t, readingsOf(p)["Words of “Opening”"].Ratio, 1.5, "white words on the white beside it")
}

// A look that holds on wider screens only is judged there.
func TestLooksOfWiderScreensAreJudgedToo(t *testing.T) {
	head := m.Piece{ID: "h", Kind: "heading", Fields: m.Fields{"text": "Fly"}}
	p := over(style.Look{"wide.ground": "#eeeeee"}, column(1, head))
	p.Manuscript.Bands[0].Columns[0].Pieces[0].Fields["level"] = "1"
	found := check.Run(p)
	require.Len(t, found, 1)
	assert.Contains(t, found[0].What, "too faint on their ground on a wider screen")
	assert.Equal(t, "hero", found[0].Mend.Looks[0].ID)
	assert.Contains(t, found[0].Mend.Looks[0].Set, "wide.colour")
	hidden := over(style.Look{"ground": "#eeeeee", "seen": "wide"}, column(1, head))
	for _, r := range check.Readings(hidden) {
		assert.NotEqual(t, "on a phone", r.Where, "what a phone does not show is not judged there")
	}
}

// 1.4.11: the edge of a field, or its white, has 3 to 1 with what it stands on.
func TestFieldsStandOutFromAGroundOfTheirOwn(t *testing.T) {
	form := m.Piece{ID: "f", Kind: "form", Fields: m.Fields{"label": "Send"}}
	for ground, faint := range map[string]bool{"#a9b3af": true, "#ffffff": false, "#17332e": false} {
		p := over(style.Look{"ground": ground, "colour": "#000000"}, column(1, form))
		found := false
		for _, f := range check.Run(p) {
			found = found || strings.Contains(f.What, "does not stand out from its ground")
		}
		assert.Equal(t, faint, found, ground)
	}
}

// Words that a manner puts on a sheet of its own are judged there, whatever the band
// stands on and in whatever colour its own words are.
func TestWordsOnASheetAreJudgedOnTheSheet(t *testing.T) {
	kinds := schema()
	kinds["cost"] = m.Kind{Name: "cost", Role: m.Cost}
	page := func(manner string, look style.Look) map[string]check.Reading {
		p := over(style.Look{"ground": "#ffffff", "colour": "#ffffff"}, column(1, m.Piece{ID: "c", Kind: "cost", Look: look}))
		p.Schema, p.Manuscript.Bands[0].Manner = kinds, manner
		return readingsOf(p)
	}
	plain := page("centred", nil)
	require.Len(t, plain, 1)
	for _, r := range plain {
		assert.InDelta(t, 1, r.Ratio, 0.01, "white on white")
	}
	for _, r := range page("ticket", nil) {
		assert.Greater(t, r.Ratio, style.ForText, "the sheet is the house's card, and its words are ink")
	}
	for _, r := range page("ticket", style.Look{"colour": "#fdfdfd"}) {
		assert.Less(t, r.Ratio, 1.5, "white of its own is not read on a white sheet")
	}
}
