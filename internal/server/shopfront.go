package server

import (
	"chrysagon/app"
	"chrysagon/app/events"
	"chrysagon/shopfront/addresses"
	"chrysagon/shopfront/checkout"
	"chrysagon/shopfront/forms"
	"chrysagon/shopfront/frame"
	"chrysagon/shopfront/letters"
	"chrysagon/shopfront/links"
	"chrysagon/shopfront/orders"
	"chrysagon/shopfront/pages"

	"github.com/gofiber/fiber/v3"
)

// shopfront joins the parts of the shopfront. Pages stand at any address, so they
// come last.
func shopfront(a *app.App, recorder *events.Recorder, most int) (*fiber.App, *pages.Pages) {
	f := &frame.Frame{Store: a.Store, Render: a.Render, House: a.House, Pictures: a.Pictures, Origins: a.Origins, Log: a.Log, Forms: most}
	shown := &pages.Pages{
		Frame: f, Background: a.Background, Publishing: a.Publishing, Facts: a.Facts, Guide: a.Guide, Selling: a.Selling, People: a.People, Postroom: a.Postroom, News: a.News, Events: recorder,
	}
	return f.Handler(
		(&addresses.Addresses{Frame: f, Publishing: a.Publishing}).Part,
		(&links.Links{Frame: f, Guide: a.Guide}).Part,
		(&letters.Letters{Frame: f, Audience: a.Audience, Postroom: a.Postroom}).Part,
		(&orders.Orders{Frame: f, Selling: a.Selling, Facts: a.Facts}).Part,
		(&checkout.Desk{Frame: f, Publishing: a.Publishing, Selling: a.Selling, Ports: a.Ports, Pages: shown}).Part,
		(&forms.Forms{Frame: f, Guide: a.Guide, Publishing: a.Publishing, Facts: a.Facts, People: a.People, Pages: shown}).Part,
		shown.Part,
	), shown
}
