// Package rotate is a few offers side by side that a visitor moves through:
// on a phone one at a time, with part of the next one visible. It moves only
// when it is moved.
package rotate

import (
	"embed"
	"fmt"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the offers by turns.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "rotate", Title: "Offers by turns", Fields: []m.Field{
		{Name: "items", Label: "Offers", Type: m.List, Items: []m.Field{
			{Name: "title", Label: "Title", Type: m.Line, Empty: "Name the offer"},
			{Name: "text", Label: "Words", Type: m.Prose, Empty: "Say what it is"},
			{Name: "label", Label: "Button", Type: m.Line, Empty: "Words of its button"},
			{Name: "target", Label: "Leads to", Type: m.Link},
		}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		var list []map[string]any
		for _, item := range p.Fields.List("items") {
			if item.Text("title") == "" {
				continue
			}
			card := map[string]any{"Title": item.Text("title"), "Text": item.Text("text")}
			if href, ok := c.Href(item.Text("target")); ok && item.Text("label") != "" {
				card["Label"], card["Href"] = item.Text("label"), href
			}
			list = append(list, card)
		}
		if list == nil {
			return nil
		}
		return list
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say("arrows-exchange", "Offers by turns", fmt.Sprintf(": %d", len(p.Fields.Texts("items", "title"))))
	},
}
