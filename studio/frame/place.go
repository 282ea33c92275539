package frame

import (
	"html/template"
	"io/fs"
	"path"
	"slices"

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
	Tab      Tab                // at the head; of no name: none
	Files    []string           // addresses to which files are sent, as path.Match reads them
}

// Tab is a place at the head of the studio.
type Tab struct {
	At         int // the leftmost first
	Name, Path string
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

// TakesFiles tells whether files may be sent to an address of the studio.
func (f *Frame) TakesFiles(address string) bool {
	return slices.ContainsFunc(f.files, func(pattern string) bool {
		is, err := path.Match(pattern, address)
		return is && err == nil
	})
}

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
		f.files = append(f.files, p.Files...)
		if p.Tab.Name != "" {
			f.tabs = append(f.tabs, p.Tab)
		}
	}
	slices.SortFunc(f.tabs, func(a, b Tab) int { return a.At - b.At })
	in := app.Group("/", f.signedIn, f.csrf)
	in.Get("/", func(c fiber.Ctx) error { return SeeOther(c, "/pages") })
	in.Post("/campaign", f.switchCampaign)
	for _, p := range parts {
		p.SignedIn(in)
	}
	return app
}
