package media

import (
	"chrysagon/render/scene"

	"github.com/gofiber/fiber/v3"
)

// Scene sends a scene that ships, in the colours that its address names.
func Scene(c fiber.Ctx) error {
	s, house, phone, ok := scene.Find(c.Path())
	if !ok {
		return fiber.ErrNotFound
	}
	c.Set("Content-Type", "image/svg+xml")
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "public, max-age=31536000, immutable")
	return c.Send(s.Draw(house, phone))
}
