package pages

import (
	"errors"
	"strings"

	"chrysagon/app/drafts"
	"chrysagon/app/pages"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/pieces/all"
	"chrysagon/store"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// templateCard is a template among those a page can begin from.
type templateCard struct {
	Name, Title, What, Purpose, Layout string
	Kept                               bool
}

// templatesFor lists the templates that answer a search: the store's own first.
func (place *Place) templatesFor(c fiber.Ctx, find, part, season, mood string) ([]templateCard, error) {
	kept, err := place.Pages.Templates(c)
	if err != nil {
		return nil, err
	}
	var cards []templateCard
	for _, t := range kept {
		card := all.Template{Title: t.Name, What: "kept " + t.KeptAt.Format("2 January 2006"), Purpose: t.Purpose}
		if card.Finds(find, part, season, mood) {
			cards = append(cards, templateCard{"kept:" + t.ID, t.Name, card.What, t.Purpose, t.Layout, true})
		}
	}
	for _, t := range all.Templates() {
		if t.Finds(find, part, season, mood) {
			cards = append(cards, templateCard{t.Name, t.Title, t.What, t.Purpose, t.Layout, false})
		}
	}
	return cards, nil
}

// newPagePlace is where a page begins: its purpose, name and frame, and the
// templates, each as a real proof.
func (place *Place) newPagePlace(c fiber.Ctx) error {
	in := pages.NewPage{Purpose: strings.Clone(c.Query("purpose")), Layout: "bare", ProductID: strings.Clone(c.Query("product"))}
	if in.ProductID != "" {
		named, err := place.Pages.GoodsNamed(c, in.ProductID)
		if err != nil {
			return err
		}
		in.Name = named
	}
	return place.newPageForm(c, in, nil)
}

func (place *Place) newPageForm(c fiber.Ctx, in pages.NewPage, faults map[string]string) error {
	cards, err := place.templatesFor(c, "", in.Purpose, "", "")
	if err != nil {
		return err
	}
	return place.Show(c, "new-page", "Pages", map[string]any{
		"Title": "A new page", "Form": in, "Faults": faults, "Cards": cards, "Purposes": purpose.Pages(), "Layouts": pages.Layouts, "Seasons": all.Seasons, "Moods": all.Moods,
	})
}

// findTemplates narrows the templates while somebody types.
func (place *Place) findTemplates(c fiber.Ctx) error {
	cards, err := place.templatesFor(c, c.Query("find"), c.Query("purpose"), c.Query("season"), c.Query("mood"))
	if err != nil {
		return err
	}
	return place.Send(c, fiber.StatusOK, "template-cards", map[string]any{"Cards": cards, "Form": pages.NewPage{Template: strings.Clone(c.Query("template"))}})
}

func (place *Place) addPage(c fiber.Ctx) error {
	in := pages.NewPage{
		CampaignID: frame.AtHand(c), Purpose: frame.Typed(c, "purpose"), Name: frame.Typed(c, "name"), Address: strings.ToLower(frame.Typed(c, "address")), Layout: frame.Typed(c, "layout"), Template: frame.Typed(c, "template"),
		ProductID: frame.Typed(c, "product"),
	}
	if in.Purpose == "" {
		in.Purpose = "plain"
		if t, ok := all.TemplateOf(in.Template); ok {
			in.Purpose = t.Purpose
		}
	}
	d, faults, err := place.Pages.AddPage(c, in)
	var refusal refusal.Refusal
	if errors.As(err, &refusal) {
		return place.newPageForm(c, in, map[string]string{"purpose": refusal.Say})
	}
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return place.newPageForm(c, in, faults)
	}
	return frame.SeeOther(c, "/pages/"+d.ID)
}

// templateProof draws a template in the store's own house style, with its own
// goods.
func (place *Place) templateProof(c fiber.Ctx) error {
	name := strings.Clone(c.Params("template"))
	tree, err := place.Pages.Example(c, frame.AtHand(c), name)
	if err != nil {
		return err
	}
	layout, part := "bare", ""
	if t, ok := all.TemplateOf(name); ok {
		layout, part = t.Layout, t.Purpose
	}
	d := drafts.Draft{Page: store.Page{CampaignID: frame.AtHand(c), Purpose: part, Layout: layout, Address: "example", Title: name}, Tree: tree}
	if err := place.Proof.Drafts.Stand(c, &d); err != nil {
		return err
	}
	drawn, err := place.Proof.Draw(c, d, place.Store.Now())
	if err != nil {
		return err
	}
	return place.Proof.SendProof(c, drawn.Input)
}

// proportion writes column widths as the sheet names them.
func proportion(widths []int) string {
	names := map[int]string{1: "one column", 2: "two columns", 3: "three columns", 4: "four columns"}
	parts := make([]string, len(widths))
	same := true
	for i, w := range widths {
		parts[i] = frame.Whole(w)
		same = same && w == widths[0]
	}
	if same {
		return names[len(widths)]
	}
	return names[len(widths)] + ", " + strings.Join(parts, " to ")
}
