// Package house is a place of the studio: what holds for the whole store: its style, its words, its own code.
package house

import (
	"embed"

	"chrysagon/app/house"
	"chrysagon/app/pictures"
	"chrysagon/internal/media"
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
	House    *house.Keeper
	Pictures *pictures.Library
	Proof    *proof.Drawer
	Snippets *snippets.Form
}

// Part is what the studio joins.
func (place *Place) Part() frame.Part {
	return frame.Part{
		Files:    []string{"/house/types"},
		Views:    views,
		SignedIn: place.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("The logo", "logo header brand picture", "/house"),
			frame.GoTo("The currency, and where the store is", "currency country zone money", "/store"),
			frame.GoTo("House style: colours, type, buttons", "house style colours palette fonts type buttons corners shadows", "/house"),
			frame.GoTo("The store: name, phone, address, terms", "store settings name phone email legal address privacy terms", "/store"),
			frame.GoTo("Your own code, on every page", "own code styles css scripts measuring tags analytics", "/store"),
		},
	}
}

func (place *Place) signedIn(in fiber.Router) {
	in.Get("/pages/:id/house", place.houseProof)
	in.Get("/store", place.storePlace)
	in.Post("/store", place.saveStore)
	in.Post("/store/own", place.saveStoreOwn)
	in.Post("/store/menus", place.saveMenus)
	in.Get("/house", place.housePlace)
	in.Post("/house", place.setHouse)
	in.Post("/house/types", place.addType)
	in.Get("/types/:id", func(c fiber.Ctx) error { return media.Type(c, place.Pictures) })
	in.Get("/types.css", place.samples)
}
