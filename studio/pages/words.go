package pages

import (
	"chrysagon/app/desk"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// findWords shows where words stand on the pages, and what would become of them.
// within is where the form of words looks for them.
func within(c fiber.Ctx) desk.Within {
	switch page := frame.Typed(c, "page"); page {
	case "everywhere":
		return desk.Within{}
	case "":
		return desk.Within{CampaignID: frame.AtHand(c)}
	default:
		return desk.Within{PageID: page}
	}
}

func (place *Place) findWords(c fiber.Ctx) error {
	find, with := frame.Typed(c, "find"), frame.Typed(c, "with")
	found, err := place.Desk.FindCopy(c, within(c), find, with)
	if err != nil {
		return err
	}
	return place.Send(c, fiber.StatusOK, "words-found", map[string]any{"Found": found, "Find": find, "With": with, "Done": false})
}

func (place *Place) replaceWords(c fiber.Ctx) error {
	find, with := frame.Typed(c, "find"), frame.Typed(c, "with")
	found, err := place.Desk.ReplaceCopy(c, frame.Who(c).User.ID, within(c), find, with)
	if err != nil {
		return err
	}
	return place.Send(c, fiber.StatusOK, "words-found", map[string]any{"Found": found, "Find": find, "With": with, "Done": true})
}
