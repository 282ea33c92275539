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

// TypedAsMeant reads a form in which an address can be asked about: where it was taken as it was
// proposed, it stands for what was typed.
func TypedAsMeant(c fiber.Ctx) map[string]string {
	values := Typed(c)
	if use := values["use"]; use != "" {
		values["email"] = use
	}
	return values
}
