package all_test

import (
	"html"
	"slices"
	"strings"
	"testing"

	"chrysagon/core/letter"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestALetterTakesBeatsFromItsHeadings(t *testing.T) {
	parts := letter.Read("<h1>Fly the dark</h1><p>Once.</p><h2>How it began</h2><p>a</p><h2>Why it glows</h2><p>b</p><h2>What buyers said</h2><blockquote>c</blockquote><h2>Order yours</h2><p>d</p>", nil)
	bands := all.Lettered(parts, schema(t), ids())
	var got []string
	for _, b := range bands {
		got = append(got, b.Name+": "+string(b.Beat))
	}
	assert.Equal(t, []string{"Fly the dark: attention", "How it began: interest", "Why it glows: desire", "What buyers said: desire", "Order yours: action"}, got)
}

// squeezed are words as copy keeps them.
func squeezed(text string) string { return html.EscapeString(strings.Join(strings.Fields(text), " ")) }

// Whatever letter comes in, what it becomes is a page that can be kept: each section a band
// with a beat, each part a piece, and all of its words are there.
func TestAnyLetterIsAPage(t *testing.T) {
	schema := schema(t)
	rapid.Check(t, func(t *rapid.T) {
		var parts []letter.Part
		word := rapid.StringMatching(`[A-Za-zäß€0-9 ]{0,30}[a-z]`)
		for range rapid.IntRange(1, 12).Draw(t, "parts") {
			text := word.Draw(t, "words")
			p := letter.Part{Kind: rapid.SampledFrom([]letter.Kind{letter.Title, letter.Teaser, letter.Heading, letter.Copy, letter.Points, letter.Quote, letter.Aside}).Draw(t, "kind"), Text: text}
			switch p.Kind {
			case letter.Copy:
				p.Text, p.Rich = "", "<p>"+squeezed(text)+"</p>"
			case letter.Points:
				p.Text, p.Items, p.Count = "", slices.Repeat([]string{text}, rapid.IntRange(1, 60).Draw(t, "items")), rapid.Bool().Draw(t, "count")
			case letter.Aside:
				p.Rich = "<p>" + squeezed(word.Draw(t, "inside")) + "</p>"
			case letter.Title, letter.Teaser, letter.Heading, letter.Quote:
			}
			parts = append(parts, p)
		}
		page := m.Page{Version: m.Version, Bands: all.Lettered(parts, schema, ids())}
		require.NoError(t, schema.Validate(page))
		assert.Len(t, page.Bands, len(letter.Sections(parts)))
		for _, b := range page.Bands {
			assert.Contains(t, m.Beats, b.Beat)
			assert.NotEmpty(t, b.Name)
			assert.NotEmpty(t, b.Columns[0].Pieces)
		}
	})
}
