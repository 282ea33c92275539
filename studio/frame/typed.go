package frame

import (
	"encoding/json"
	"strings"

	"chrysagon/internal/media"

	"github.com/gofiber/fiber/v3"
)

// Typed is what was typed into a field, without the spaces around it. What a browser
// sends is valid only while its request is, so it is copied.
func Typed(c fiber.Ctx, name string) string {
	return strings.TrimSpace(media.Readable(strings.Clone(c.FormValue(name))))
}

// AllTyped are the values of a field that stands more than once in a form, as they came.
func AllTyped(c fiber.Ctx, name string) []string {
	return Copied(c.Request().PostArgs().PeekMulti(name))
}

// Every are the values of a field that stands more than once, wherever a form puts them:
// in the address, in a body, or beside a file.
func Every(c fiber.Ctx, name string) []string {
	out := append(Copied(c.Request().URI().QueryArgs().PeekMulti(name)), AllTyped(c, name)...)
	if form, err := c.MultipartForm(); err == nil {
		for _, v := range form.Value[name] {
			out = append(out, media.Readable(strings.Clone(v)))
		}
	}
	return out
}

// Copied are values as they came, copied.
func Copied(list [][]byte) []string {
	var out []string
	for _, b := range list {
		out = append(out, media.Readable(string(b)))
	}
	return out
}

// LeadTo sends htmx on to another page.
func LeadTo(c fiber.Ctx, path string) error {
	c.Set("HX-Redirect", path)
	return c.SendStatus(fiber.StatusNoContent)
}

// LoadAgain has htmx load the page again.
func LoadAgain(c fiber.Ctx) error {
	c.Set("HX-Refresh", "true")
	return c.SendStatus(fiber.StatusNoContent)
}

// written is a value as JSON, for a script of ours.
func written(value any) (string, error) {
	raw, err := json.Marshal(value)
	return string(raw), err
}
