package media

import (
	"chrysagon/app/pictures"

	"github.com/gofiber/fiber/v3"
)

// Type sends a font file of the store's own. Its address holds its content's hash.
func Type(c fiber.Ctx, library *pictures.Library) error {
	t, err := library.TypeFile(c, Readable(c.Params("id")))
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "public, max-age=31536000, immutable")
	asFile(c, t.Mime)
	return c.Send(t.Bytes)
}
