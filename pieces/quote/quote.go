// Package quote is one sentence set large, and who said it.
package quote

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the quote.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "quote", Role: m.Voices, Title: "Quote", Fields: []m.Field{
		{Name: "text", Label: "Words", Type: m.Prose, Empty: "The sentence that says it"},
		{Name: "who", Label: "Who said it", Type: m.Line, Empty: "Who said it, and where"},
	}},
	Files: files,
	Letter: func(_ *pieces.Context, p m.Piece) []pieces.Block {
		if p.Fields.Text("text") == "" {
			return nil
		}
		return []pieces.Block{{As: pieces.Voice, Text: p.Fields.Text("text"), Second: p.Fields.Text("who")}}
	},
	View: func(_ *pieces.Context, p m.Piece) any {
		if p.Fields.Text("text") == "" {
			return nil
		}
		return map[string]any{"Text": p.Fields.Text("text"), "Who": p.Fields.Text("who")}
	},
}
