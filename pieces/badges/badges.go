// Package badges is a row of short promises, each with an icon.
package badges

import (
	"embed"
	"html/template"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the badges.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "badges", Role: m.Reasons, Title: "Trust badges", Fields: []m.Field{
		{Name: "items", Label: "Badges", Type: m.List, Items: []m.Field{
			{Name: "icon", Label: "Icon", Type: m.Sign, Default: "shield-check"},
			{Name: "text", Label: "Words", Type: m.Line, Empty: "A promise you keep"},
		}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		type badge struct {
			Icon template.HTML
			Text string
		}
		var list []badge
		for _, item := range p.Fields.List("items") {
			if item.Text("text") != "" {
				list = append(list, badge{c.Sign(pieces.Or(item.Text("icon"), "shield-check")), item.Text("text")})
			}
		}
		if list == nil {
			return nil
		}
		return list
	},
}
