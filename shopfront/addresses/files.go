package addresses

import (
	"mime"
	"strings"

	"chrysagon/internal/media"

	"github.com/gofiber/fiber/v3"
)

func (a *Addresses) types(c fiber.Ctx) error { return media.Type(c, a.Pictures) }

func (a *Addresses) picture(c fiber.Ctx) error { return media.Picture(c, a.Pictures, "public") }

// handout sends a file to be kept, never to be shown.
func (a *Addresses) handout(c fiber.Ctx) error {
	f, err := a.Pictures.Handout(c, strings.Clone(c.Params("file")))
	if err != nil {
		return err
	}
	c.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": f.Name}))
	c.Set("Content-Type", f.Mime)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "public, max-age=86400")
	return c.Send(f.Bytes)
}

func (a *Addresses) video(c fiber.Ctx) error { return media.Video(c, a.Pictures, "public") }
