package render_test

import (
	"encoding/json"
	"regexp"
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
	"chrysagon/render"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func published(t *testing.T, page m.Page, change func(*render.Input)) string {
	t.Helper()
	in := render.Input{Page: page, Title: `Night & "flight"`, Description: "A kite </script> with a lantern.", Facts: world(), Moment: noon, Origin: "https://shop.example", Place: pieces.Place{Address: "night-flight"}}
	change(&in)
	return string(draw(t, renderer(t), in).HTML)
}

func structuredData(t *testing.T, html string) []map[string]any {
	t.Helper()
	found := regexp.MustCompile(`<script type="application/ld\+json">(.*?)</script>`).FindStringSubmatch(html)
	require.NotNil(t, found)
	var data struct {
		Context string           `json:"@context"`
		Graph   []map[string]any `json:"@graph"`
	}
	require.NoError(t, json.Unmarshal([]byte(found[1]), &data))
	assert.Equal(t, "https://schema.org", data.Context)
	return data.Graph
}

// The properties that schema.org names for these types (schema.org, release of
// 2024, from memory).
var terms = map[string][]string{
	"ItemList":       {"@type", "itemListElement", "numberOfItems"},
	"BreadcrumbList": {"@type", "itemListElement"},
	"ListItem":       {"@type", "position", "name", "item", "url"},
	"Product":        {"@type", "name", "sku", "image", "description", "offers"},
	"Offer":          {"@type", "url", "price", "priceCurrency", "availability", "priceValidUntil"},
	"FAQPage":        {"@type", "mainEntity"},
	"Question":       {"@type", "name", "acceptedAnswer"},
	"Answer":         {"@type", "text"},
}

func onlyTerms(t *testing.T, node any) {
	t.Helper()
	switch n := node.(type) {
	case map[string]any:
		kind, _ := n["@type"].(string)
		for name, value := range n {
			assert.Contains(t, terms[kind], name, kind)
			onlyTerms(t, value)
		}
	case []any:
		for _, one := range n {
			onlyTerms(t, one)
		}
	}
}

func TestAPageSaysWhatItSellsInSchemaOrgsTerms(t *testing.T) {
	page := m.Page{Version: m.Version, Bands: []m.Band{{ID: "b", Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "c", Kind: "checkout", Fields: m.Fields{"product": "ember"}},
		{ID: "q", Kind: "faq", Fields: m.Fields{"items": []any{map[string]any{"question": "Does it float?", "answer": "It flies."}}}},
	}}}}}}
	graph := structuredData(t, published(t, page, func(*render.Input) {}))
	require.Len(t, graph, 3)
	assert.Equal(t, "BreadcrumbList", graph[2]["@type"])
	for _, node := range graph {
		onlyTerms(t, node)
	}
	offer, _ := graph[0]["offers"].(map[string]any)
	assert.Equal(t, "51.00", offer["price"], "what is asked now")
	assert.Equal(t, "EUR", offer["priceCurrency"])
	assert.Equal(t, "2026-11-27T12:00:00Z", offer["priceValidUntil"], "until the offer ends")
	assert.Equal(t, "https://schema.org/InStock", offer["availability"])

	html := published(t, page, func(in *render.Input) { in.Moment = in.Moment.AddDate(0, 0, 5) })
	offer, _ = structuredData(t, html)[0]["offers"].(map[string]any)
	assert.Equal(t, "68.00", offer["price"])
	assert.NotContains(t, offer, "priceValidUntil", "the list price has no end")
}

func TestAPageHasOneAddressAndACard(t *testing.T) {
	html := published(t, m.Page{Version: m.Version}, func(*render.Input) {})
	assert.Contains(t, html, `<link rel="canonical" href="https://shop.example/night-flight">`)
	assert.Contains(t, html, `<meta property="og:title" content="Night &amp; &#34;flight&#34;">`)
	assert.Contains(t, html, `<meta property="og:description" content="A kite &lt;/script&gt; with a lantern.">`)
	for what, change := range map[string]func(*render.Input){
		"a proof":                func(in *render.Input) { in.Proof = true },
		"an upsell":              func(in *render.Input) { in.Place.Upsell = true },
		"a page without a place": func(in *render.Input) { in.Origin = "" },
	} {
		assert.NotContains(t, published(t, m.Page{Version: m.Version}, change), "canonical", what)
	}
}
