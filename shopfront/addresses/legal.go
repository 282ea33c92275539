package addresses

import (
	"chrysagon/shopfront/frame"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

func (a *Addresses) legal(title string, text func(store.Shop) string) fiber.Handler {
	return func(c fiber.Ctx) error {
		shop, err := a.Store.Shop(c)
		if err != nil {
			return err
		}
		return a.Plain(c, fiber.StatusOK, map[string]any{"Title": title, "Shop": shop, "Text": text(shop)})
	}
}

// contact is the built-in contact page, unless the store has one of its own.
func (a *Addresses) contact(c fiber.Ctx) error {
	own, err := a.Publishing.LiveFor(c, "contact")
	if err != nil {
		return err
	}
	if own != "" {
		return frame.SeeOther(c, "/"+own)
	}
	shop, err := a.Store.Shop(c)
	if err != nil {
		return err
	}
	return a.Plain(c, fiber.StatusOK, map[string]any{"Title": "Contact", "Shop": shop, "Contact": true})
}
