// Package code shows a coupon code that one press copies.
package code

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the code.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "code", Role: m.Press, Title: "Code to copy", Traits: m.Traits{Pressed: true, Code: true}, Fields: []m.Field{
		{Name: "code", Label: "Code", Type: m.Line, Empty: "FROST"},
		{Name: "text", Label: "Words", Type: m.Line, Empty: "Say what it gives, and where it is typed"},
	}},
	Files: files,
	Letter: func(_ *pieces.Context, p m.Piece) []pieces.Block {
		if p.Fields.Text("code") == "" {
			return nil
		}
		return []pieces.Block{{As: pieces.Code, Text: p.Fields.Text("code"), Second: p.Fields.Text("text")}}
	},
	View: func(c *pieces.Context, p m.Piece) any {
		if p.Fields.Text("code") == "" {
			return nil
		}
		return map[string]any{"Code": p.Fields.Text("code"), "Text": p.Fields.Text("text"), "Icon": c.Icon("copy"), "Proof": c.Proof}
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		if p.Fields.Text("code") == "" {
			return pieces.Lack("ticket", "Code", "is not written yet")
		}
		return pieces.Say("ticket", p.Fields.Text("code"), ", copied with one press")
	},
}
