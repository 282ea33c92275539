package render_test

import (
	"encoding/json"
	"os"
	"regexp"
	"strings"
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/render"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// hashed is the part of a file's address that changes with what is in it: scripts may.
var hashed = regexp.MustCompile(`-[0-9a-f]{12}\.`)

// What was published stays drawn as it was. The page and what was drawn of it, styles
// included, were kept when there was one composition only; neither is ever made anew.
func TestAnEditionOfTheFirstCompositionIsDrawnAsItWas(t *testing.T) {
	raw, err := os.ReadFile("testdata/first.page.json")
	require.NoError(t, err)
	var page m.Page
	require.NoError(t, json.Unmarshal(raw, &page))
	want, err := os.ReadFile("testdata/first.html.golden")
	require.NoError(t, err)

	f := world()
	f.Store.House = style.House{Scale: "loud", Corner: "round", Shadow: "soft", Button: "pill", Hover: "lift", Heads: "literata", Palette: map[string]string{"action": "#8a2d5b"}}
	drawn := draw(t, renderer(t), render.Input{Page: page, Title: "Night flight", Description: "A kite with a lantern.", Facts: f, Moment: noon, Layout: "full", Origin: "https://shop.example", Composition: 1})
	// How soon a script is fetched is not how the page is drawn.
	now := strings.ReplaceAll(string(drawn.HTML), ` defer fetchpriority="low"`, " defer")
	assert.Equal(t, string(want), hashed.ReplaceAllString(now, "-HASH."))
}
