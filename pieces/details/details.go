// Package details is what is said of a product on its page in Goods: its description
// and its attributes. Nothing of it is typed into the page.
package details

import (
	"embed"
	"html/template"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/words"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the details.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "details", Role: m.Table, Title: "Details of a product", Traits: m.Traits{Describes: true, Tall: func(m.Fields, func(string) m.Shape) int { return 320 }}, Fields: []m.Field{
		{Name: "product", Label: "Of", Type: m.Product},
		{Name: "show", Label: "what is shown", Type: m.Choice, Default: "both", Options: []m.Option{
			{Value: "both", Label: "its description and its attributes"}, {Value: "words", Label: "its description"}, {Value: "list", Label: "its attributes"},
		}},
	}},
	Files: files, Live: true,
	View: func(c *pieces.Context, p m.Piece) any {
		shown := read(c, p)
		if shown.empty() {
			return nil
		}
		return shown
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		product, ok := c.Facts.Products[p.Fields.Text("product")]
		if !ok {
			return pieces.Lack("list", "Details", "need a product")
		}
		shown := read(c, p)
		if shown.empty() {
			return pieces.Lack("list", "Nothing is said yet", "of "+product.Name+": it is written on its page in Goods")
		}
		said := "not described"
		if shown.Text != "" {
			said = "described"
		}
		return pieces.Say("list", "Details", " of "+product.Name+": ", said, ", with ", words.Count(len(shown.Has), "attribute"))
	},
}

type view struct {
	Text template.HTML
	Has  []facts.Has
}

func (v view) empty() bool { return v.Text == "" && len(v.Has) == 0 }

func read(c *pieces.Context, p m.Piece) view {
	said, show := c.Facts.Described[p.Fields.Text("product")], p.Fields.Text("show")
	var out view
	if show != "list" && said.Text != "" {
		out.Text = c.Rich(said.Text)
	}
	if show != "words" {
		out.Has = said.Has
	}
	return out
}
