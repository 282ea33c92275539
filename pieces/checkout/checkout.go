// Package checkout is the form in which a visitor orders on the page itself: what is
// bought is chosen in it, and its owner says what it asks, in how many parts. Its totals
// come from the quote that the order will use.
package checkout

import (
	"embed"

	rules "chrysagon/core/checkout"
	m "chrysagon/core/manuscript"
	"chrysagon/core/order"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// MostBumps is how many order bumps stand in one checkout.
const MostBumps = 3

// MostOptions is from how many options a buyer chooses.
const MostOptions = 8

// MostLinks is how many links of the store's own stand under it.
const MostLinks = 6

var (
	offered = []m.Option{{Value: "yes", Label: "offered"}, {Value: "no", Label: "not offered"}}
	yesNo   = []m.Option{{Value: "yes", Label: "yes"}, {Value: "no", Label: "no"}}
	asked   = []m.Option{
		{Value: string(rules.Needed), Label: "needed"}, {Value: string(rules.Shown), Label: "if they like"}, {Value: string(rules.Absent), Label: "not asked"},
	}
	counts = []m.Option{{Value: "1", Label: "1"}, {Value: "2", Label: "2"}, {Value: "3", Label: "3"}, {Value: "4", Label: "4"}, {Value: "5", Label: "5"}, {Value: "6", Label: "6"}, {Value: "10", Label: "10"}, {Value: "12", Label: "12"}}
)

// Kind declares the checkout.
var Kind = pieces.Kind{Kind: declared, Files: files, Live: true, View: view, Tell: tell, Sketch: sketch, Cart: cart, Filling: filling, Collects: collects}

var declared = m.Kind{
	Name: "checkout", Role: m.Till, Title: "Checkout", Traits: m.Traits{Pressed: true, Priced: true,
		Takes: m.TakesOrder, Acts: true, Sold: Sold, Fills: Fills, Pays: pays, Orders: Form,
		Calls: func(f m.Fields) []m.Call {
			return []m.Call{{Says: pieces.Or(f.Text("button"), "Order"), Target: string(target.Checkout)}}
		},
	}, Fields: []m.Field{
		{Name: "above", Label: "Above it", Type: m.Line, Empty: "A line above the form, if it needs one"},
		{Name: "product", Label: "Sells", Type: m.Product},
		{Name: "fill", Label: "goods of the page’s lists", Type: m.Choice, Default: "no", Options: []m.Option{
			{Value: "no", Label: "stay out"}, {Value: "lists", Label: "are put in too"},
		}},
		{Name: "options", Label: "To choose from", Type: m.List, Bare: true, Most: MostOptions, Empty: "One more to choose from", Items: []m.Field{
			{Name: "product", Label: "Product", Type: m.Product},
			{Name: "count", Label: "Pieces", Type: m.Choice, Default: "1", Options: counts},
			{Name: "with", Label: "with", Type: m.Product},
			{Name: "also", Label: "and", Type: m.Product},
			{Name: "words", Label: "Words", Type: m.Line, Empty: "What this choice is called, such as: Two of them"},
			{Name: "text", Label: "Why", Type: m.Line, Empty: "Say whom it suits"},
		}},
		{Name: "bumps", Label: "Order bumps", Type: m.List, Bare: true, Most: MostBumps, Empty: "An order bump", Items: []m.Field{
			{Name: "product", Label: "Product", Type: m.Product},
			{Name: "text", Label: "Bump", Type: m.Line, Empty: "Say why to add the bump"},
		}},
		{Name: "questions", Label: "Questions of your own", Type: m.List, Bare: true, Most: rules.MostQuestions, Empty: "A question of your own", Items: []m.Field{
			{Name: "kind", Label: "Answered with", Type: m.Choice, Default: string(rules.Words), Options: []m.Option{
				{Value: string(rules.Words), Label: "words"}, {Value: string(rules.Choice), Label: "a choice"}, {Value: string(rules.Tick), Label: "a tick"},
			}},
			{Name: "asks", Label: "It is", Type: m.Choice, Default: string(rules.Shown), Options: asked[:2]},
			{Name: "says", Label: "Question", Type: m.Line, Empty: "What do you ask?"},
			{Name: "options", Label: "Choices", Type: m.Line, Empty: "What can be chosen, with a stroke between: left / right"},
		}},
		{Name: "consent", Label: "Consent", Type: m.Line, Empty: "What buyers may agree to with a tick, such as letters; empty: nothing is asked"},
		{Name: "list", Label: "and puts who agrees on the list", Type: m.Mailing},
		{Name: "button", Label: "Button", Type: m.Line, Empty: "Order and pay"},
		{Name: "guarantee", Label: "Beneath it", Type: m.Line, Empty: "A promise beneath the button, such as how long it can be sent back"},
		{Name: "links", Label: "Links beneath", Type: m.List, Bare: true, Most: MostLinks, Empty: "A link beneath it", Items: []m.Field{
			{Name: "words", Label: "Words", Type: m.Line, Empty: "Words of the link"},
			{Name: "target", Label: "leads to", Type: m.Link},
		}},
		{Name: "quantity", Label: "how many is", Type: m.Choice, Default: "one", Options: []m.Option{{Value: "one", Label: "one"}, {Value: "chosen", Label: "chosen by the buyer"}}},
		{Name: "deadline", Label: "At the deadline", Type: m.Deadline},
		{Name: "after", Label: "then", Type: m.Choice, Default: "sell", Options: []m.Option{
			{Value: "sell", Label: "go on selling at the price that holds then"}, {Value: "close", Label: "close the checkout"},
		}},
		{Name: "parts", Label: "In", Type: m.Choice, Default: "1", Drawn: true, Options: []m.Option{{Value: "1", Label: "one part"}, {Value: "2", Label: "two parts"}, {Value: "3", Label: "three parts"}}},
		{Name: "order", Label: "Its blocks", Type: m.Choice, Default: orders[0].Value, Drawn: true, Options: orders},
		{Name: "summary", Label: "The sum stands", Type: m.Choice, Default: "beside", Drawn: true, Options: []m.Option{
			{Value: "beside", Label: "beside the form"}, {Value: "before", Label: "before the form"}, {Value: "above", Label: "above it"}, {Value: "folded", Label: "folded above it"},
		}},
		{Name: "codes", Label: "A field for codes", Type: m.Choice, Default: "used", Drawn: true, Options: []m.Option{{Value: "used", Label: "where a code can be used"}, {Value: "none", Label: "none"}}},
		{Name: "legal", Label: "Links to privacy and terms beneath", Type: m.Choice, Default: "no", Drawn: true, Options: yesNo},
		{Name: string(order.ByAccount), Label: "From an account, at the till", Type: m.Choice, Default: "no", Drawn: true, Options: offered},
		{Name: string(order.ByTransfer), Label: "By bank transfer", Type: m.Choice, Default: "no", Drawn: true, Options: offered},
		{Name: string(order.OnCollection), Label: "On collection", Type: m.Choice, Default: "no", Drawn: true, Options: offered},
		{Name: "name", Label: "Name", Type: m.Choice, Default: string(rules.Needed), Drawn: true, Options: asked},
		{Name: "phone", Label: "Phone", Type: m.Choice, Default: string(rules.Absent), Drawn: true, Options: asked},
		{Name: "company", Label: "Company", Type: m.Choice, Default: string(rules.Absent), Drawn: true, Options: asked},
		{Name: "address", Label: "Address", Type: m.Choice, Default: "sent", Drawn: true, Options: []m.Option{
			{Value: "sent", Label: "where a parcel goes"}, {Value: string(rules.Shown), Label: "if they like"}, {Value: string(rules.Needed), Label: "needed in any sale"}, {Value: string(rules.Absent), Label: "not asked"},
		}},
		{Name: "extra", Label: "Flat or floor", Type: m.Choice, Default: string(rules.Absent), Drawn: true, Options: asked},
		{Name: "payer", Label: "Address of the payer", Type: m.Choice, Default: string(rules.Absent), Drawn: true, Options: asked},
		{Name: "tax", Label: "Tax number", Type: m.Choice, Default: string(rules.Absent), Drawn: true, Options: asked},
		{Name: "note", Label: "Note", Type: m.Choice, Default: string(rules.Absent), Drawn: true, Options: asked},
	},
}

// orders are the orders in which the blocks before the payment can stand.
var orders = []m.Option{
	{Value: "who where more", Label: "who buys, where it goes, the rest"}, {Value: "who more where", Label: "who buys, the rest, where it goes"},
	{Value: "where who more", Label: "where it goes, who buys, the rest"}, {Value: "where more who", Label: "where it goes, the rest, who buys"},
	{Value: "more who where", Label: "the rest, who buys, where it goes"}, {Value: "more where who", Label: "the rest, where it goes, who buys"},
}
