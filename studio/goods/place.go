// Package goods is a place of the studio: the goods: table, one product, imports.
package goods

import (
	"embed"
	"html/template"

	"chrysagon/app/assortment"
	"chrysagon/app/background"
	"chrysagon/app/pictures"
	"chrysagon/app/publishing"
	"chrysagon/app/shelves"
	"chrysagon/core/goods"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Background *background.Work
	Goods      *assortment.Assortment
	Pictures   *pictures.Library
	Publishing *publishing.Publisher
	Shelves    *shelves.Shelves
}

// Part is what the studio joins.
func (place *Place) Part() frame.Part {
	return frame.Part{
		Files: []string{"/goods/import", "/goods/*/file"},
		Tab:   frame.Tab{At: 20, Name: "Goods", Path: "/goods"},
		Views: views,
		Funcs: template.FuncMap{
			"cell": cell, "written": written, "conditions": func() []goods.Condition { return goods.Conditions },
			"sortdown": func(l listing, name string) string {
				if l.Sort == name && !l.Down {
					return "1"
				}
				return ""
			},
		},
		SignedIn: place.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Goods: table, import, prices", "goods products table import csv prices stock", "/goods"),
		},
	}
}

func (place *Place) signedIn(in fiber.Router) {
	in.Get("/goods", place.goodsPlace)
	in.Post("/goods/add", place.addGoods)
	in.Post("/goods/attributes", place.addAttribute)
	in.Post("/goods/preview", place.previewGoods)
	in.Post("/goods/change", place.changeGoods)
	in.Post("/goods/undo/:id", place.undoGoods)
	in.Get("/goods/goods.csv", place.exportGoods)
	in.Get("/goods/goods.json", place.exportGoods)
	in.Post("/goods/import", place.receiveGoods)
	in.Get("/goods/import/:id", place.dryRun)
	in.Post("/goods/import/:id", place.dryRun)
	in.Post("/goods/import/:id/apply", place.applyImport)
	in.Get("/goods/import/:id/progress", place.importProgress)
	in.Post("/goods/:id/cell", place.editGoods)
	in.Get("/goods/:id", place.goodsPage)
	in.Post("/goods/:id/lead", place.leadPicture)
	in.Post("/goods/:id/description", place.describe)
	in.Post("/goods/:id/archive", place.archive)
	in.Post("/goods/:id/copy", place.copyGoods)
	in.Post("/goods/:id/file", place.keepFile)
}
