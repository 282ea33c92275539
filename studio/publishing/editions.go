package publishing

import (
	"fmt"
	"strings"
	"time"

	"chrysagon/app/publishing"
	"chrysagon/core/deadline"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// plan publishes from one moment until another.
func (place *Place) plan(c fiber.Ctx) error {
	shop, err := place.Store.Shop(c)
	if err != nil {
		return err
	}
	p := publish.Plan{Back: frame.Typed(c, "after") == "back"}
	for name, at := range map[string]*time.Time{"from": &p.From, "until": &p.Until} {
		text := frame.Typed(c, name)
		if text == "" {
			continue
		}
		if *at, err = deadline.Resolve(deadline.Entered(text), shop.Zone); err != nil {
			return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Write the moment as a day and a time, such as 27 November 2026, 23:59."}
		}
	}
	successor := ""
	if after := frame.Typed(c, "after"); !p.Back && strings.HasPrefix(after, "page:") {
		successor = strings.TrimPrefix(after, "page:")
	}
	number, err := place.Publishing.PlanEdition(c, frame.AtHand(c), frame.Who(c).User.Name, p, successor)
	if err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	said := fmt.Sprintf("Edition %d is live.", number)
	if !p.From.IsZero() {
		said = fmt.Sprintf("Edition %d goes live on %s.", number, deadline.Written(p.From, shop.Zone))
	}
	return place.panel(c, said)
}

func (place *Place) unplan(c fiber.Ctx) error {
	if err := place.Publishing.Unplan(c, frame.AtHand(c), strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return place.panel(c, "That is not planned any more.")
}

func (place *Place) withdraw(c fiber.Ctx) error {
	if err := place.Publishing.Withdraw(c, frame.AtHand(c), strings.TrimPrefix(frame.Typed(c, "after"), "page:")); err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	return place.panel(c, "The pages are taken down. The draft and all editions stay; putting one back is one press.")
}

func (place *Place) openOn(c fiber.Ctx) error {
	if err := place.Publishing.OpenOn(c, frame.Typed(c, "home")); err != nil {
		return err
	}
	return place.panel(c, "The shop’s first page is chosen.")
}

// side is one of two states of a campaign's pages that are compared.
type side struct {
	ID    string // of the edition; empty: the draft
	Label string
	Pages []publishing.EditionPage
}

func (sd side) page(id string) (publishing.EditionPage, bool) {
	for _, p := range sd.Pages {
		if p.ID == id {
			return p, true
		}
	}
	return publishing.EditionPage{}, false
}

// Proof is the address of a page's proof on that side.
func (sd side) Proof(page string) string {
	if sd.ID == "" {
		return "/pages/" + page + "/proof"
	}
	return "/editions/" + sd.ID + "/pages/" + page
}

// compared is one page on both sides.
type compared struct {
	ID, Name string
	Was, Is  bool // which of the sides have it
	Bands    []manuscript.Difference
	Edits    []manuscript.Edit
}

// compareEditions shows a page as it was in an edition beside its draft, or
// beside another edition.
func (place *Place) compareEditions(c fiber.Ctx) error {
	left, err := place.editionSide(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	state, err := place.Publishing.State(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	right := side{Label: "Draft"}
	for _, d := range state.Drafts {
		right.Pages = append(right.Pages, publishing.EditionPage{ID: d.ID, Name: d.Name, Manuscript: d.Tree})
	}
	if with := strings.Clone(c.Query("with")); with != "" {
		if right, err = place.editionSide(c, with); err != nil {
			return err
		}
	}
	rows := place.comparePages(left, right)
	if len(rows) == 0 {
		return refusal.Refusal{Kind: refusal.ErrNotFound, Say: "Neither has a page to compare."}
	}
	now := rows[0]
	for _, r := range rows {
		if r.ID == c.Query("page") {
			now = r
		}
	}
	return place.Show(c, "compare", "Pages", map[string]any{"Title": left.Label + " and " + right.Label, "Left": left, "Right": right, "Rows": rows, "Now": now, "Editions": state.Editions})
}

func (place *Place) editionSide(c fiber.Ctx, id string) (side, error) {
	e, err := place.Publishing.EditionOf(c, frame.AtHand(c), id)
	if err != nil {
		return side{}, err
	}
	return side{ID: e.ID, Label: fmt.Sprintf("Edition %d", e.Number), Pages: e.Pages}, nil
}

// comparePages lists the pages of both sides, those of the right one first.
func (place *Place) comparePages(left, right side) []compared {
	var rows []compared
	for _, p := range right.Pages {
		r := compared{ID: p.ID, Name: p.Name, Is: true}
		if old, was := left.page(p.ID); was {
			r.Was = true
			r.Bands, r.Edits = manuscript.Differences(old.Manuscript, p.Manuscript), place.Render.Registry.Schema().Edits(old.Manuscript, p.Manuscript)
		}
		rows = append(rows, r)
	}
	for _, p := range left.Pages {
		if _, is := right.page(p.ID); !is {
			rows = append(rows, compared{ID: p.ID, Name: p.Name, Was: true})
		}
	}
	return rows
}

// editionProof draws a page of an edition as of now.
func (place *Place) editionProof(c fiber.Ctx) error {
	e, err := place.Publishing.EditionOf(c, frame.AtHand(c), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	p, ok := e.Page(strings.Clone(c.Params("page")))
	if !ok {
		return refusal.Refusal{Kind: refusal.ErrNotFound, Say: "This edition has no such page."}
	}
	draft, err := place.Drafts.Draft(c, p.ID)
	if err != nil {
		return err
	}
	draft.Tree, draft.Layout, draft.Title, draft.Description = p.Manuscript, p.Layout, p.Title, p.Description
	d, err := place.Proof.Draw(c, draft, place.Store.Now())
	if err != nil {
		return err
	}
	d.Input.Composition = e.Composition
	return place.Proof.Send(c, d)
}
