// Package find is a place of the studio: Ctrl+K.
package find

import (
	"embed"

	"chrysagon/app/find"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Find *find.Finder
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Views:    views,
		SignedIn: p.signedIn,
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/find", p.find)
}
