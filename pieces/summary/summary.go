// Package summary sums up an order: on a page with a checkout what it would
// come to, beside it or elsewhere on the page; after a payment what was bought.
package summary

import (
	"embed"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the summary.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "summary", Title: "Order summary", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "product", Label: "Sums up an order of", Type: m.Product},
		{Name: "title", Label: "Over it", Type: m.Line, Empty: "Your order"},
	}},
	Files: files, Live: true,
	View: view,
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		product, ok := c.Facts.Products[p.Fields.Text("product")]
		if !ok {
			return pieces.Lack("receipt", "Order summary", "needs the product that the checkout sells")
		}
		q, err := c.Quote(offer.Item{ProductID: product.ID, Quantity: 1, Via: c.Via()})
		if err != nil {
			return pieces.Lack("receipt", "Order summary", "cannot be computed")
		}
		return pieces.Say("receipt", "Order summary", " of ", product.Name, ", together ", q.Total.String())
	},
}

type shown struct {
	Title   string
	Picture *facts.Picture
	Order   *facts.Order // placed already
	Totals  facts.Shown  // otherwise
}

func view(c *pieces.Context, p m.Piece) any {
	s := shown{Title: pieces.Or(p.Fields.Text("title"), "Your order"), Order: c.Facts.Order}
	if s.Order != nil {
		return s
	}
	product, ok := c.Facts.Products[p.Fields.Text("product")]
	if !ok {
		return nil
	}
	if pic, ok := c.Facts.Pictures[product.PictureID]; ok {
		s.Picture = &pic
	}
	var err error
	if s.Totals, err = c.Show(offer.Item{ProductID: product.ID, Quantity: 1, Via: c.Via()}); err != nil {
		return nil
	}
	return s
}
