// Package orders is a place of the studio: orders, buyers and leads.
package orders

import (
	"embed"

	"chrysagon/app/ordermail"
	"chrysagon/app/orders"
	"chrysagon/app/people"
	"chrysagon/app/ports"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	OrderMail *ordermail.Writer
	Orders    *orders.Office
	People    *people.People
	Ports     *ports.Ports
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Tab:      frame.Tab{At: 50, Name: "Orders", Path: "/orders"},
		Views:    views,
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Orders: to pack, sent, refunds", "orders to pack send ship parcel tracking refund done waiting", "/orders"),
			frame.GoTo("Ways to pay: transfer, on collection", "ways to pay transfer bank account collection collect invoice", "/orders#ways"),
			frame.GoTo("Packing list, to print", "packing list print pick pack", "/orders/packing"),
			frame.GoTo("Orders, as CSV", "orders export csv", "/orders/orders.csv"),
			frame.GoTo("Buyers: who ordered, and for how much", "buyers customers who ordered", "/buyers"),
			frame.GoTo("Leads, as CSV", "leads emails export csv", "/leads.csv"),
		},
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/leads.csv", p.exportLeads)
	in.Get("/orders", p.ordersPlace)
	in.Get("/orders/orders.csv", p.exportOrders)
	in.Get("/orders/packing", p.packingPlace)
	in.Post("/orders/move", p.moveOrders)
	in.Post("/orders/begun/forget", p.forgetBegun)
	in.Post("/orders/mail", p.saveOrderMail)
	in.Post("/orders/ways", p.saveWays)
	in.Post("/orders/downloads", p.saveDownloads)
	in.Get("/orders/:id", p.orderPlace)
	in.Post("/orders/:id/send", p.sendOrder)
	in.Post("/orders/:id/move", p.moveOrder)
	in.Post("/orders/:id/came", p.moneyCame)
	in.Post("/orders/:id/give-up", p.giveUp)
	in.Post("/orders/:id/renew/:variant", p.renew)
	in.Post("/orders/:id/note", p.noteOrder)
	in.Get("/orders/:id/refund", p.refundForm)
	in.Post("/orders/:id/refund/plan", p.refundForm)
	in.Post("/orders/:id/refund", p.refundOrder)
	in.Get("/buyers", p.buyersPlace)
}
