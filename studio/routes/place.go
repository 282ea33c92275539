// Package routes is a place of the studio: the map of a campaign's paths, what would go wrong on them, and what they lead to.
package routes

import (
	"embed"
	"html/template"
	"strconv"

	"chrysagon/app/routes"
	"chrysagon/core/route"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Routes *routes.Keeper
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Tab:   frame.Tab{At: 45, Name: "Routes", Path: "/routes"},
		Views: views,
		Funcs: template.FuncMap{
			"condition": conditionWords, "asks": asked, "kindof": kindOf, "perhead": perHead, "half": func(n int) int { return n / 2 },
			"footfalls": footfallsOf, "thousands64": func(n int) string { return thousands(int64(n)) }, "next": func(seed uint64) uint64 { return seed + 1 },
			"orders":     func(each float64) string { return strconv.FormatFloat(100*each, 'f', 1, 64) },
			"pagesof":    func(each float64) string { return strconv.FormatFloat(100*each, 'f', 0, 64) },
			"stepname":   func(f route.Funnel, id string) string { s, _ := f.Step(id); return s.Name },
			"plainmoney": func(minor int64) string { return plainMoney(minor, p.Currency()) },
		},
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Routes: the paths between pages", "routes map funnel paths steps forks shares forecast rehearsal", "/routes"),
			frame.GoTo("Tracked links and their QR codes", "tracked links qr code source posters utm", "/routes#links"),
		},
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/routes", p.place)
	in.Get("/routes/body", p.body)
	in.Get("/routes/links/:id.svg", p.qr)
	in.Post("/routes/begin", p.begin)
	in.Post("/routes/add", p.add)
	in.Post("/routes/remove", p.remove)
	in.Post("/routes/step", p.step)
	in.Post("/routes/move", p.move)
	in.Post("/routes/lead", p.lead)
	in.Post("/routes/turn", p.turn)
	in.Post("/routes/mend", p.mend)
	in.Post("/routes/undo", p.undo)
	in.Post("/routes/whatif", p.whatIf)
	in.Post("/routes/rehearse", p.rehearse)
	in.Post("/routes/links", p.addLink)
	in.Post("/routes/links/:id/drop", p.dropLink)
	in.Post("/routes/settings", p.settings)
}
