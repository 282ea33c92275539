// Package legal is the footer every page ends with: who sells, and the
// store's privacy and terms pages, filled in by themselves.
package legal

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the legal footer.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "legal", Role: m.Foot, Title: "Legal footer", Traits: m.Traits{Legal: true, Row: &m.Row{Words: 0.9 * 17, Room: 8}}, Fields: []m.Field{
		{Name: "text", Label: "Words", Type: m.Line, Empty: "Anything the law asks you to add"},
		pieces.LinksField("Further links, in this order"),
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		return map[string]any{"Text": p.Fields.Text("text"), "Store": c.Facts.Store, "Pages": c.Facts.Legal, "Links": links(c, p)}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		names := "privacy, terms, contact"
		for _, page := range c.Facts.Legal {
			names += ", " + page.Name
		}
		for _, l := range links(c, p) {
			names += ", " + l.Label
		}
		return pieces.Say("scale", "Legal footer", " "+c.Facts.Store.LegalName+", "+names)
	},
}

// links are those of the page by hand, else those of the store's footer.
func links(c *pieces.Context, p m.Piece) []pieces.Linked {
	if own := c.Links(p.Fields.List("links")); own != nil {
		return own
	}
	return c.Foot()
}
