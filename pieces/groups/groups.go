// Package groups is cards that lead to groups of goods: each shows its
// picture and leads to the live page on which the group's shelf stands.
package groups

import (
	"embed"
	"fmt"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the groups.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "groups", Role: m.Grouped, Title: "Groups of goods", Traits: m.Traits{Acts: true, Grouped: true}, Fields: []m.Field{
		{Name: "items", Label: "Groups", Type: m.List, Items: []m.Field{
			{Name: "group", Label: "Group", Type: m.Group},
			{Name: "text", Label: "Words", Type: m.Line, Empty: "Say whom it is for"},
			{Name: "button", Label: "Button", Type: m.Line, Empty: "Words of a button, if there is one"},
		}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		list, _ := chosen(c, p)
		if list == nil {
			return nil
		}
		return list
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		list, lost := chosen(c, p)
		switch {
		case list == nil:
			return pieces.Lack("layout-list", "Groups", "are not chosen yet; make them under Goods, Shelves")
		case lost != "":
			return pieces.Lack("layout-list", "Groups", "lead nowhere yet: no live page shows the shelf of "+lost)
		}
		return pieces.Say("layout-list", "Groups", fmt.Sprintf(": %d, each leading to its page", len(list)))
	},
}

type card struct {
	facts.Group
	Text, Button string
}

// chosen lists the groups, and names one that no live page shows.
func chosen(c *pieces.Context, p m.Piece) (list []card, lost string) {
	for _, item := range p.Fields.List("items") {
		g, ok := c.Facts.Groups[item.Text("group")]
		if !ok {
			continue
		}
		if g.Address == "" {
			lost = g.Name
		}
		list = append(list, card{g, item.Text("text"), item.Text("button")})
	}
	return list, lost
}
