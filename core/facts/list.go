package facts

import "chrysagon/core/shelf"

// List is a page of the goods of a shelf, as a visitor looks at them.
type List struct {
	View        shelf.View
	Goods       []string // IDs, in order
	Page, Pages int
	Total       int  // that are picked
	More        bool // there are more than are counted
	Facets      []Facet
}

// Facet is something by which a list is narrowed.
type Facet struct {
	By, Label string
	Counted   bool // all goods were: its numbers are true
	Values    []FacetValue
}

// FacetValue is one of its values, with how many goods it would leave.
type FacetValue struct {
	Value, Words string
	Goods        int
	Wanted       bool
}
