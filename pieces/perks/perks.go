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

// Icons are those offered for a perk; the build takes them from the shipped set.
var icons = []m.Option{
	{Value: "wind", Label: "wind"}, {Value: "moon-stars", Label: "night"}, {Value: "feather", Label: "light"},
	{Value: "tool", Label: "mending"}, {Value: "battery-3", Label: "battery"}, {Value: "gift", Label: "gift"},
	{Value: "truck-delivery", Label: "delivery"}, {Value: "heart", Label: "heart"}, {Value: "star", Label: "star"},
	{Value: "shield-check", Label: "shield"}, {Value: "clock", Label: "clock"}, {Value: "check", Label: "tick"},
}

// Kind declares the perks.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "perks", Title: "Perks", Fields: []m.Field{
		{Name: "items", Label: "Perks", Type: m.List, Items: []m.Field{
			{Name: "icon", Label: "Icon", Type: m.Choice, Default: "check", Options: icons},
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
			list = append(list, perk{c.Icon(pieces.Or(item.Text("icon"), "check")), title, item.Text("text")})
		}
	}
	if list == nil {
		return nil
	}
	return list
}
