// Package gallery is several pictures side by side, each with a caption.
package gallery

import (
	"embed"
	"fmt"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the gallery.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "gallery", Role: m.Figure, Title: "Gallery", Traits: m.Traits{Silent: true, Pictured: true}, Fields: []m.Field{
		{Name: "items", Label: "Pictures", Type: m.List, Items: []m.Field{
			{Name: "picture", Label: "Picture", Type: m.Picture},
			{Name: "caption", Label: "Caption", Type: m.Line, Empty: "A caption, if it needs one"},
		}},
		{Name: "shape", Label: "cut to", Type: m.Choice, Default: "square", Options: []m.Option{
			{Value: "square", Label: "squares"}, {Value: "wide", Label: "wide pictures"}, {Value: "whole", Label: "their own shape"},
		}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		list := pictures(c, p)
		if len(list) == 0 {
			return nil
		}
		return map[string]any{"Pictures": list, "Shape": pieces.Or(p.Fields.Text("shape"), "square")}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		if n := len(pictures(c, p)); n > 0 {
			return pieces.Say("photo", "Gallery", fmt.Sprintf(": %d", n))
		}
		return pieces.Lack("photo", "Gallery", "has no pictures yet")
	},
}

type shown struct {
	facts.Picture
	Caption string
}

func pictures(c *pieces.Context, p m.Piece) []shown {
	var list []shown
	for _, item := range p.Fields.List("items") {
		if pic, ok := c.Facts.Pictures[item.Text("picture")]; ok {
			list = append(list, shown{pic, item.Text("caption")})
		}
	}
	return list
}
