package desk

import (
	"encoding/json"

	"chrysagon/core/manuscript"
	"chrysagon/core/target"
	"chrysagon/studio/frame"
	"chrysagon/studio/proof"

	"github.com/gofiber/fiber/v3"
)

func (place *Place) manuscript(c fiber.Ctx) error {
	draft, err := place.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	place.Take(c, draft.CampaignID)
	now := place.Store.Now()
	d, err := place.Proof.Draw(c, draft, now)
	if err != nil {
		return err
	}
	sh, err := place.sheet(c, d)
	if err != nil {
		return err
	}
	g, err := place.gauges(c, d, sh)
	if err != nil {
		return err
	}
	parts, err := place.parts(d, known{})
	if err != nil {
		return err
	}
	tr := place.track(d, now)
	marks, err := json.Marshal(tr.Marks)
	if err != nil {
		return err
	}
	shop, err := place.Store.Shop(c)
	if err != nil {
		return err
	}
	tab := "Pages"
	if d.Mails() {
		tab = "Audience"
	}
	return place.Show(c, "manuscript", tab, map[string]any{
		"Visitors": proof.Visitors(d.Input.Facts, shop.Countries),
		"Title":    draft.Name, "Sheet": sh, "Gauges": g, "Parts": parts, "Track": tr, "Marks": string(marks), "Findings": g.Findings,
	})
}

// sheetPart answers with a page as it stands, for a sheet that is behind.
func (place *Place) sheetPart(c fiber.Ctx) error {
	draft, err := place.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	answer, err := place.changed(c, draft, true, known{})
	if err != nil {
		return err
	}
	return c.JSON(answer)
}

func (place *Place) gauged(c fiber.Ctx, d proof.Draw, sh sheet) (*gauged, error) {
	g, err := place.gauges(c, d, sh)
	if err != nil {
		return nil, err
	}
	var out gauged
	if out.Gauges, err = place.HTML("gauges", g); err != nil {
		return nil, err
	}
	out.Live, err = place.liveHTML(c)
	return &out, err
}

// gaugesPart answers with the gauges of a page as it stands.
func (place *Place) gaugesPart(c fiber.Ctx) error {
	d, err := place.Proof.Asked(c)
	if err != nil {
		return err
	}
	sh, err := place.sheet(c, d)
	if err != nil {
		return err
	}
	g, err := place.gauged(c, d, sh)
	if err != nil {
		return err
	}
	return c.JSON(g)
}

func (place *Place) liveHTML(c fiber.Ctx) (string, error) {
	state, err := place.Publishing.Changes(c, frame.AtHand(c))
	if err != nil {
		return "", err
	}
	return place.HTML("live", map[string]any{"State": state, "Shop": place.Origins.Shop})
}

func (place *Place) livePart(c fiber.Ctx) error {
	html, err := place.liveHTML(c)
	if err != nil {
		return err
	}
	return c.Type("html", "utf-8").SendString(html)
}

// Typed is where a link leads that was typed.
func (f slipField) Typed() string {
	if to, err := target.Parse(f.Value); err == nil && f.Type == manuscript.Link && to.Typed() {
		return f.Value
	}
	return ""
}

// history lists who changed a page, when and how.
func (place *Place) history(c fiber.Ctx) error {
	draft, err := place.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	list, err := place.Desk.History(c, draft)
	if err != nil {
		return err
	}
	shop, err := place.Store.Shop(c)
	if err != nil {
		return err
	}
	return place.Fragment(c, "history", map[string]any{"List": list, "Zone": shop.Zone})
}
