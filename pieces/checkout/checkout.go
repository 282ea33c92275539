// Package checkout is the form in which a visitor orders on the page itself.
// Its totals come from the quote that the order will use.
package checkout

import (
	"embed"
	"slices"

	rules "chrysagon/core/checkout"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the checkout.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "checkout", Title: "Checkout", Traits: m.Traits{Takes: m.TakesOrder, Acts: true, Calls: func(f m.Fields) []m.Call {
		return []m.Call{{Says: pieces.Or(f.Text("button"), "Order"), Target: string(target.Checkout)}}
	}}, Fields: []m.Field{
		{Name: "product", Label: "Sells", Type: m.Product},
		{Name: "button", Label: "Button", Type: m.Line, Empty: "Order and pay"},
		{Name: "bump", Label: "with the order bump", Type: m.Product},
		{Name: "bumptext", Label: "Bump", Type: m.Line, Empty: "Say why to add the bump"},
		{Name: "deadline", Label: "At the deadline", Type: m.Deadline},
		{Name: "after", Label: "then", Type: m.Choice, Default: "sell", Options: []m.Option{
			{Value: "sell", Label: "go on selling at the price that holds then"}, {Value: "close", Label: "close the checkout"},
		}},
	}},
	Files: files, Live: true,
	View: view,
	Tell: tell,
}

// Sale is what a checkout sells, resolved from its fields and the moment.
type Sale struct {
	Product goods.Product
	Bump    *goods.Product // nil when none is chosen or none is left
	Closed  string         // why nothing can be ordered; empty while it can
}

// Resolve reads a checkout's fields. ok is false while no product is chosen.
func Resolve(c *pieces.Context, p m.Piece) (Sale, bool) {
	product, ok := c.Facts.Products[p.Fields.Text("product")]
	if !ok {
		return Sale{}, false
	}
	sale := Sale{Product: product, Closed: c.Closed()}
	if b, has := c.Facts.Products[p.Fields.Text("bump")]; has && !b.SoldOut() && b.ID != product.ID {
		sale.Bump = &b
	}
	if d, has := c.Deadline(p.Fields.Text("deadline")); has && p.Fields.Text("after") == "close" && sale.Closed == "" {
		if d.Passed(c.Moment) {
			sale.Closed = "Orders closed on " + d.Told() + "."
		}
	}
	if sale.Closed == "" && c.Facts.Store.Unpaid {
		sale.Closed = "No payment can be taken here at the moment."
	}
	if sale.Closed == "" && product.SoldOut() {
		sale.Closed = "Sold out: the last " + product.Name + " has been sold."
	}
	return sale, true
}

// Cart is what the buyer of this sale orders, with or without the bump.
func (s Sale) Cart(bump bool) []offer.Item {
	cart := []offer.Item{{ProductID: s.Product.ID, Quantity: 1, Via: offer.Page}}
	if bump && s.Bump != nil {
		cart = append(cart, offer.Item{ProductID: s.Bump.ID, Quantity: 1, Via: offer.Bump})
	}
	return cart
}

// Travels tells whether anything in a priced cart goes by parcel: the product, an
// order bump or a gift.
func Travels(f facts.Facts, q offer.Quote) bool {
	return slices.ContainsFunc(q.Lines, func(l offer.Line) bool { return f.Products[l.ProductID].Sent() })
}

// delivery says what an order bump brings beside its price: the delivery that is
// not paid without it, or "".
func delivery(c *pieces.Context, without, with facts.Shown) string {
	if Travels(c.Facts, without.Quote) || !Travels(c.Facts, with.Quote) {
		return ""
	}
	if more := with.Shipping.Total.Minor - without.Shipping.Total.Minor; more > 0 {
		return "Delivery of " + with.Shipping.Total.String() + " comes on top, and the parcel needs an address."
	}
	return "It comes by parcel, which needs an address."
}

// bumpLine is the bump's line in a quote.
func bumpLine(q facts.Shown) *facts.ShownLine {
	for i := range q.Lines {
		if q.Lines[i].Via == offer.Bump {
			return &q.Lines[i]
		}
	}
	return nil
}

