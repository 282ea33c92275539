// Package rates is a place of the studio: tax, delivery and how prices are shown.
package rates

import (
	"embed"

	"chrysagon/app/house"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	House *house.Keeper
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Views:    views,
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Tax and shipping", "tax rates shipping delivery zones", "/rates"),
		},
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/rates", p.ratesPlace)
	in.Post("/rates/parcel", p.parcel)
	in.Post("/rates/rules", p.saveRules)
	in.Post("/rates/:table", p.saveRates)
	in.Get("/rates/:table", p.exportRates)
}
