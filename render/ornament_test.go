package render_test

import (
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/pieces/divider"
	"chrysagon/render"
	"chrysagon/render/scene"

	"github.com/stretchr/testify/assert"
)

// A divider can be every ornament that is drawn, and nothing that is not.
func TestEveryOrnamentCanStandBetweenThings(t *testing.T) {
	offered := map[string]bool{}
	for _, o := range divider.Ornaments {
		offered[o.Value] = true
	}
	for _, s := range scene.All {
		assert.Equal(t, s.Of == scene.Ornament, offered[s.Name], s.Name)
	}
	r := renderer(t)
	page := manuscript.Page{Version: manuscript.Version, Bands: []manuscript.Band{{ID: "b", Beat: manuscript.Plain, Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{
		{ID: "d", Kind: "divider", Fields: manuscript.Fields{"look": "knot-rule", "size": "small"}},
	}}}}}}
	drawn := string(draw(t, r, render.Input{Page: page, Facts: world(), Moment: noon}).HTML)
	assert.Regexp(t, `<p class="ornament small"><img[^>]*/scenes/knot-rule\.wide\.`, drawn)
}
