// Package product is one of the goods, shown large: picture, name, price and
// a button, all computed from the product itself.
package product

import (
	"embed"
	"html/template"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the product.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "product", Role: m.One, Title: "Product, large", Traits: m.Traits{Pressed: true, Priced: true, Shows: true, Acts: true, Calls: func(f m.Fields) []m.Call {
		return []m.Call{{Says: f.Text("label"), Target: pieces.Or(f.Text("target"), string(target.Product)+":"+f.Text("product"))}}
	}}, Fields: []m.Field{
		{Name: "product", Label: "Show", Type: m.Product},
		{Name: "text", Label: "Words", Type: m.Rich, Empty: "Say what it is good for"},
		{Name: "label", Label: "Button", Type: m.Line, Empty: "Words of a button, if it has one"},
		{Name: "target", Label: "its button leads to", Type: m.Link},
	}},
	Files: files, Live: true,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		shown, ok := read(c, p)
		if !ok {
			return nil
		}
		card := pieces.Block{As: pieces.Card, Text: shown.Name, Copy: shown.Text, Second: shown.Label, Href: shown.Href, Picture: shown.Picture, Price: &shown.Line.Price, Struck: shown.Line.Struck}
		if shown.SoldOut {
			card.Second, card.Points = "", []string{"Sold out when this was written."}
		}
		return []pieces.Block{card}
	},
	View: func(c *pieces.Context, p m.Piece) any {
		shown, ok := read(c, p)
		if !ok {
			return nil
		}
		return shown
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		shown, ok := read(c, p)
		if !ok {
			return pieces.Lack("box", "Product", "is not chosen yet")
		}
		thumb := "box"
		if shown.Picture != nil {
			thumb = shown.Picture.Path
		}
		return pieces.Say(thumb, shown.Name, " at ", shown.Line.Price.String())
	},
}

type card struct {
	Name, Label string
	Text        template.HTML
	Href        template.URL
	Line        facts.ShownLine
	Picture     *facts.Picture
	SoldOut     bool
}

func read(c *pieces.Context, p m.Piece) (card, bool) {
	product, ok := c.Facts.Products[p.Fields.Text("product")]
	if !ok {
		return card{}, false
	}
	q, err := c.Show(offer.Item{ProductID: product.ID, Quantity: 1, Via: c.Via()})
	if err != nil || len(q.Lines) == 0 {
		return card{}, false
	}
	shown := card{Name: product.Name, Text: c.Rich(p.Fields.Text("text")), Line: q.Lines[0], SoldOut: product.SoldOut()}
	if pic, ok := c.Facts.Pictures[product.PictureID]; ok {
		shown.Picture = &pic
	}
	if href, ok := c.Href(pieces.Or(p.Fields.Text("target"), string(target.Product)+":"+product.ID)); ok {
		shown.Label, shown.Href = p.Fields.Text("label"), href
	}
	return shown, true
}
