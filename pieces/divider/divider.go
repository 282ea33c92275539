// Package divider is a rule between two things, or the space between them.
package divider

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

var (
	// Ornaments are those among the scenes that stand between other things.
	Ornaments = []m.Option{
		{Value: "kite-rule", Label: "a kite between rules"},
		{Value: "wave-rule", Label: "a wave"},
		{Value: "star-rule", Label: "three stars"},
		{Value: "knot-rule", Label: "a knot in the line"},
		{Value: "needle-rule", Label: "needle and thread"},
		{Value: "bunting", Label: "pennants"},
		{Value: "spool-mark", Label: "a spool"},
		{Value: "scissors-mark", Label: "scissors"},
		{Value: "lantern-mark", Label: "a lantern"},
		{Value: "gulls-mark", Label: "gulls"},
		{Value: "sun-mark", Label: "the sun"},
		{Value: "snow-mark", Label: "a flake"},
	}
	looks = append([]m.Option{{Value: "rule", Label: "a rule"}, {Value: "mark", Label: "three marks"}, {Value: "space", Label: "empty space"}}, Ornaments...)
	sizes = []m.Option{{Value: "small", Label: "8 pixels"}, {Value: "middle", Label: "24 pixels"}, {Value: "large", Label: "64 pixels"}}
)

// Kind declares the divider.
var Kind = pieces.Kind{
	Kind: m.Kind{Undrawn: []string{"align", "size", "weight", "family", "line", "effect"}, Name: "divider", Role: m.Rule, Title: "Divider", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "look", Label: "as", Type: m.Choice, Default: "rule", Options: looks},
		{Name: "size", Label: "with a height of", Type: m.Choice, Default: "middle", Options: sizes},
	}},
	Files:  files,
	Letter: func(*pieces.Context, m.Piece) []pieces.Block { return []pieces.Block{{As: pieces.Rule}} },
	View: func(c *pieces.Context, p m.Piece) any {
		view := map[string]any{"Look": pieces.Or(p.Fields.Text("look"), "rule"), "Size": pieces.Or(p.Fields.Text("size"), "middle")}
		if c.Ornament != nil {
			view["Ornament"] = c.Ornament(pieces.Or(p.Fields.Text("look"), "rule"))
		}
		return view
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say("separator", "Divider", ": "+pieces.Label(looks, p.Fields.Text("look"), "rule")+", "+pieces.Label(sizes, p.Fields.Text("size"), "middle"))
	},
}
