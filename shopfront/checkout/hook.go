package checkout

import (
	"errors"
	"net/http"

	"chrysagon/app/ports"

	"github.com/gofiber/fiber/v3"
)

// hook takes what the payment service tells of a charge by itself.
func (d *Desk) hook(c fiber.Ctx) error {
	if d.Ports.Payments == nil {
		return problem(c, fiber.StatusNotFound, "No payment service is connected here.")
	}
	head := http.Header{}
	for name, value := range c.Request().Header.All() {
		head.Add(string(name), string(value))
	}
	answer, err := d.Ports.Payments.Told(head, c.Body())
	if errors.Is(err, ports.ErrForged) {
		return problem(c, fiber.StatusUnauthorized, "The signature does not belong to this message.")
	}
	if err != nil {
		return problem(c, fiber.StatusBadRequest, err.Error())
	}
	if err := d.Selling.Settle(c, answer); err != nil {
		d.Log.Warn("what the payment service told could not be acted on", "error", err)
		return problem(c, fiber.StatusConflict, "The news does not fit what is known; send it again later.")
	}
	return c.SendStatus(fiber.StatusNoContent)
}

// problem answers with a problem document (RFC 9457).
func problem(c fiber.Ctx, status int, detail string) error {
	return c.Status(status).JSON(map[string]any{"status": status, "title": "Refused", "detail": detail}, "application/problem+json")
}
