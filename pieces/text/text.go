// Package text is running copy: one paragraph a line.
package text

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the text.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "text", Title: "Text", Traits: m.Traits{Reads: "copy", Tall: func(f m.Fields, _ func(string) m.Shape) int { return 12 + 26*m.Lines(f.Text("text"), 42) }}, Fields: []m.Field{
		{Name: "text", Label: "Words", Type: m.Rich, Empty: "Write what the reader should know"},
		{Name: "look", Label: "as", Type: m.Choice, Default: "copy", Options: []m.Option{
			{Value: "copy", Label: "copy"}, {Value: "lead", Label: "a sub-headline"}, {Value: "teaser", Label: "a teaser line"},
		}},
	}},
	Files: files,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		if p.Fields.Text("text") == "" {
			return nil
		}
		as := pieces.Copy
		if p.Fields.Text("look") != "" && p.Fields.Text("look") != "copy" {
			as = pieces.Lead
		}
		return []pieces.Block{{As: as, Copy: c.Rich(p.Fields.Text("text"))}}
	},
	View: func(c *pieces.Context, p m.Piece) any {
		if p.Fields.Text("text") == "" {
			return nil
		}
		return map[string]any{"Text": c.Rich(p.Fields.Text("text")), "Look": map[string]string{"lead": " lead", "teaser": " teaser"}[p.Fields.Text("look")]}
	},
}
