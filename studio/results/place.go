// Package results is a place of the studio: what came of it, in plots.
package results

import (
	"embed"

	"chrysagon/app/results"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Results *results.Reader
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Tab:      frame.Tab{At: 60, Name: "Results", Path: "/results"},
		Views:    views,
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Results: visitors, orders, revenue", "results visitors orders revenue staircase", "/results"),
		},
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/results", p.results)
	in.Get("/results/body", p.resultsBody)
}
