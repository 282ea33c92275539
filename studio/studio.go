package studio

import (
	"chrysagon/app"

	"github.com/gofiber/fiber/v3"
)

type Studio struct {
	App  *app.App
	Demo bool
}

func (s *Studio) Handler() *fiber.App {
	f := fiber.New()
	f.Get("/", func(c fiber.Ctx) error { return c.SendString("studio") })
	return f
}
