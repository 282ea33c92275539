// Package compare is a table of this against that.
package compare

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the comparison.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "compare", Role: m.Table, Title: "Comparison", Fields: []m.Field{
		{Name: "first", Label: "First", Type: m.Line, Empty: "The first, such as Ember 180"},
		{Name: "second", Label: "Second", Type: m.Line, Empty: "The second, such as other kites"},
		{Name: "items", Label: "Rows", Type: m.List, Items: []m.Field{
			{Name: "what", Label: "What", Type: m.Line, Empty: "What is compared"},
			{Name: "first", Label: "First", Type: m.Line, Empty: "the first: yes, no, or words"},
			{Name: "second", Label: "Second", Type: m.Line, Empty: "the second: yes, no, or words"},
		}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		var rows []map[string]any
		for _, item := range p.Fields.List("items") {
			if item.Text("what") != "" {
				rows = append(rows, map[string]any{"What": item.Text("what"), "First": mark(c, item.Text("first")), "Second": mark(c, item.Text("second"))})
			}
		}
		if rows == nil {
			return nil
		}
		return map[string]any{"First": p.Fields.Text("first"), "Second": p.Fields.Text("second"), "Rows": rows}
	},
}

// mark turns a plain yes or no into a sign with the word beside it, for those
// who do not see it.
func mark(c *pieces.Context, text string) map[string]any {
	switch text {
	case "yes", "Yes":
		return map[string]any{"Icon": c.Icon("check"), "Word": "yes"}
	case "no", "No":
		return map[string]any{"Icon": c.Icon("x"), "Word": "no"}
	}
	return map[string]any{"Text": text}
}
