package frame

import (
	"net/url"

	"chrysagon/internal/media"

	"github.com/gofiber/fiber/v3"
)

// Queries are the parameters of an address. The strings outlive the request.
func Queries(c fiber.Ctx) url.Values {
	out := url.Values{}
	for name, value := range c.Request().URI().QueryArgs().All() {
		out[string(name)] = append(out[string(name)], media.Readable(string(value)))
	}
	return out
}

// Typed reads a form. The strings outlive the request.
func Typed(c fiber.Ctx) map[string]string {
	values := map[string]string{}
	for name, value := range c.Request().PostArgs().All() {
		values[string(name)] = media.Readable(string(value))
	}
	return values
}
