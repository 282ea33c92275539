// Package receipt says what was bought, what it came to, and which mail will
// come from whom.
package receipt

import (
	"embed"
	"fmt"
	"html/template"
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
	Kind: m.Kind{Name: "receipt", Role: m.Table, Title: "What was bought", Traits: m.Traits{Acts: true, Listed: true}, Fields: []m.Field{
		{Name: "help", Label: "If no mail comes", Type: m.Line, Empty: "Say what to do if no mail comes"},
		{Name: "others", Label: "Mails of others", Type: m.List, Bare: true, Most: 4, Empty: "A mail that another service sends", Items: []m.Field{
			{Name: "from", Label: "From", Type: m.Line, Empty: "Who sends it, such as the carrier"},
			{Name: "subject", Label: "Subject", Type: m.Line, Empty: "What stands in its subject"},
			{Name: "do", Label: "What to do", Type: m.Line, Empty: "What the buyer does with it"},
		}},
	}},
	Files:  files,
	Letter: letter,
	View: func(c *pieces.Context, p m.Piece) any {
		order := c.Facts.Order
		if order == nil {
			if !c.Proof {
				return nil
			}
			order = example(c)
		}
		return map[string]any{
			"Others": others(p.Fields), "Order": order, "Help": p.Fields.Text("help"), "Store": c.Facts.Store,
			"Example": c.Facts.Order == nil,
		}
	},
	Tell: func(*pieces.Context, m.Piece) pieces.Telling {
		return pieces.Say("receipt", "What was bought", ", the total, and which mail comes from whom")
	},
}

func letter(c *pieces.Context, _ m.Piece) []pieces.Block {
	told := toldOf(c)
	if told == nil {
		return nil
	}
	return Blocks(told)
}

// Blocks are what is computed of the order that a mail is about.
func Blocks(told *facts.Told) []pieces.Block {
	var out []pieces.Block
	if len(told.Rows) > 0 {
		out = append(out, pieces.Block{As: pieces.Rows, Rows: told.Rows})
	}
	for _, words := range told.Words {
		out = append(out, pieces.Block{As: pieces.Copy, Copy: pieces.Paragraph(words)})
	}
	for _, l := range told.Links {
		out = append(out, pieces.Block{As: pieces.Press, Text: l.Label, Href: template.URL(l.Href)}) //nolint:gosec // of the order's own page
	}
	return out
}

// toldOf is what the mail of an order says; in a proof, that of an example.
func toldOf(c *pieces.Context) *facts.Told {
	if c.Facts.Order != nil {
		return c.Facts.Order.Told
	}
	if !c.Proof {
		return nil
	}
	o := example(c)
	told := &facts.Told{Words: []string{"An example; each buyer reads of their own order here."}, Links: []facts.ToldRow{{Label: "See your order"}}}
	for _, l := range o.Lines {
		told.Rows = append(told.Rows, facts.ToldRow{Label: fmt.Sprintf("%d × %s", l.Quantity, l.Name), Value: l.Total.String()})
	}
	told.Rows = append(told.Rows, facts.ToldRow{Label: "Paid", Value: o.Total.String(), Strong: true})
	return told
}

// other is a mail that another service sends after an order, in the owner's words.
type other struct{ From, Subject, Do string }

func others(f m.Fields) []other {
	var out []other
	for _, item := range f.List("others") {
		if from := item.Text("from"); from != "" {
			out = append(out, other{from, item.Text("subject"), item.Text("do")})
		}
	}
	return out
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
