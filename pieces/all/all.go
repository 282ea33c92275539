// Package all lists the kinds of piece this program ships with.
package all

import (
	"chrysagon/pieces"
	"chrysagon/pieces/answer"
	"chrysagon/pieces/button"
	"chrysagon/pieces/checkout"
	"chrysagon/pieces/heading"
	"chrysagon/pieces/legal"
	"chrysagon/pieces/perks"
	"chrysagon/pieces/picture"
	"chrysagon/pieces/price"
	"chrysagon/pieces/receipt"
	"chrysagon/pieces/shelf"
	"chrysagon/pieces/text"
	"chrysagon/pieces/timer"
)

// Registry returns every kind; a new one is one more line.
func Registry() (*pieces.Registry, error) {
	return pieces.NewRegistry(
		heading.Kind,
		text.Kind,
		picture.Kind,
		button.Kind,
		price.Kind,
		shelf.Kind,
		timer.Kind,
		perks.Kind,
		checkout.Kind,
		answer.Kind,
		receipt.Kind,
		legal.Kind,
	)
}
