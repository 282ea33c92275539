package studio

import (
	"fmt"
	"strings"
	"time"

	"chrysagon/app"
	"chrysagon/core/deadline"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"

	"github.com/gofiber/fiber/v3"
)

// plan publishes from one moment until another.
func (s *Studio) plan(c fiber.Ctx) error {
	shop, err := s.App.Shop(c)
	if err != nil {
		return err
	}
	p := publish.Plan{Back: typed(c, "after") == "back"}
	for name, at := range map[string]*time.Time{"from": &p.From, "until": &p.Until} {
		text := typed(c, name)
		if text == "" {
			continue
		}
		if *at, err = deadline.Resolve(text, shop.Zone); err != nil {
			return app.Refusal{Kind: app.ErrInvalid, Say: "Write the moment as a day and a time, such as 27 November 2026, 23:59."}
		}
	}
	successor := ""
	if after := typed(c, "after"); !p.Back && strings.HasPrefix(after, "page:") {
		successor = strings.TrimPrefix(after, "page:")
	}
	number, err := s.App.PlanEdition(c, atHand(c), who(c).User.Name, p, successor)
	if err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	said := fmt.Sprintf("Edition %d is live.", number)
	if !p.From.IsZero() {
		said = fmt.Sprintf("Edition %d goes live on %s.", number, deadline.Written(p.From, shop.Zone))
	}
	return s.panel(c, said)
}

func (s *Studio) unplan(c fiber.Ctx) error {
	if err := s.App.Unplan(c, atHand(c), strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return s.panel(c, "That is not planned any more.")
}

func (s *Studio) withdraw(c fiber.Ctx) error {
	if err := s.App.Withdraw(c, atHand(c), strings.TrimPrefix(typed(c, "after"), "page:")); err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	return s.panel(c, "The pages are taken down. The draft and all editions stay; putting one back is one press.")
}

func (s *Studio) openOn(c fiber.Ctx) error {
	if err := s.App.OpenOn(c, typed(c, "home")); err != nil {
		return err
	}
	return s.panel(c, "The shop’s first page is chosen.")
}

// compareEditions shows a page as it was in an edition beside its draft.
func (s *Studio) compareEditions(c fiber.Ctx) error {
	e, err := s.App.EditionOf(c, atHand(c), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	state, err := s.App.Changes(c, atHand(c))
	if err != nil {
		return err
	}
	type row struct {
		app.Draft
		Was   bool // the edition has it
		Bands []manuscript.Difference
		Edits []manuscript.Edit
	}
	var rows []row
	chosen := 0
	for i, d := range state.Drafts {
		r := row{Draft: d}
		old, was := e.Page(d.ID)
		if r.Was = was; was {
			r.Bands = manuscript.Differences(old.Manuscript, d.Tree)
			r.Edits = s.App.Render.Registry.Schema().Edits(old.Manuscript, d.Tree)
		}
		if rows = append(rows, r); d.ID == c.Query("page") {
			chosen = i
		}
	}
	if len(rows) == 0 {
		return app.Refusal{Kind: app.ErrNotFound, Say: "This campaign has no pages to compare."}
	}
	return s.place(c, "compare", "Pages", map[string]any{"Title": "Edition " + fmt.Sprint(e.Number) + " and the draft", "Edition": e, "Rows": rows, "Now": rows[chosen]})
}

// editionProof draws a page of an edition as of now.
func (s *Studio) editionProof(c fiber.Ctx) error {
	e, err := s.App.EditionOf(c, atHand(c), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	p, ok := e.Page(strings.Clone(c.Params("page")))
	if !ok {
		return app.Refusal{Kind: app.ErrNotFound, Say: "This edition has no such page."}
	}
	draft, err := s.App.Draft(c, p.ID)
	if err != nil {
		return err
	}
	draft.Tree, draft.Layout, draft.Title, draft.Description = p.Manuscript, p.Layout, p.Title, p.Description
	d, err := s.draw(c, draft, s.App.Now())
	if err != nil {
		return err
	}
	return s.sendProof(c, d.input)
}
