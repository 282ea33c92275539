package frame

import (
	"github.com/gofiber/fiber/v3"
)

// robots keeps search engines out of the studio.
func (f *Frame) robots(c fiber.Ctx) error {
	return c.Type("txt", "utf-8").SendString("User-agent: *\nDisallow: /\n")
}

// favicon leads to the program's sign, for browsers that ask at this address.
func (f *Frame) favicon(c fiber.Ctx) error {
	return c.Redirect().Status(fiber.StatusFound).To(f.Render.Assets.Path("mark.svg"))
}
