// Package stock says how many of a product are left. It is the stock itself:
// no number here is ever typed.
package stock

import (
	"embed"
	"fmt"
	"strconv"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the stock.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "stock", Role: m.Cost, Title: "Stock left", Traits: m.Traits{Left: true}, Fields: []m.Field{
		{Name: "product", Label: "How many of", Type: m.Product},
		{Name: "from", Label: "said from", Type: m.Choice, Default: "10", Options: []m.Option{
			{Value: "5", Label: "the last five"}, {Value: "10", Label: "the last ten"}, {Value: "100000", Label: "any number"},
		}},
	}},
	Files: files, Live: true,
	View: func(c *pieces.Context, p m.Piece) any {
		say := says(c, p)
		if say == "" {
			return nil
		}
		return map[string]any{"Say": say, "Icon": c.Icon("box")}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		product, ok := c.Facts.Products[p.Fields.Text("product")]
		if !ok {
			return pieces.Lack("box", "Stock left", "needs a product")
		}
		shown := ", too many to be said"
		if says(c, p) != "" {
			shown = ", said on the page"
		}
		return pieces.Say("box", "Stock", " of "+product.Name+": ", strconv.Itoa(product.Stock), shown)
	},
}

func says(c *pieces.Context, p m.Piece) string {
	product, ok := c.Facts.Products[p.Fields.Text("product")]
	most, err := strconv.Atoi(pieces.Or(p.Fields.Text("from"), "10"))
	switch {
	case !ok || err != nil:
		return ""
	case product.SoldOut():
		return "Sold out."
	case product.Stock == 0 || product.Stock > most:
		return "" // digital goods, or more than it is said for
	case product.Stock == 1:
		return "One left."
	}
	return fmt.Sprintf("%d left.", product.Stock)
}
