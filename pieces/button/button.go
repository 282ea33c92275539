// Package button is a call to action that leads to this page's checkout.
package button

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the button.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "button", Title: "Button", Fields: []m.Field{
		{Name: "label", Label: "Words", Type: m.Line, Empty: "Name the action"},
		{Name: "target", Label: "leads to", Type: m.Choice, Default: "checkout", Options: []m.Option{
			{Value: "checkout", Label: "the checkout on this page"},
		}},
	}},
	Files: files,
	View: func(_ *pieces.Context, p m.Piece) any {
		if p.Fields.Text("label") == "" {
			return nil
		}
		return map[string]any{"Label": p.Fields.Text("label")}
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		if p.Fields.Text("label") == "" {
			return pieces.Lack("click", "Button", "has no words yet")
		}
		return pieces.Say("click", "Button", " → the checkout on this page")
	},
}
