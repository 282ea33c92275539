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
	sizes = []m.Option{{Value: "small", Label: "small"}, {Value: "middle", Label: "middle"}, {Value: "large", Label: "large"}}
)

// Kind declares the icon.
var Kind = pieces.Kind{
	Kind: m.Kind{Undrawn: []string{"size", "weight", "family", "line", "effect"}, Name: "icon", Role: m.Rule, Title: "Icon", Fields: []m.Field{
		{Name: "icon", Label: "Show", Type: m.Sign, Default: "star"},
		{Name: "size", Label: "of the size", Type: m.Choice, Default: "middle", Options: sizes},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		return map[string]any{"Icon": c.Sign(pieces.Or(p.Fields.Text("icon"), "star")), "Size": pieces.Or(p.Fields.Text("size"), "middle")}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say(c.Thumb(pieces.Or(p.Fields.Text("icon"), "star")), "Icon", ": "+c.Named(pieces.Or(p.Fields.Text("icon"), "star"))+", "+pieces.Label(sizes, p.Fields.Text("size"), "middle"))
	},
}
