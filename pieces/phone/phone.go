// Package phone is the store's number, which rings on a phone.
package phone

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the number.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "phone", Role: m.Press, Title: "Phone number", Traits: m.Traits{Acts: true}, Fields: []m.Field{
		{Name: "text", Label: "Words", Type: m.Line, Empty: "Say what a call is good for"},
		{Name: "number", Label: "Number", Type: m.Line, Empty: "The store’s own number is taken"},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		number := pieces.Or(p.Fields.Text("number"), c.Facts.Store.Phone)
		if number == "" {
			return nil
		}
		href, _ := c.Href("tel:" + target.Dialled(number))
		return map[string]any{"Text": p.Fields.Text("text"), "Number": number, "Href": href, "Icon": c.Icon("phone")}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		number := pieces.Or(p.Fields.Text("number"), c.Facts.Store.Phone)
		if number == "" {
			return pieces.Lack("phone", "Phone number", "is not known: write it here")
		}
		return pieces.Say("phone", number, ", rings on a phone")
	},
}
