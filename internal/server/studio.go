package server

import (
	"strconv"

	"chrysagon/app"
	"chrysagon/studio/account"
	"chrysagon/studio/audience"
	"chrysagon/studio/choose"
	"chrysagon/studio/desk"
	"chrysagon/studio/find"
	"chrysagon/studio/frame"
	"chrysagon/studio/goods"
	"chrysagon/studio/house"
	"chrysagon/studio/offers"
	"chrysagon/studio/orders"
	"chrysagon/studio/pages"
	"chrysagon/studio/pictures"
	"chrysagon/studio/proof"
	"chrysagon/studio/publishing"
	"chrysagon/studio/rates"
	"chrysagon/studio/relays"
	"chrysagon/studio/results"
	"chrysagon/studio/routes"
	"chrysagon/studio/season"
	"chrysagon/studio/shelves"
	"chrysagon/studio/snippets"

	"github.com/gofiber/fiber/v3"
)

// studio joins the places of the studio; a new place is one more line. What Ctrl+K finds
// stands in this order.
func studio(a *app.App, o Options) (*fiber.App, *frame.Frame) {
	f := &frame.Frame{
		Accounts: a.Accounts, Calendar: a.Calendar, Publishing: a.Publishing,
		Render: a.Render, Store: a.Store, Origins: a.Origins, Log: a.Log,
	}
	proofs := &proof.Drawer{Store: a.Store, Render: a.Render, Drafts: a.Drafts, Facts: a.Facts, Publishing: a.Publishing, Origins: a.Origins}
	own := &snippets.Form{Frame: f}
	joined := f.Handler(
		(&publishing.Place{Frame: f, Background: a.Background, Drafts: a.Drafts, Proof: proofs}).Part(),
		(&pages.Place{Frame: f, Pages: a.Pages, Desk: a.Desk, People: a.People, Proof: proofs}).Part(),
		(&desk.Place{Frame: f, Desk: a.Desk, Drafts: a.Drafts, Find: a.Find, News: a.News, Offers: a.Offers, Proof: proofs, Snippets: own, Begun: begun(o)}).Part(),
		(&house.Place{Frame: f, House: a.House, Pictures: a.Pictures, Proof: proofs, Snippets: own}).Part(),
		(&pictures.Place{Frame: f, Pictures: a.Pictures, Desk: a.Desk}).Part(),
		(&season.Place{Frame: f, Offers: a.Offers}).Part(),
		(&goods.Place{Frame: f, Publishing: a.Publishing, Goods: a.Goods, Shelves: a.Shelves, Pictures: a.Pictures, Background: a.Background}).Part(),
		(&shelves.Place{Frame: f, Shelves: a.Shelves, Goods: a.Goods, Offers: a.Offers, Pages: a.Pages, Desk: a.Desk}).Part(),
		(&rates.Place{Frame: f, House: a.House}).Part(),
		(&offers.Place{Frame: f, Offers: a.Offers, Desk: a.Desk}).Part(),
		(&routes.Place{Frame: f, Routes: a.Routes}).Part(),
		(&audience.Place{Frame: f, Audience: a.Audience, Followups: a.Followups, Postroom: a.Postroom, Desk: a.Desk, Mail: a.Mail, Returns: a.Returns, Pages: a.Pages}).Part(),
		(&relays.Place{Frame: f, Relays: a.Relays}).Part(),
		(&results.Place{Frame: f, Results: a.Results}).Part(),
		(&orders.Place{Frame: f, Orders: a.Orders, OrderMail: a.OrderMail, People: a.People, Ports: a.Ports}).Part(),
		(&account.Place{Frame: f, Demo: o.Demo, Email: o.Email, Password: o.Password}).Part(),
		(&choose.Place{Frame: f, Drafts: a.Drafts, Find: a.Find}).Part(),
		(&find.Place{Frame: f, Find: a.Find}).Part(),
	)
	return joined, f
}

// begun names this run of the program to open pages; "" where they need not know.
func begun(o Options) string {
	if !o.Reload {
		return ""
	}
	return strconv.FormatInt(o.Clock().UnixNano(), 36)
}
