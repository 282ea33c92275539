// Package offers is a place of the studio: offers with the receipt that tries them, codes, deadlines.
package offers

import (
	"embed"
	"html/template"

	"chrysagon/app/desk"
	"chrysagon/app/offers"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Desk   *desk.Desk
	Offers *offers.Offers
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Tab:   frame.Tab{At: 30, Name: "Offers", Path: "/offers"},
		Views: views,
		Funcs: template.FuncMap{
			"countries": countryChoices, "repeats": func() []repeat { return repeats }, "repeated": isRepeat, "counts": counts,
		},
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Offers, with a receipt to try them", "offers discounts codes receipt try", "/offers"),
		},
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/offers", p.offersPlace)
	in.Post("/offers/receipt", p.receipt)
	in.Post("/offers/:id/end", p.endOffer)
	in.Post("/offers/:id/codes", p.makeCodes)
	in.Get("/offers/:id/codes.csv", p.exportCodes)
	in.Post("/offers", p.saveOffer)
	in.Post("/deadlines", p.saveDeadline)
}
