package publishing

import (
	"fmt"
	"strings"

	"chrysagon/app/publishing"
	"chrysagon/core/purpose"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

func (place *Place) publishPanel(c fiber.Ctx) error { return place.panel(c, "") }

func (place *Place) panel(c fiber.Ctx, said string) error {
	state, err := place.Publishing.State(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	shop, err := place.Store.Shop(c)
	if err != nil {
		return err
	}
	pages, err := place.Publishing.LivePages(c)
	if err != nil {
		return err
	}
	home := ""
	if shop.HomePageID != nil {
		home = *shop.HomePageID
	}
	address := ""
	if state.Live != nil {
		address = state.Live.Entrance()
	}
	stands, standing, err := place.stands(c, state)
	if err != nil {
		return err
	}
	values := map[string]any{
		"Stands": stands, "Standing": standing,
		"Title": "Publish", "State": state, "Said": said, "Shop": place.Origins.Shop, "Address": address, "Zone": shop.Zone, "Pages": pages, "Home": home,
	}
	if c.Get("HX-Request") == "" && c.Method() == fiber.MethodGet { // opened by its address
		return place.Show(c, "publish-page", "Publish", values)
	}
	return place.Send(c, fiber.StatusOK, "publish-panel", values)
}

func (place *Place) publish(c fiber.Ctx) error {
	number, err := place.Publishing.Publish(c, frame.AtHand(c), frame.Who(c).User.Name)
	if err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	return place.panel(c, fmt.Sprintf("Edition %d is live.", number))
}

func (place *Place) putBack(c fiber.Ctx) error {
	number, err := place.Publishing.PutBack(c, frame.AtHand(c), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	return place.panel(c, fmt.Sprintf("Edition %d is live again. Your draft stays as it is.", number))
}

// stands is for how many goods a page of a product stands that is about to change, and
// which page it is; 0: none is.
func (place *Place) stands(c fiber.Ctx, state publishing.State) (n int, page string, err error) {
	for _, change := range state.Changes {
		for _, d := range state.Drafts {
			if d.Purpose == purpose.Product && d.Name == change.Page {
				n, err := place.Publishing.Goods(c)
				return n, d.ID, err
			}
		}
	}
	return 0, "", nil
}
