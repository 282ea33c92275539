// Package perks is a row of short reasons, each with an icon.
package perks

import (
	"embed"
	"html/template"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the perks.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "perks", Role: m.Reasons, Title: "Perks", Fields: []m.Field{
		{Name: "items", Label: "Perks", Type: m.List, Items: []m.Field{
			{Name: "icon", Label: "Icon", Type: m.Sign, Default: "check"},
			{Name: "title", Label: "Words", Type: m.Line, Empty: "Name the perk"},
			{Name: "text", Label: "More", Type: m.Line, Empty: "Say it in a sentence"},
		}},
	}},
	Files: files,
	View:  view,
}

type perk struct {
	Icon        template.HTML
	Title, Text string
}

func view(c *pieces.Context, p m.Piece) any {
	var list []perk
	for _, item := range p.Fields.List("items") {
		if title := item.Text("title"); title != "" {
			list = append(list, perk{c.Sign(pieces.Or(item.Text("icon"), "check")), title, item.Text("text")})
		}
	}
	if list == nil {
		return nil
	}
	return list
}
