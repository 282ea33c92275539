package all_test

import (
	"fmt"
	"slices"
	"testing"

	"chrysagon/core/mailing"
	m "chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func ids() func() string {
	n := 0
	return func() string { n++; return fmt.Sprintf("id-%d", n) }
}

func schema(t *testing.T) m.Schema {
	t.Helper()
	registry, err := all.Registry()
	require.NoError(t, err)
	return registry.Schema()
}

// Every template is valid, has a purpose and serves all its beats, has one
// headline, and can do its part: sell, ask or show what was bought.
func TestTemplatesAreWholePages(t *testing.T) {
	list := all.Templates()
	assert.GreaterOrEqual(t, len(list), 20)
	seen := map[string]bool{}
	for _, tpl := range list {
		require.False(t, seen[tpl.Name], tpl.Name)
		seen[tpl.Name] = true
		page := tpl.Page(schema(t), ids())
		require.NoError(t, schema(t).Validate(page), tpl.Name)
		require.True(t, purpose.Known(tpl.Purpose), tpl.Name)
		assert.Empty(t, purpose.Of(tpl.Purpose).Missing(page), tpl.Name)
		count := map[string]int{}
		headlines := 0
		page.Walk(func(_ m.Band, p m.Piece) {
			count[p.Kind]++
			if p.Kind == "heading" && p.Fields.Text("level") == "1" {
				headlines++
			}
		})
		assert.Equal(t, 1, headlines, tpl.Name)
		must := map[string]string{"sales": "checkout", "product": "checkout", "upsell": "answer", "downsell": "answer", "thank_you": "receipt", "opt_in": "form", "shelf": "shelf", "contact": "form", "appointment": "phone"}[tpl.Purpose]
		if must != "" {
			assert.NotZero(t, count[must], "%s has no %s", tpl.Name, must)
		}
		if tpl.Layout != "full" {
			assert.NotZero(t, count["legal"], "%s says nowhere who sells", tpl.Name)
		}
		assert.Contains(t, all.Moods, tpl.Mood, tpl.Name)
		assert.True(t, tpl.Season == "" || slices.Contains(all.Seasons, tpl.Season), tpl.Name)
	}
	for _, p := range purpose.All {
		if p.Name != "plain" {
			assert.True(t, slices.ContainsFunc(slices.Concat(list, all.Letters(), all.OrderMails()), func(tpl all.Template) bool { return tpl.Purpose == p.Name }), "no template for a %s", p.Title)
		}
	}
}

func TestTemplatesAreFound(t *testing.T) {
	found := func(search, purpose, season string) (names []string) {
		for _, tpl := range all.Templates() {
			if tpl.Finds(search, purpose, season, "") {
				names = append(names, tpl.Name)
			}
		}
		return names
	}
	assert.Equal(t, []string{"gift-guide"}, found("gift", "", ""))
	assert.Equal(t, []string{"letter"}, found("long SALES", "", ""))
	assert.Equal(t, []string{"launch", "coming-soon", "launch-list"}, found("", "", "launch"))
	assert.Equal(t, []string{"upsell"}, found("", "upsell", ""))
	assert.Empty(t, found("submarine", "", ""))
	_, ok := all.TemplateOf("submarine")
	assert.False(t, ok)
}

// A line of plain words becomes the band it asks for, named by it.
func TestALineOfAPlanBecomesABand(t *testing.T) {
	for line, want := range map[string]string{
		"Hero with the big headline": "opening", "three benefits with icons": "perks", "what buyers said, testimonials": "testimonials",
		"countdown until Friday": "timer", "order here: checkout": "checkout", "questions and answers": "faq", "why it flies at night": "perks",
		"newsletter": "newsletter", "Social pictures": "posted", "Pictures of it": "gallery", "Seven bands of a complete page": "copy", "hours, phone, address": "visit", "Something entirely different": "copy", "": "copy",
	} {
		assert.Equal(t, want, all.Fit(line).Name, line)
	}
	band := all.Planned("  three   benefits ", schema(t), ids())
	assert.Equal(t, "three benefits", band.Name)
	assert.Equal(t, "three benefits", band.Columns[0].Pieces[0].Fields.Text("text"), "the words go into the heading")
	assert.Equal(t, m.Desire, band.Beat)
}

// No word asks for two bands at once, or the plan would have to guess.
func TestNoWordAsksForTwoBands(t *testing.T) {
	of := map[string]string{}
	for _, a := range all.Arrangements() {
		for _, w := range a.Words {
			assert.Empty(t, of[w], "%q asks for %s and %s", w, of[w], a.Name)
			of[w] = a.Name
		}
	}
}

// Every purpose but the plain one has bands of its own to choose from first, and
// every band can be had on every page.
func TestBandsAreOfferedByPurpose(t *testing.T) {
	n := len(all.Arrangements())
	for _, p := range purpose.All {
		fitting, others := all.ArrangementsFor(p.Name)
		assert.Equal(t, n, len(fitting)+len(others), p.Name)
		if p.Name != "plain" {
			assert.NotEmpty(t, fitting, p.Name)
		}
	}
	fitting, _ := all.ArrangementsFor("sales")
	assert.Equal(t, "opening", fitting[0].Name)
	assert.True(t, slices.ContainsFunc(fitting, func(a all.Arrangement) bool { return a.Name == "checkout" }))
}

// A letter to begin from holds only what a letter can show, has one headline, and says
// something in place of a name that is not known.
func TestLettersAreWholeLetters(t *testing.T) {
	registry, err := all.Registry()
	require.NoError(t, err)
	mailable := registry.InLetters()
	for _, tpl := range slices.Concat(all.Letters(), all.OrderMails()) {
		found, ok := all.TemplateOf(tpl.Name)
		require.True(t, ok, tpl.Name)
		assert.True(t, purpose.Of(found.Purpose).Mail)
		page := tpl.Page(registry.Schema(), ids())
		require.NoError(t, registry.Schema().Validate(page), tpl.Name)
		headlines := 0
		page.Walk(func(_ m.Band, p m.Piece) {
			assert.True(t, mailable[p.Kind], "%s: %s cannot stand in a letter", tpl.Name, p.Kind)
			if p.Kind == "heading" && p.Fields.Text("level") == "1" {
				headlines++
			}
			p.Fields.EachText(func(_, text string) { assert.Empty(t, mailing.Unknown(text), tpl.Name) })
		})
		assert.Equal(t, 1, headlines, tpl.Name)
		assert.False(t, slices.ContainsFunc(all.Templates(), func(p all.Template) bool { return p.Name == tpl.Name }), "it is no page")
	}
}
