package wire

import "github.com/gofiber/fiber/v3"

// Problem answers with a problem document (RFC 9457); its detail is what is shown.
func Problem(c fiber.Ctx, status int, detail string) error {
	return c.Status(status).JSON(map[string]any{"type": "about:blank", "title": fiber.NewError(status).Message, "status": status, "detail": detail}, "application/problem+json")
}
