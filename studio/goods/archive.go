package goods

import (
	"strings"

	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// archive takes variants of a product out of the shop, or brings them back.
func (place *Place) archive(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := place.Goods.Archive(c, frame.AllTyped(c, "variant"), frame.Typed(c, "back") != ""); err != nil {
		return err
	}
	return frame.LeadTo(c, "/goods/"+id)
}

// copyGoods makes a product like this one.
func (place *Place) copyGoods(c fiber.Ctx) error {
	id, err := place.Goods.Copy(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	return frame.LeadTo(c, "/goods/"+id)
}
