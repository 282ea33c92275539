package check_test

import (
	m "chrysagon/core/manuscript"
	"chrysagon/pieces/all"
)

// schema is what the shipped kinds of piece declare.
func schema() m.Schema {
	r, err := all.Registry()
	if err != nil {
		panic(err)
	}
	return r.Schema()
}
