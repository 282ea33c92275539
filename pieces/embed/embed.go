// Package embed is HTML of the owner's own, kept apart from the page: a
// sandboxed frame in which nothing runs, sends or reaches the page around it.
package embed

import (
	"embed"
	"strconv"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the embedded HTML.
var Kind = pieces.Kind{
	Kind: m.Kind{Undrawn: []string{"align", "size", "weight", "family", "line", "effect", "colour"}, Name: "embed", Role: m.Figure, Title: "Own HTML", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "title", Label: "What it is", Type: m.Line, Empty: "Say what it shows, for those who cannot see it"},
		{Name: "html", Label: "HTML", Type: m.Prose, Empty: "<p>Your HTML</p>"},
		{Name: "height", Label: "with a height of", Type: m.Choice, Default: "320", Options: []m.Option{
			{Value: "160", Label: "160 pixels"}, {Value: "320", Label: "320 pixels"}, {Value: "640", Label: "640 pixels"},
		}},
	}},
	Files: files,
	View: func(_ *pieces.Context, p m.Piece) any {
		if p.Fields.Text("html") == "" {
			return nil
		}
		return map[string]any{"HTML": p.Fields.Text("html"), "Title": pieces.Or(p.Fields.Text("title"), "Embedded content"), "Height": pieces.Or(p.Fields.Text("height"), "320")}
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say("code", "Own HTML", ", "+strconv.Itoa(len(p.Fields.Text("html")))+" characters, in a frame where nothing runs")
	},
}
