// Package shelves is a place of the studio: shelves and groups of goods.
package shelves

import (
	"embed"

	"chrysagon/app/assortment"
	"chrysagon/app/desk"
	"chrysagon/app/offers"
	"chrysagon/app/pages"
	"chrysagon/app/shelves"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Desk    *desk.Desk
	Goods   *assortment.Assortment
	Offers  *offers.Offers
	Pages   *pages.Pages
	Shelves *shelves.Shelves
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Views:    views,
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("A new shelf, or a page of goods by a rule", "new shelf rule clearance goods page", "/shelves?shelf=new"),
			frame.GoTo("Shelves and groups of goods", "shelves groups goods rule", "/shelves"),
		},
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/shelves", p.shelvesPlace)
	in.Post("/shelves", p.saveShelf)
	in.Post("/shelves/look", p.lookShelf)
	in.Post("/groups", p.saveGroup)
}
