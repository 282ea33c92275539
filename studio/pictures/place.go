// Package pictures is a place of the studio: pictures, films and files.
package pictures

import (
	"embed"

	"chrysagon/app/desk"
	"chrysagon/app/pictures"
	"chrysagon/internal/media"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Desk     *desk.Desk
	Pictures *pictures.Library
}

// Part is what the studio joins.
func (place *Place) Part() frame.Part {
	return frame.Part{
		Files:    []string{"/pictures", "/videos", "/files", "/pages/*/feed/*/*"},
		Views:    views,
		SignedIn: place.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Pictures: upload, cut, replace, missing", "pictures photos upload crop cut focus replace unused missing alt", "/pictures"),
		},
	}
}

func (place *Place) signedIn(in fiber.Router) {
	in.Get("/pictures", place.picturesPlace)
	in.Get("/pictures/whole/:id", place.wholePicture)
	in.Post("/pictures/:id/describe", place.onPicture(place.describePicture))
	in.Post("/pictures/:id/crop", place.onPicture(place.cropPicture))
	in.Post("/pictures/:id/replace", place.onPicture(place.replacePicture))
	in.Post("/pictures/:id/drop", place.onPicture(place.dropPicture))
	in.Get("/pictures/:file", place.picture)
	in.Get("/scenes/:file", media.Scene)
	in.Get("/videos/:file", place.video)
	in.Post("/videos", place.uploadVideo)
	in.Post("/files", place.uploadFile)
	in.Post("/pages/:id/feed/:piece/:field", place.takeFeed)
	in.Post("/pictures", place.uploadPictures)
}
