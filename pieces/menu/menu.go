// Package menu fills itself with links to the store's pages that are live.
package menu

import (
	"embed"
	"fmt"

	m "chrysagon/core/manuscript"
	"chrysagon/core/words"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the menu.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "menu", Role: m.Foot, Title: "Menu", Traits: m.Traits{Acts: true, Menu: true, Row: &m.Row{Words: 17, Room: 12.8}}, Fields: []m.Field{
		{Name: "home", Label: "First", Type: m.Line, Empty: "Words for the shop’s first page"},
		pieces.LinksField("Links by hand, in this order"),
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		links := c.Links(p.Fields.List("links"))
		if links == nil {
			links = c.Menu()
		}
		return map[string]any{"Home": pieces.Or(p.Fields.Text("home"), c.Facts.Store.Name), "Links": links}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		if byHand := len(p.Fields.List("links")); byHand > 0 {
			if led := len(c.Links(p.Fields.List("links"))); led < byHand {
				return pieces.Lack("menu-2", "Menu", fmt.Sprintf("has %d links by hand, of which %d have no words or lead nowhere", byHand, byHand-led))
			}
			return pieces.Say("menu-2", "Menu", fmt.Sprintf(": the first page and %d links by hand", byHand))
		}
		return pieces.Say("menu-2", "Menu", fmt.Sprintf(": the first page and %s of the store’s menu", words.Count(len(c.Menu()), "link")))
	},
}
