// Package answer is an upsell's yes and no: one press each, both as easy.
package answer

import (
	"embed"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the answer.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "answer", Role: m.Press, Title: "Yes and no", Traits: m.Traits{Pressed: true, Takes: m.TakesAnswer, Acts: true, Calls: func(f m.Fields) []m.Call {
		return []m.Call{{Says: pieces.Or(f.Text("accept"), "Yes"), Target: string(target.Yes)}}
	}}, Fields: []m.Field{
		{Name: "accept", Label: "Yes", Type: m.Line, Empty: "Yes, add it to my order"},
		{Name: "decline", Label: "No", Type: m.Line, Empty: "No, thank you"},
		{Name: "product", Label: "Adds", Type: m.Product},
	}},
	Files: files, Live: true,
	View: view,
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		product, ok := c.Facts.Products[p.Fields.Text("product")]
		if !ok {
			return pieces.Lack("thumb-up", "Yes and no", "need a product to add")
		}
		return pieces.Say("thumb-up", "Yes", " charges the same card for ", product.Name, "; ", "no", " leads on without it")
	},
}

type shown struct {
	Address, Accept, Decline string
	Line                     facts.ShownLine
	Order                    *facts.Order
	SoldOut, Proof           bool
	Notice, Seen             string
}

func view(c *pieces.Context, p m.Piece) any {
	product, ok := c.Facts.Products[p.Fields.Text("product")]
	if !ok {
		return nil
	}
	item := offer.Item{ProductID: product.ID, Quantity: 1, Via: offer.Upsell}
	q, err := c.Show(item)
	if err != nil {
		return nil
	}
	return shown{
		Address: c.Place.Address,
		Accept:  pieces.Or(p.Fields.Text("accept"), "Yes, add it to my order"),
		Decline: pieces.Or(p.Fields.Text("decline"), "No, thank you"),
		Line:    q.Lines[0], Order: c.Facts.Order,
		SoldOut: product.SoldOut(), Proof: c.Proof, Notice: c.Form.Notice, Seen: c.Seal(c, []offer.Item{item}),
	}
}
