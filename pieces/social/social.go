// Package social is a grid of pictures that were posted elsewhere, each leading
// to where it was: from the shelf, or from a feed file (see package feed).
package social

import (
	"embed"
	"fmt"
	"html/template"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the grid.
var Kind = pieces.Kind{
	Kind: m.Kind{Undrawn: []string{"align", "size", "weight", "family", "line", "effect", "colour"}, Name: "social", Role: m.Voices, Title: "Posted pictures", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "items", Label: "Posts", Type: m.List, Feed: true, Items: []m.Field{
			{Name: "picture", Label: "Picture", Type: m.Picture},
			{Name: "text", Label: "Words", Type: m.Line, Empty: "What was written with it"},
			{Name: "link", Label: "Leads to", Type: m.Link},
		}},
		{Name: "show", Label: "Show at most", Type: m.Choice, Default: "8", Options: []m.Option{{Value: "4", Label: "4"}, {Value: "6", Label: "6"}, {Value: "8", Label: "8"}, {Value: "12", Label: "12"}}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		list := posts(c, p)
		if len(list) == 0 {
			return nil
		}
		return list
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		if n := len(posts(c, p)); n > 0 {
			return pieces.Say("photo", "Posted pictures", fmt.Sprintf(": %d", n))
		}
		return pieces.Lack("photo", "Posted pictures", "have none yet: choose them, or hand in a feed file")
	},
}

type post struct {
	facts.Picture
	Text string
	Href template.URL
}

func posts(c *pieces.Context, p m.Piece) []post {
	most := 8
	if _, err := fmt.Sscan(p.Fields.Text("show"), &most); err != nil {
		most = 8
	}
	var list []post
	for _, item := range p.Fields.List("items") {
		pic, ok := c.Facts.Pictures[item.Text("picture")]
		if !ok || len(list) == most {
			continue
		}
		href, _ := c.Href(item.Text("link"))
		list = append(list, post{pic, item.Text("text"), href})
	}
	return list
}
