package frame

import (
	"chrysagon/internal/media"

	"github.com/gofiber/fiber/v3"
)

// Typed reads a form. The strings outlive the request.
func Typed(c fiber.Ctx) map[string]string {
	values := map[string]string{}
	for name, value := range c.Request().PostArgs().All() {
		values[string(name)] = media.Readable(string(value))
	}
	return values
}
