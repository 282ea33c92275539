// Package menu fills itself with links to the store's pages that are live.
package menu

import (
	"embed"
	"fmt"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the menu.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "menu", Role: m.Foot, Title: "Menu", Traits: m.Traits{Acts: true, Menu: true, Row: &m.Row{Words: 17, Room: 12.8}}, Fields: []m.Field{
		{Name: "home", Label: "First", Type: m.Line, Empty: "Words for the shop’s first page"},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		return map[string]any{"Home": pieces.Or(p.Fields.Text("home"), c.Facts.Store.Name), "Pages": c.Facts.Menu}
	},
	Tell: func(c *pieces.Context, _ m.Piece) pieces.Telling {
		return pieces.Say("menu-2", "Menu", fmt.Sprintf(": the first page and %d live pages of the store", len(c.Facts.Menu)))
	},
}
