// Package pages is a place of the studio: the pages of a campaign, new ones and whole ones: copies, templates, packages, words over many.
package pages

import (
	"embed"
	"html/template"

	"chrysagon/app/desk"
	"chrysagon/app/pages"
	"chrysagon/app/people"
	"chrysagon/studio/frame"
	"chrysagon/studio/proof"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Desk   *desk.Desk
	Pages  *pages.Pages
	People *people.People
	Proof  *proof.Drawer
}

// Part is what the studio joins.
func (place *Place) Part() frame.Part {
	return frame.Part{
		Files:    []string{"/packages"},
		Tab:      frame.Tab{At: 40, Name: "Pages", Path: "/pages"},
		Views:    views,
		Funcs:    template.FuncMap{"proportion": proportion},
		SignedIn: place.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Pages of the campaign", "pages drafts launch check", "/pages"),
			frame.GoTo("A new page", "new page template blank add make", "/pages/new"),
			frame.GoTo("Page from a package", "import package zip", "/pages/new"),
		},
	}
}

func (place *Place) signedIn(in fiber.Router) {
	in.Get("/pages", place.pagesPlace)
	in.Get("/pages/new", place.newPagePlace)
	in.Post("/pages", place.addPage)
	in.Post("/words", place.findWords)
	in.Post("/words/replace", place.replaceWords)
	in.Get("/templates", place.findTemplates)
	in.Get("/templates/:template/proof", place.templateProof)
	in.Post("/pages/:id/copy", place.copyPage)
	in.Post("/pages/:id/keep", place.keepTemplate)
	in.Post("/pages/:id/dress", place.dressPage)
	in.Post("/pages/:id/retake", place.retakePage)
	in.Post("/pages/:id/aside", place.setAside)
	in.Post("/pages/:id/back", place.bringBack)
	in.Get("/pages/:id/package.zip", place.packPage)
	in.Post("/packages", place.takePackage)
}
