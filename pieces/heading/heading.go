// Package heading is a headline or sub-headline, edited where it stands.
package heading

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the heading.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "heading", Role: m.Head, Title: "Heading", Traits: m.Traits{Heads: true, Reads: "h", Tall: func(f m.Fields, _ func(string) m.Shape) int {
		if f.Text("level") == "1" {
			return 14 + 39*m.Lines(f.Text("text"), 18)
		}
		return 24 + 30*m.Lines(f.Text("text"), 26)
	}}, Fields: []m.Field{
		{Name: "text", Label: "Words", Type: m.Line, Empty: "Write a headline"},
		{Name: "level", Label: "as", Type: m.Choice, Default: "2", Options: []m.Option{
			{Value: "1", Label: "the page's headline"}, {Value: "2", Label: "a band's heading"},
		}},
	}},
	Files: files,
	Letter: func(_ *pieces.Context, p m.Piece) []pieces.Block {
		if p.Fields.Text("text") == "" {
			return nil
		}
		as := pieces.Heading
		if p.Fields.Text("level") == "1" {
			as = pieces.Headline
		}
		return []pieces.Block{{As: as, Text: p.Fields.Text("text")}}
	},
	View: func(_ *pieces.Context, p m.Piece) any {
		if p.Fields.Text("text") == "" {
			return nil
		}
		return map[string]any{"Text": p.Fields.Text("text"), "First": p.Fields.Text("level") == "1"}
	},
}
