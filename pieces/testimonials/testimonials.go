// Package testimonials is what buyers say, each with who they are.
package testimonials

import (
	"embed"
	"fmt"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the testimonials.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "testimonials", Role: m.Voices, Title: "Testimonials", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "items", Label: "Testimonials", Type: m.List, Items: []m.Field{
			{Name: "words", Label: "Words", Type: m.Prose, Empty: "What they said, in their words"},
			{Name: "who", Label: "Who", Type: m.Line, Empty: "Who said it"},
			{Name: "where", Label: "Where", Type: m.Line, Empty: "Where they are, or what they do"},
			{Name: "picture", Label: "Picture", Type: m.Picture},
		}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		list := said(c, p)
		if list == nil {
			return nil
		}
		return list
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		if n := len(said(c, p)); n > 0 {
			return pieces.Say("message-circle", "Testimonials", fmt.Sprintf(": %d", n))
		}
		return pieces.Lack("message-circle", "Testimonials", "have no words yet; only what was really said belongs here")
	},
}

type one struct {
	Words, Who, Where string
	Picture           *facts.Picture
}

func said(c *pieces.Context, p m.Piece) []one {
	var list []one
	for _, item := range p.Fields.List("items") {
		if item.Text("words") == "" {
			continue
		}
		t := one{Words: item.Text("words"), Who: item.Text("who"), Where: item.Text("where")}
		if pic, ok := c.Facts.Pictures[item.Text("picture")]; ok {
			t.Picture = &pic
		}
		list = append(list, t)
	}
	return list
}
