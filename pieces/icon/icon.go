// Package icon is one sign by itself.
package icon

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

var (
	signs = []m.Option{
		{Value: "wind", Label: "wind"}, {Value: "moon-stars", Label: "night"}, {Value: "feather", Label: "feather"}, {Value: "gift", Label: "gift"},
		{Value: "heart", Label: "heart"}, {Value: "star", Label: "star"}, {Value: "truck-delivery", Label: "delivery"}, {Value: "clock", Label: "clock"},
		{Value: "phone", Label: "phone"}, {Value: "mail", Label: "letter"}, {Value: "map-pin", Label: "place"}, {Value: "shield-check", Label: "shield"},
	}
	sizes = []m.Option{{Value: "small", Label: "small"}, {Value: "middle", Label: "middle"}, {Value: "large", Label: "large"}}
)

// Kind declares the icon.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "icon", Title: "Icon", Fields: []m.Field{
		{Name: "icon", Label: "Show", Type: m.Choice, Default: "star", Options: signs},
		{Name: "size", Label: "of the size", Type: m.Choice, Default: "middle", Options: sizes},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		return map[string]any{"Icon": c.Icon(pieces.Or(p.Fields.Text("icon"), "star")), "Size": pieces.Or(p.Fields.Text("size"), "middle")}
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say(pieces.Or(p.Fields.Text("icon"), "star"), "Icon", ": "+pieces.Label(signs, p.Fields.Text("icon"), "star")+", "+pieces.Label(sizes, p.Fields.Text("size"), "middle"))
	},
}
