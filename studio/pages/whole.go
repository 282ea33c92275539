package pages

import (
	"strings"

	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

func (place *Place) copyPage(c fiber.Ctx) error {
	d, err := place.Pages.CopyPage(c, c.Params("id"))
	if err != nil {
		return err
	}
	return frame.LeadTo(c, "/pages/"+d.ID)
}

func (place *Place) keepTemplate(c fiber.Ctx) error {
	t, err := place.Pages.KeepTemplate(c, c.Params("id"))
	if err != nil {
		return err
	}
	return place.Send(c, fiber.StatusOK, "said", map[string]any{"Say": "Kept as the template “" + t.Name + "”. New pages can begin from it."})
}

// dressPage changes what a page is for and its frame.
func (place *Place) dressPage(c fiber.Ctx) error {
	if err := place.Pages.Dress(c, c.Params("id"), frame.Typed(c, "purpose"), frame.Typed(c, "layout")); err != nil {
		return err
	}
	return frame.LoadAgain(c)
}

// retakePage gives a page another template's bands.
func (place *Place) retakePage(c fiber.Ctx) error {
	if _, err := place.Pages.Retake(c, frame.Who(c).User.ID, c.Params("id"), frame.Typed(c, "template")); err != nil {
		return err
	}
	return frame.LoadAgain(c)
}

// setAside takes a page out of its campaign; bringBack lets it go out again.
func (place *Place) setAside(c fiber.Ctx) error {
	if err := place.Pages.SetAside(c, strings.Clone(c.Params("id")), frame.Typed(c, "successor")); err != nil {
		return err
	}
	return frame.LeadTo(c, "/pages")
}

func (place *Place) bringBack(c fiber.Ctx) error {
	if err := place.Pages.BringBack(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.LoadAgain(c)
}
