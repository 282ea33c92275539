// Package all lists the kinds of piece this program ships with.
package all

import (
	"sync"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
	"chrysagon/pieces/announcement"
	"chrysagon/pieces/answer"
	"chrysagon/pieces/appointment"
	"chrysagon/pieces/aside"
	"chrysagon/pieces/badges"
	"chrysagon/pieces/bullets"
	"chrysagon/pieces/button"
	"chrysagon/pieces/checkout"
	"chrysagon/pieces/code"
	"chrysagon/pieces/compare"
	"chrysagon/pieces/details"
	"chrysagon/pieces/divider"
	"chrysagon/pieces/embed"
	"chrysagon/pieces/faq"
	"chrysagon/pieces/form"
	"chrysagon/pieces/gallery"
	"chrysagon/pieces/groups"
	"chrysagon/pieces/heading"
	"chrysagon/pieces/hours"
	"chrysagon/pieces/icon"
	"chrysagon/pieces/legal"
	"chrysagon/pieces/menu"
	"chrysagon/pieces/perks"
	"chrysagon/pieces/phone"
	"chrysagon/pieces/picture"
	"chrysagon/pieces/price"
	"chrysagon/pieces/product"
	"chrysagon/pieces/quote"
	"chrysagon/pieces/rating"
	"chrysagon/pieces/receipt"
	"chrysagon/pieces/rotate"
	"chrysagon/pieces/shelf"
	"chrysagon/pieces/social"
	"chrysagon/pieces/stock"
	"chrysagon/pieces/summary"
	"chrysagon/pieces/testimonials"
	"chrysagon/pieces/text"
	"chrysagon/pieces/timer"
	"chrysagon/pieces/video"
	"chrysagon/pieces/way"
)

// Registry returns every kind; a new one is one more line.
func Registry() (*pieces.Registry, error) { return pieces.NewRegistry(kinds...) }

// schema is what the kinds declare.
var schema = sync.OnceValue(func() m.Schema {
	s := m.Schema{}
	for _, k := range kinds {
		s[k.Name] = k.Kind
	}
	return s
})

var kinds = []pieces.Kind{
	heading.Kind, text.Kind, bullets.Kind, quote.Kind, aside.Kind, divider.Kind, icon.Kind, announcement.Kind,
	picture.Kind, gallery.Kind, video.Kind, social.Kind, embed.Kind,
	button.Kind, phone.Kind, hours.Kind, way.Kind, menu.Kind,
	product.Kind, details.Kind, price.Kind, shelf.Kind, groups.Kind, stock.Kind, timer.Kind, code.Kind, rotate.Kind,
	perks.Kind, compare.Kind, testimonials.Kind, rating.Kind, badges.Kind, faq.Kind,
	form.Kind, appointment.Kind, checkout.Kind, summary.Kind, answer.Kind, receipt.Kind, legal.Kind,
}
