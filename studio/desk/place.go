// Package desk is a place of the studio: the manuscript: sheet, proofs, slips, looks, gauges, history.
package desk

import (
	"embed"

	"chrysagon/app/desk"
	"chrysagon/app/drafts"
	"chrysagon/app/find"
	"chrysagon/app/news"
	"chrysagon/app/offers"
	"chrysagon/studio/frame"
	"chrysagon/studio/proof"
	"chrysagon/studio/snippets"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Desk     *desk.Desk
	Drafts   *drafts.Reader
	Find     *find.Finder
	News     *news.Hub
	Offers   *offers.Offers
	Proof    *proof.Drawer
	Snippets *snippets.Form
	Begun    string // names this run of the program: pages that were opened under another load again; "": they stay
}

// Part is what the studio joins.
func (place *Place) Part() frame.Part {
	return frame.Part{
		Views:    views,
		SignedIn: place.signedIn,
		Doings: []frame.Doing{
			frame.Do("Undo the last change of this page", "undo take back", "/pages", "undo"),
		},
	}
}

func (place *Place) signedIn(in fiber.Router) {
	in.Get("/pages/:id", place.manuscript)
	in.Post("/pages/:id/commands", place.command)
	in.Get("/pages/:id/proof", place.proof)
	in.Get("/pages/:id/proof.json", place.proofParts)
	in.Get("/pages/:id/gauges", place.gaugesPart)
	in.Get("/pages/:id/sheet.json", place.sheetPart)
	in.Get("/pages/:id/slip/:piece", place.slip)
	in.Get("/pages/:id/look/:target", place.look)
	in.Get("/pages/:id/history", place.history)
	in.Post("/pages/:id/own", place.savePageOwn)
	in.Get("/pages/:id/ran", place.ranProof)
	in.Get("/live", place.livePart)
	in.Get("/changes", place.changes)
}
