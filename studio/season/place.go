// Package season is a place of the studio: the year with its campaigns.
package season

import (
	"embed"
	"html/template"

	"chrysagon/app/offers"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Offers *offers.Offers
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Files:    []string{"/season/calendar"},
		Tab:      frame.Tab{At: 10, Name: "Season", Path: "/season"},
		Views:    views,
		Funcs:    template.FuncMap{"momentof": momentOf, "windowof": windowOf},
		Open:     p.open,
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Season: the year, campaigns, deadlines", "season calendar year campaigns deadlines windows", "/season"),
		},
	}
}

func (p *Place) open(out fiber.Router) {
	out.Get("/calendar/:file", p.calendarOut)
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/season", p.seasonPlace)
	in.Post("/season/campaigns", p.saveCampaign)
	in.Post("/season/campaigns/:id/shift", p.shiftCampaign)
	in.Post("/season/campaigns/:id/again", p.againCampaign)
	in.Post("/season/year", p.saveYear)
	in.Post("/season/calendar", p.calendarIn)
}
