package pages

import (
	"chrysagon/core/pack"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// packPage hands a page out as a package.
func (place *Place) packPage(c fiber.Ctx) error {
	p, raw, err := place.Pages.Pack(c, c.Params("id"))
	if err != nil {
		return err
	}
	return frame.SendFile(c, p.Page.Address+".zip", "application/zip", raw)
}

// takePackage makes a page of a package.
func (place *Place) takePackage(c fiber.Ctx) error {
	header, err := c.FormFile("package")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose the zip file of a page package first."}
	}
	raw, err := frame.ReadPart(header, pack.MaxFile)
	if err != nil {
		return err
	}
	d, notes, err := place.Pages.TakePackage(c, frame.AtHand(c), raw)
	if err != nil {
		return err
	}
	if len(notes) == 0 {
		return frame.LeadTo(c, "/pages/"+d.ID)
	}
	return place.Fragment(c, "package-notes", map[string]any{"Page": d, "Notes": notes})
}
