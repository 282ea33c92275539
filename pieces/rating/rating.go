// Package rating sums up ratings the store was given, and says by whom and
// how many: a number without its source is not shown.
package rating

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"

	"github.com/shopspring/decimal"
)

//go:embed view.html
var files embed.FS

// Kind declares the rating.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "rating", Role: m.Voices, Title: "Rating", Fields: []m.Field{
		{Name: "average", Label: "Average, out of five", Type: m.Line, Empty: "4.8"},
		{Name: "count", Label: "How many rated", Type: m.Line, Empty: "212"},
		{Name: "source", Label: "Where", Type: m.Line, Empty: "Where they rated"},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		average, ok := read(p)
		if !ok {
			return nil
		}
		return map[string]any{"Average": p.Fields.Text("average"), "Count": p.Fields.Text("count"), "Source": p.Fields.Text("source"), "Icon": c.Icon("star"), "Width": average.Mul(decimal.NewFromInt(20)).Round(0).String()}
	},
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		if _, ok := read(p); !ok {
			return pieces.Lack("star", "Rating", "is shown once it has a number up to 5, a count and a source")
		}
		return pieces.Say("star", p.Fields.Text("average"), " of 5, from "+p.Fields.Text("count")+" at "+p.Fields.Text("source"))
	},
}

func read(p m.Piece) (decimal.Decimal, bool) {
	average, err := decimal.NewFromString(p.Fields.Text("average"))
	count, fault := decimal.NewFromString(p.Fields.Text("count"))
	five := decimal.NewFromInt(5)
	return average, err == nil && fault == nil && !average.IsNegative() && average.LessThanOrEqual(five) && count.IsInteger() && count.IsPositive() && p.Fields.Text("source") != ""
}
