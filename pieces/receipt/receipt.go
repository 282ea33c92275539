// Package receipt says what was bought, what it came to, and which mail will
// come from whom.
package receipt

import (
	"embed"
	"time"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the receipt.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "receipt", Title: "What was bought", Traits: m.Traits{Acts: true, Listed: true}, Fields: []m.Field{
		{Name: "help", Label: "If no mail comes", Type: m.Line, Empty: "Say what to do if no mail comes"},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		order := c.Facts.Order
		if order == nil {
			if !c.Proof {
				return nil
			}
			order = example(c)
		}
		return map[string]any{
			"Order": order, "Help": p.Fields.Text("help"), "Store": c.Facts.Store,
			"Example": c.Facts.Order == nil,
		}
	},
	Tell: func(*pieces.Context, m.Piece) pieces.Telling {
		return pieces.Say("receipt", "What was bought", ", the total, and which mail comes from whom")
	},
}

// example is what a proof shows in place of an order: the store's first goods.
func example(c *pieces.Context) *facts.Order {
	o := &facts.Order{
		Number: 1000, Name: "Example buyer", Email: "buyer@example.org", Total: money.Of(0, c.Facts.Store.Currency), PaidAt: c.Moment.Truncate(time.Minute),
		Mails: []facts.Mail{{From: c.Facts.Store.Name + " <" + c.Facts.Store.ContactEmail + ">", Subject: "Your order 1000"}},
	}
	var first string
	for id := range c.Facts.Products {
		if first == "" || id < first {
			first = id
		}
	}
	if first != "" {
		if q, err := c.Facts.Quote([]offer.Item{{ProductID: first, Quantity: 1, Via: offer.Page}}, c.Moment); err == nil {
			l := q.Lines[0]
			o.Lines, o.Total = []facts.Bought{{Name: l.Name, Quantity: 1, Price: l.Price, Total: l.Total}}, q.Total
		}
	}
	return o
}
