package studio

import (
	"encoding/json"
	"strings"

	"chrysagon/internal/media"

	"github.com/gofiber/fiber/v3"
)

// What a browser sends is valid only while its request is: these copy it.

// typed is what was typed into a field, without the spaces around it.
func typed(c fiber.Ctx, name string) string {
	return strings.TrimSpace(media.Readable(strings.Clone(c.FormValue(name))))
}

// allTyped are the values of a field that stands more than once in a form, as they came.
func allTyped(c fiber.Ctx, name string) []string {
	return copied(c.Request().PostArgs().PeekMulti(name))
}

func copied(list [][]byte) []string {
	var out []string
	for _, b := range list {
		out = append(out, media.Readable(string(b)))
	}
	return out
}

// leadTo sends htmx on to another page.
func leadTo(c fiber.Ctx, path string) error {
	c.Set("HX-Redirect", path)
	return c.SendStatus(fiber.StatusNoContent)
}

// loadAgain has htmx load the page again.
func loadAgain(c fiber.Ctx) error {
	c.Set("HX-Refresh", "true")
	return c.SendStatus(fiber.StatusNoContent)
}

// written is a value as JSON, for a script of ours.
func written(value any) (string, error) {
	raw, err := json.Marshal(value)
	return string(raw), err
}
