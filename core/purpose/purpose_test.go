package purpose_test

import (
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/route"

	"github.com/stretchr/testify/assert"
)

func TestPurposesAreNamedOnceAndSaidInWords(t *testing.T) {
	seen := map[string]bool{}
	for _, p := range purpose.All {
		assert.False(t, seen[p.Name], p.Name)
		seen[p.Name] = true
		assert.NotEmpty(t, p.Title)
		assert.NotEmpty(t, p.What)
		assert.Equal(t, p, purpose.Of(p.Name))
		assert.True(t, purpose.Known(p.Name))
	}
	assert.False(t, purpose.Known("wizard"))
	assert.Equal(t, "page", purpose.Of("wizard").Title, "what is not known is a page")
	assert.Equal(t, route.DownsellAt, purpose.Of("downsell").Step)
}

func TestMissingNamesTheBeatsNotServed(t *testing.T) {
	page := m.Page{Bands: []m.Band{{Beat: m.Action}, {Beat: m.Attention}, {Beat: m.Plain}}}
	assert.Equal(t, []m.Beat{m.Interest, m.Desire}, purpose.Of("sales").Missing(page))
	assert.Empty(t, purpose.Of("upsell").Missing(page))
	assert.Empty(t, purpose.Of("contact").Missing(m.Page{}), "some pages persuade nobody")
}
