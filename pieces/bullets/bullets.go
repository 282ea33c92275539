// Package bullets is a list of points, each with the same mark.
package bullets

import (
	"embed"
	"html/template"
	"slices"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

var (
	// marks are those that are called something; any other sign can be chosen.
	marks = []m.Option{
		{Value: "check", Label: "ticks"}, {Value: "point", Label: "dots"}, {Value: "star", Label: "stars"}, {Value: "arrow-right", Label: "arrows"},
		{Value: "x", Label: "crosses"}, {Value: "number", Label: "numbers"},
	}
	colours = []m.Option{{Value: "good", Label: "green"}, {Value: "gold", Label: "gold"}, {Value: "urgent", Label: "brick"}, {Value: "ink", Label: "ink"}}
)

// Kind declares the list.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "bullets", Role: m.Reasons, Title: "List", Fields: []m.Field{
		{Name: "items", Label: "Points", Type: m.List, Items: []m.Field{{Name: "text", Label: "Words", Type: m.Line, Empty: "Write a point"}}},
		{Name: "mark", Label: "marked with", Type: m.Sign, Default: "check"},
		{Name: "colour", Label: "in", Type: m.Choice, Default: "good", Options: colours},
	}},
	Files: files,
	Letter: func(_ *pieces.Context, p m.Piece) []pieces.Block {
		points := p.Fields.Texts("items", "text")
		if points == nil {
			return nil
		}
		return []pieces.Block{{As: pieces.Points, Points: points}}
	},
	View: func(c *pieces.Context, p m.Piece) any {
		points := p.Fields.Texts("items", "text")
		if points == nil {
			return nil
		}
		view := map[string]any{"Points": points, "Colour": pieces.Or(p.Fields.Text("colour"), "good")}
		if mark := pieces.Or(p.Fields.Text("mark"), "check"); mark != "number" {
			view["Mark"] = c.Sign(mark)
		} else {
			view["Mark"] = template.HTML("")
			view["Numbered"] = true
		}
		return view
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		mark := pieces.Or(p.Fields.Text("mark"), "check")
		called := c.Named(mark)
		if slices.ContainsFunc(marks, func(o m.Option) bool { return o.Value == mark }) {
			called = pieces.Label(marks, mark, "check")
		}
		return pieces.Say("list-check", "List", " with "+called+" in "+pieces.Label(colours, p.Fields.Text("colour"), "good"))
	},
}
