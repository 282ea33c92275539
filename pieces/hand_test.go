package pieces_test

import (
	"testing"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
)

func TestAnySignStandsBeforeWords(t *testing.T) {
	c := context(noon)
	c.Facts.Pictures = map[string]facts.Picture{"mast": {ID: "mast", Name: "Mast", Path: "/pictures/mast.png", Width: 40, Height: 40}}
	items := []any{map[string]any{"text": "Four knots"}}
	assert.Contains(t, shown(t, c, "bullets", m.Fields{"items": items, "mark": "kayak"}), "data-icon=kayak")
	assert.Contains(t, shown(t, c, "bullets", m.Fields{"items": items, "mark": "№"}), `<span class="mark" aria-hidden="true">№</span>`)
	assert.Contains(t, shown(t, c, "bullets", m.Fields{"items": items, "mark": "picture:mast"}), `<img class="mark" src="/pictures/mast.png`)
	assert.NotContains(t, shown(t, c, "bullets", m.Fields{"items": items, "mark": "picture:gone"}), "<img")
	assert.Contains(t, shown(t, c, "bullets", m.Fields{"items": items, "mark": "<>\"'"}), "&lt;&gt;&#34;&#39;", "a typed sign is words")
}

func TestAButtonAndAnAnnouncementTakeASign(t *testing.T) {
	c := context(noon)
	label := m.Fields{"label": "To the shop", "target": "home", "icon": "wind"}
	assert.Regexp(t, `<svg data-icon=wind>To the shop</a>`, shown(t, c, "button", label))
	label["icon_at"] = "after"
	assert.Regexp(t, `>To the shop<svg data-icon=wind></a>`, shown(t, c, "button", label))
	assert.NotContains(t, shown(t, c, "button", m.Fields{"label": "To the shop", "target": "home"}), "<svg", "none, where none is chosen")
	assert.Contains(t, shown(t, c, "announcement", m.Fields{"text": "Lantern week", "icon": "flame"}), "data-icon=flame")
}

func TestMenusByHand(t *testing.T) {
	c := context(noon)
	c.Facts.Menu = []facts.Page{{Name: "Night flight", Address: "night-flight"}}
	byHand := []any{
		map[string]any{"text": "The club", "target": "https://club.example/"}, map[string]any{"text": "Call", "target": "tel:+351255000111"},
		map[string]any{"text": "", "target": "home"}, map[string]any{"text": "Nowhere", "target": ""},
	}
	drawn := shown(t, c, "menu", m.Fields{"links": byHand})
	assert.Regexp(t, `href="https://club.example/">The club</a> <a href="tel:(\+|&#43;)351255000111">Call</a></nav>`, drawn, "in their order, and no others")
	assert.NotContains(t, drawn, "Night flight")
	assert.Contains(t, shown(t, c, "menu", m.Fields{}), "Night flight", "where none is made by hand it fills itself")
	footer := shown(t, c, "legal", m.Fields{"links": byHand})
	assert.Contains(t, footer, "The club")
	assert.Contains(t, footer, `href="/privacy"`, "what the law asks for stays")
}

func TestAGroupsCardTakesAButtonOfItsOwn(t *testing.T) {
	c := context(noon)
	c.Facts.Groups = map[string]facts.Group{"night": {ID: "night", Name: "Night kites", Address: "night-kites"}, "lost": {ID: "lost", Name: "Lost"}}
	card := func(group string) string {
		return shown(t, c, "groups", m.Fields{"items": []any{map[string]any{"group": group, "button": "See those that glow"}}})
	}
	assert.Contains(t, card("night"), `<em class="act">See those that glow</em>`)
	assert.NotContains(t, card("lost"), "act", "what leads nowhere has no button")
}
