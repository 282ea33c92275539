package house

import (
	"chrysagon/app/house"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// addType takes a font file of the store's own to the house.
func (place *Place) addType(c fiber.Ctx) error {
	header, err := c.FormFile("file")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a font file: WOFF2, WOFF, TTF or OTF."}
	}
	raw, err := frame.ReadPart(header, house.MaxTypeBytes+1)
	if err != nil {
		return err
	}
	t, err := place.House.AddType(c, header.Filename, raw, frame.Typed(c, "licence"))
	if err != nil {
		return err
	}
	body, err := place.houseBody(c, "“"+t.Name+"” is here. Set headings or copy in it, or a single piece from its slip.", false)
	if err != nil {
		return err
	}
	return place.Fragment(c, "house-body", body)
}

// samples is the style sheet by which families are chosen by sight.
func (place *Place) samples(c fiber.Ctx) error {
	now, _, err := place.House.House(c)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "text/css; charset=utf-8")
	c.Set("Cache-Control", "private, no-cache")
	return c.SendString(now.Sample(place.Render.Assets.Path))
}
