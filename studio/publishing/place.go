// Package publishing is a place of the studio: bringing a campaign out: editions, plans, comparing.
package publishing

import (
	"embed"

	"chrysagon/app/background"
	"chrysagon/app/drafts"
	"chrysagon/studio/frame"
	"chrysagon/studio/proof"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Background *background.Work
	Drafts     *drafts.Reader
	Proof      *proof.Drawer

	goods overGoods
}

// Part is what the studio joins.
func (place *Place) Part() frame.Part {
	return frame.Part{
		Views:    views,
		SignedIn: place.signedIn,
		Doings: []frame.Doing{
			frame.Do("Publish what is drafted", "publish go live", "/publish", "publish"),
		},
	}
}

func (place *Place) signedIn(in fiber.Router) {
	in.Get("/publish", place.publishPanel)
	in.Post("/publish", place.publish)
	in.Get("/publish/goods/:page", place.checkGoods)
	in.Post("/publish/plan", place.plan)
	in.Post("/publish/plan/:id/forget", place.unplan)
	in.Post("/publish/withdraw", place.withdraw)
	in.Post("/publish/home", place.openOn)
	in.Post("/editions/:id/back", place.putBack)
	in.Get("/editions/:id", place.compareEditions)
	in.Get("/editions/:id/pages/:page", place.editionProof)
}
