// Package picture is one picture from the store's shelf.
package picture

import (
	"embed"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// phoneWidth is how wide a band's words stand on a phone, in CSS pixels.
const phoneWidth = 350

// Kind declares the picture.
var Kind = pieces.Kind{
	Kind: m.Kind{Undrawn: []string{"size", "weight", "family", "line", "effect", "colour"}, Name: "picture", Role: m.Figure, Title: "Picture", Traits: m.Traits{Silent: true, Pictured: true, Tall: func(f m.Fields, shape func(string) m.Shape) int {
		if s := shape(f.Text("picture")); s.Width > 0 {
			return phoneWidth * s.Height / s.Width
		}
		return 60
	}}, Fields: []m.Field{
		{Name: "picture", Label: "Show", Type: m.Picture},
		{Name: "shape", Label: "as", Type: m.Choice, Default: "plain", Options: []m.Option{
			{Value: "plain", Label: "it is"}, {Value: "framed", Label: "a framed card"},
		}},
	}},
	Files: files,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		pic, ok := shown(c, p)
		if !ok {
			return nil
		}
		return []pieces.Block{{As: pieces.Figure, Picture: &pic}}
	},
	View: func(c *pieces.Context, p m.Piece) any {
		pic, ok := shown(c, p)
		if !ok {
			return nil
		}
		return map[string]any{"Picture": pic, "Framed": p.Fields.Text("shape") == "framed"}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		pic, ok := shown(c, p)
		if !ok {
			return pieces.Lack("photo", "Picture", "is not chosen yet")
		}
		return pieces.Say(pic.Path, "Picture", " “"+pic.Name+"”, "+pieces.Label(told, p.Fields.Text("shape"), "plain"))
	},
}

// shown is the picture chosen, or where none is that of what the page sells.
func shown(c *pieces.Context, p m.Piece) (facts.Picture, bool) {
	pic, ok := c.Facts.Pictures[pieces.Or(p.Fields.Text("picture"), c.Facts.Products[c.Sells].PictureID)]
	return pic, ok
}

// told are the shapes as the telling says them.
var told = []m.Option{{Value: "plain", Label: "as it is"}, {Value: "framed", Label: "as a framed card"}}
