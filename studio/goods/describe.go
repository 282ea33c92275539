package goods

import (
	"html/template"
	"strings"

	"chrysagon/core/rich"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// describe keeps what is said of a product.
func (place *Place) describe(c fiber.Ctx) error {
	if err := place.Goods.Describe(c, strings.Clone(c.Params("id")), frame.Typed(c, "text")); err != nil {
		return err
	}
	return c.JSON(map[string]string{"said": "Kept. Every page that shows it follows."})
}

// written is a description as it is written on in place.
func written(text string) template.HTML {
	return template.HTML(rich.HTML(text, 2, func(target string) (string, bool) { return target, true })) //nolint:gosec // rich writes elements of copy and escapes all words
}
