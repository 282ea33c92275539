package way_test

import (
	"html/template"
	"strings"
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func around(items ...any) m.Fields {
	return m.Fields{"items": items, "target": "https://maps.example/gustwell", "label": "Open it in a map"}
}

func place(what, side, far string) any {
	return map[string]any{"what": what, "side": side, "far": far}
}

func drawn(t *testing.T, fields m.Fields) string {
	t.Helper()
	registry, err := all.Registry()
	require.NoError(t, err)
	kind, ok := registry.Kind("way")
	require.True(t, ok)
	c := &pieces.Context{Facts: facts.Facts{Store: facts.Store{Name: "Gustwell", LegalAddress: "Rua do Vento 3\nPeniche"}}, Icon: func(string) template.HTML { return "" }}
	value := kind.View(c, m.Piece{ID: "p", Kind: "way", Fields: fields})
	if value == nil {
		return ""
	}
	var out strings.Builder
	require.NoError(t, registry.View("way").Execute(&out, value))
	return out.String()
}

// Every place stands on its own side of the store: east is right, north is up. What is
// drawn is also said, for who cannot see it.
func TestPlacesStandOnTheirSides(t *testing.T) {
	html := drawn(t, around(place("Harbour", "n", "5 minutes on foot"), place("Station", "e", ""), place("", "s", "nowhere")))
	assert.Contains(t, html, `x2="0" y2="-84"`)
	assert.Contains(t, html, `x2="76" y2="0"`)
	assert.Contains(t, html, `aria-label="Around Gustwell: Harbour to the north, 5 minutes on foot; Station to the east"`)
	assert.Contains(t, html, `href="https://maps.example/gustwell"`)
	assert.Contains(t, html, "Rua do Vento 3<br>Peniche")
	assert.Equal(t, 2, strings.Count(html, "<line"), "a place without a name is not drawn")
	assert.Contains(t, drawn(t, around(place(`<b>"Pier" & co`, "sw", ""))), "&lt;b&gt;&#34;Pier&#34; &amp; co", "words stay words")
	assert.NotContains(t, drawn(t, m.Fields{}), "<svg", "without places there is the address alone")
}

// The rest of the program knows it by what it says of itself: its link is a call to
// action, and can be acted on before scrolling.
func TestItIsKnownByItsTraits(t *testing.T) {
	registry, err := all.Registry()
	require.NoError(t, err)
	page := check.Page{Schema: registry.Schema(), Manuscript: m.Page{Version: m.Version, Bands: []m.Band{{ID: "b", Name: "Way", Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "p", Kind: "way", Fields: around(place("Harbour", "n", ""))},
	}}}}}}}
	require.NoError(t, registry.Schema().Validate(page.Manuscript))
	calls := check.Calls(page)
	require.Len(t, calls, 1)
	assert.Equal(t, "Open it in a map", calls[0].Says)
	kind, _ := registry.Kind("way")
	assert.True(t, kind.Tell(nil, m.Piece{Fields: m.Fields{}}).Trouble)
	assert.Equal(t, "Way here, by Harbour", kind.Tell(nil, page.Manuscript.Bands[0].Columns[0].Pieces[0]).String())
}