// SendsTo tells where the store sends.
func SendsTo(f facts.Facts) rules.To {
	if f.Shipping == nil {
		return nil
	}
	return func(code string) bool {
		_, ok := f.Shipping.Zone(code)
		return ok
	}
}

type field struct {
	rules.Field
	Value, Error string
}

type shown struct {
	Sale
	Address, Till, Button, BumpText, Seen string
	Fields                                []field
	Totals                                facts.Shown
	BumpLine                              *facts.ShownLine
	Code, Link, CodeSay                   string
	AskCode, CodeGood                     bool
	WithBump                              string // total with the bump, for readers without script
	Ticked, Proof                         bool
	Sent                                  bool   // something in the cart as it stands travels
	Delivery                              string // what the bump brings beside its price
	Notice, Again                         string
}

// Open tells whether the checkout that is shown takes orders.
func (s shown) Open() bool { return s.Closed == "" }

func view(c *pieces.Context, p m.Piece) any {
	sale, ok := Resolve(c, p)
	if !ok {
		return nil
	}
	s := shown{
		Sale: sale, Address: c.Place.Address, Till: c.Place.Till, Proof: c.Proof,
		Button:   pieces.Or(p.Fields.Text("button"), "Order and pay"),
		BumpText: p.Fields.Text("bumptext"),
		Notice:   c.Form.Notice, Again: c.Form.Again, Ticked: c.Form.Values["bump"] != "",
	}
	if sale.Closed != "" {
		return s
	}
	all, err := c.Show(sale.Cart(true)...)
	if err != nil {
		return nil
	}
	if s.Totals, err = c.Show(sale.Cart(s.Ticked)...); err != nil {
		return nil
	}
	if sale.Bump != nil {
		s.BumpLine, s.WithBump = bumpLine(all), all.Total.String()
		without := s.Totals
		if s.Ticked {
			if without, err = c.Show(sale.Cart(false)...); err != nil {
				return nil
			}
		}
		s.Delivery = delivery(c, without, all)
	}
	s.Code, s.Link = c.Form.Values["code"], c.Facts.Context.Link
	for _, answer := range s.Totals.Codes {
		s.CodeSay, s.CodeGood = answer.Say, answer.Applied
	}
	for _, o := range c.Facts.Offers {
		s.AskCode = s.AskCode || o.NeedsCode
	}
	s.Seen = c.Seal(c, sale.Cart(false), sale.Cart(true))
	// Without script nobody can ask for an address once the bump is ticked, so it
	// is asked wherever the bump could bring a parcel.
	s.Sent = Travels(c.Facts, s.Totals.Quote)
	for _, f := range rules.Fields(s.Sent || Travels(c.Facts, all.Quote), SendsTo(c.Facts)) {
		if f.Name == "email" && c.Facts.Store.Unmailed {
			f.Why = "So that the store can write to you." // no confirmation is sent
		}
		if f.Name == "street" && s.Delivery != "" {
			f.Why = "Only if you add " + sale.Bump.Name + ": where the parcel goes."
		}
		s.Fields = append(s.Fields, field{f, c.Form.Values[f.Name], c.Form.Errors[f.Name]})
	}
	return s
}

func tell(c *pieces.Context, p m.Piece) pieces.Telling {
	sale, ok := Resolve(c, p)
	if !ok {
		return pieces.Lack("cash-register", "Checkout", "needs a product to sell")
	}
	t := pieces.Say("cash-register", "Checkout", " sells ", sale.Product.Name)
	add := func(text string, strong bool) { t.Parts = append(t.Parts, pieces.Part{Text: text, Strong: strong}) }
	if sale.Closed != "" {
		add(" — "+sale.Closed, false)
		t.Trouble = true
		return t
	}
	if q, err := c.Quote(sale.Cart(false)...); err == nil {
		add(" for ", false)
		add(q.Total.String(), true)
	}
	if sale.Bump != nil {
		add("; bump ", false)
		add(sale.Bump.Name, true)
	}
	if d, has := c.Deadline(p.Fields.Text("deadline")); has && p.Fields.Text("after") == "close" {
		add("; closes "+d.Short(), false)
	}
	return t
}
