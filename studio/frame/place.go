package frame

import (
	"html/template"
	"io/fs"

	"github.com/gofiber/fiber/v3"
)

// Part is what one place of the studio brings along: a place is a folder, and a
// line where the studio's places are listed.
type Part struct {
	Views    fs.FS              // templates, under views/; nil: none
	Funcs    template.FuncMap   // what they call beside the frame's own
	Open     func(fiber.Router) // routes for anybody; nil: none
	SignedIn func(fiber.Router) // routes for who is signed in
	Doings   []Doing            // what Ctrl+K finds of it
}

// Doing is something that can be done, and where.
type Doing struct{ Name, Words, Path, Do string }

// GoTo is a place to go to, found by any of its words.
func GoTo(name, words, path string) Doing { return Doing{Name: name, Words: words, Path: path} }

// Do is something that the page's script does.
func Do(name, words, path, do string) Doing {
	return Doing{Name: name, Words: words, Path: path, Do: do}
}

// Doings are those of all places.
func (f *Frame) Doings() []Doing { return f.doings }

// Handler joins the places. Where two take the same address, the former has it.
func (f *Frame) Handler(parts ...Part) *fiber.App {
	f.pages = template.New("").Funcs(f.funcs())
	for _, p := range parts {
		f.pages.Funcs(p.Funcs)
	}
	template.Must(f.pages.ParseFS(views, "views/*.html"))
	app := fiber.New(fiber.Config{BodyLimit: 200 << 20, // the listener allows it only where files are taken
		ErrorHandler: f.fail})
	app.Use(f.guardHeaders)
	app.Get("/robots.txt", f.robots)
	app.Get("/favicon.ico", f.favicon)
	for _, p := range parts {
		if p.Views != nil {
			template.Must(f.pages.ParseFS(p.Views, "views/*.html"))
		}
		if p.Open != nil {
			p.Open(app)
		}
		f.doings = append(f.doings, p.Doings...)
	}
	in := app.Group("/", f.signedIn, f.csrf)
	in.Get("/", func(c fiber.Ctx) error { return SeeOther(c, "/pages") })
	in.Post("/campaign", f.switchCampaign)
	for _, p := range parts {
		p.SignedIn(in)
	}
	return app
}
