// Package aside is a box that stands apart from the copy: a guarantee, a tip,
// a warning.
package aside

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

var looks = []m.Option{{Value: "info-circle", Label: "a note"}, {Value: "shield-check", Label: "a guarantee"}, {Value: "alert-triangle", Label: "a warning"}, {Value: "gift", Label: "a gift"}}

// Kind declares the aside.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "aside", Title: "Boxed aside", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "title", Label: "Title", Type: m.Line, Empty: "Its title"},
		{Name: "text", Label: "Words", Type: m.Rich, Empty: "What stands in the box"},
		{Name: "look", Label: "as", Type: m.Choice, Default: "info-circle", Options: looks},
	}},
	Files: files,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		if p.Fields.Text("text") == "" && p.Fields.Text("title") == "" {
			return nil
		}
		return []pieces.Block{{As: pieces.Box, Text: p.Fields.Text("title"), Copy: c.Rich(p.Fields.Text("text"))}}
	},
	View: func(c *pieces.Context, p m.Piece) any {
		if p.Fields.Text("text") == "" && p.Fields.Text("title") == "" {
			return nil
		}
		return map[string]any{"Title": p.Fields.Text("title"), "Text": c.Rich(p.Fields.Text("text")), "Icon": c.Icon(pieces.Or(p.Fields.Text("look"), "info-circle"))}
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say(pieces.Or(p.Fields.Text("look"), "info-circle"), "Boxed", " as "+pieces.Label(looks, p.Fields.Text("look"), "info-circle"))
	},
}
