// Package summary sums up an order: on a page with a checkout what it would
// come to, beside it or elsewhere on the page; after a payment what was bought.
package summary

import (
	"embed"
	"slices"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the summary.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "summary", Role: m.Till, Title: "Order summary", Traits: m.Traits{Priced: true, Silent: true}, Fields: []m.Field{
		{Name: "product", Label: "Sums up an order of", Type: m.Product},
		{Name: "title", Label: "Over it", Type: m.Line, Empty: "Your order"},
	}},
	Files: files, Live: true,
	View: view,
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		if c.Filled() != nil {
			return pieces.Say("receipt", "Order summary", " of what is put in from the page’s lists")
		}
		product, ok := c.Facts.Products[p.Fields.Text("product")]
		if !ok {
			return pieces.Lack("receipt", "Order summary", "needs the product that the checkout sells")
		}
		q, err := c.Quote(ordered(c, product.ID)...)
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

// ordered is what is summed up: what the page's checkout would order, where it sells the
// product, else one of the product.
func ordered(c *pieces.Context, product string) []offer.Item {
	if c.Cart != nil {
		cart := c.Cart()
		if c.Filled() != nil {
			return cart
		}
		if slices.ContainsFunc(cart, func(item offer.Item) bool { return item.ProductID == product || c.Sells == product }) {
			return cart
		}
	}
	return []offer.Item{{ProductID: product, Quantity: 1, Via: c.Via()}}
}

func view(c *pieces.Context, p m.Piece) any {
	s := shown{Title: pieces.Or(p.Fields.Text("title"), "Your order"), Order: c.Facts.Order}
	if s.Order != nil {
		return s
	}
	product, ok := c.Facts.Products[p.Fields.Text("product")]
	if !ok && c.Filled() == nil {
		return nil
	}
	if pic, ok := c.Facts.Pictures[product.PictureID]; ok {
		s.Picture = &pic
	}
	var err error
	if s.Totals, err = c.Show(ordered(c, product.ID)...); err != nil {
		return nil
	}
	return s
}
