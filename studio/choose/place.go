// Package choose is a place of the studio: the choosers in slips: pictures, goods, links.
package choose

import (
	"embed"

	"chrysagon/app/drafts"
	"chrysagon/app/find"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Drafts *drafts.Reader
	Find   *find.Finder
}

// Part is what the studio joins.
func (place *Place) Part() frame.Part {
	return frame.Part{
		Views:    views,
		SignedIn: place.signedIn,
	}
}

func (place *Place) signedIn(in fiber.Router) {
	in.Get("/choose/:type", place.choose)
}
