package check_test

import (
	"fmt"

	"chrysagon/core/check"
	m "chrysagon/core/manuscript"
)

// A sales page without a checkout does not go out.
func Example() {
	found := check.Run(check.Page{Purpose: "sales", Title: "Ember 180", Schema: schema(), Manuscript: m.Page{Bands: []m.Band{{ID: "b", Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "h", Kind: "heading", Fields: m.Fields{"text": "Fly the dark", "level": "1"}},
	}}}}}}})
	fmt.Println(check.Stopping(found))
	for _, f := range found {
		if f.Gravity == check.Stops {
			fmt.Println(f.What)
		}
	}
	// Output:
	// true
	// This page needs one checkout; it has 0.
}
