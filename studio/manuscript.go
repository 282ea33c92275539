package studio

import (
	"cmp"
	"encoding/json"
	"slices"
	"strconv"
	"strings"
	"time"

	"chrysagon/app"
	"chrysagon/core/check"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/all"

	"github.com/gofiber/fiber/v3"
)

func sortMarks(marks []mark) {
	slices.SortFunc(marks, func(a, b mark) int { return cmp.Compare(a.At, b.At) })
}

// asOf is the moment asked for, or now.
func (s *Studio) asOf(c fiber.Ctx) time.Time {
	if n, err := strconv.ParseInt(c.Query("as_of"), 10, 64); err == nil && n > 0 && n < 1<<33 {
		return time.Unix(n, 0).UTC()
	}
	return s.App.Now()
}

type pageCard struct {
	app.Draft
	Findings []check.Finding
	Change   *app.PageChange
	Live     string // address that is live; empty: none
}

// AfterPay tells whether the page belongs to an order, so that only its buyer sees it.
func (p pageCard) AfterPay() bool {
	step := purpose.Of(p.Purpose).Step
	return step != "" && step != route.Sales
}

// pagesPlace opens on the funnel's pages and what each needs next.
func (s *Studio) pagesPlace(c fiber.Ctx) error {
	state, err := s.App.State(c, atHand(c))
	if err != nil {
		return err
	}
	leads, err := s.App.LeadCounts(c, atHand(c))
	if err != nil {
		return err
	}
	cards := make([]pageCard, len(state.Drafts))
	for i, d := range state.Drafts {
		cards[i] = pageCard{Draft: d, Findings: state.Findings[d.ID]}
		for _, ch := range state.Changes {
			if ch.Page == d.Name {
				cards[i].Change = &ch
			}
		}
		if state.Live != nil {
			if p, ok := state.Live.Page(d.ID); ok {
				cards[i].Live = p.Address
			}
		}
	}
	return s.place(c, "pages", "Pages", map[string]any{"Title": "Pages", "Cards": cards, "State": state, "Leads": leads})
}

func (s *Studio) manuscript(c fiber.Ctx) error {
	draft, err := s.App.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	now := s.App.Now()
	d, err := s.draw(c, draft, now)
	if err != nil {
		return err
	}
	sh, err := s.sheet(c, d)
	if err != nil {
		return err
	}
	g, err := s.gauges(c, d, sh)
	if err != nil {
		return err
	}
	parts, err := s.parts(d)
	if err != nil {
		return err
	}
	tr := s.track(d, now)
	marks, err := json.Marshal(tr.Marks)
	if err != nil {
		return err
	}
	return s.place(c, "manuscript", "Pages", map[string]any{
		"Title": draft.Name, "Sheet": sh, "Gauges": g, "Parts": parts, "Track": tr, "Marks": string(marks), "Findings": g.Findings,
	})
}

// change is what the sheet's script sends: a command, or undo or redo.
type change struct {
	Command     *manuscript.Command `json:"command"`
	Arrangement string              `json:"arrangement"` // with Command add_band: the band to make
	Line        string              `json:"line"`        // with Command add_band: the line of a plan that becomes it
	Piece       string              `json:"piece"`       // with Command add_piece: the kind of piece to make
	Dressing    *app.Dressing       `json:"dressing"`    // a whole look for one thing, or for all alike
	Joins       bool                `json:"joins"`
	Undo        bool                `json:"undo"`
	Redo        bool                `json:"redo"`
	Revision    int64               `json:"revision"` // on which the sheet stands
}

// changed is what the script is told.
type changed struct {
	Revision int64      `json:"revision"`
	Sheet    string     `json:"sheet,omitempty"` // whole, when more than the typed words changed
	Telling  []told     `json:"telling"`         // one line a piece, to be renewed in place
	Gauges   string     `json:"gauges"`
	Live     string     `json:"live"`
	Proof    proofParts `json:"proof"`
	Added    string     `json:"added,omitempty"` // ID of a new band or piece
	Taken    any        `json:"taken,omitempty"` // the value of a field as it is kept, where it was typed otherwise
}

type told struct {
	Piece string `json:"piece"`
	HTML  string `json:"html"`
}

func (s *Studio) command(c fiber.Ctx) error {
	var ch change
	if err := json.Unmarshal(c.Body(), &ch); err != nil {
		return fiber.ErrBadRequest
	}
	id, user := c.Params("id"), who(c).User.ID
	var draft app.Draft
	var err error
	added := ""
	switch {
	case ch.Undo:
		draft, err = s.App.Undo(c, id)
	case ch.Redo:
		draft, err = s.App.Redo(c, id)
	case ch.Dressing != nil:
		draft, err = s.App.Wear(c, user, id, *ch.Dressing)
	case ch.Command == nil:
		return fiber.ErrBadRequest
	default:
		if ch.Line != "" {
			band := all.Planned(ch.Line, s.App.Render.Registry.Schema(), app.NewID)
			ch.Command.Band, added = &band, band.ID
		}
		if ch.Piece != "" {
			if ch.Command.New, err = s.newPiece(ch.Piece); err != nil {
				return err
			}
		}
		if ch.Arrangement != "" {
			if ch.Command.Band, err = s.arranged(ch.Arrangement); err != nil {
				return err
			}
			added = ch.Command.Band.ID
		}
		draft, err = s.App.Edit(c, user, id, *ch.Command, ch.Joins)
	}
	if err != nil {
		return err
	}
	// Typed words stand in the sheet already. Anything else, and anybody
	// else's change in between, needs the sheet anew.
	whole := ch.Undo || ch.Redo || ch.Command == nil || ch.Command.Op != manuscript.SetField || !isText(ch.Command.Value) || draft.Revision != ch.Revision+1
	answer, err := s.changed(c, draft, whole)
	if err != nil {
		return err
	}
	if c := ch.Command; c != nil && c.Op == manuscript.SetField {
		if p, ok := draft.Tree.Piece(c.Piece); ok {
			answer.Taken = p.Fields[c.Field]
		}
	}
	if answer.Added = added; ch.Command != nil && ch.Command.New != nil {
		answer.Added = ch.Command.New.ID
	}
	return c.JSON(answer)
}

func isText(value any) bool { _, ok := value.(string); return ok }

func (s *Studio) arranged(name string) (*manuscript.Band, error) {
	for _, a := range all.Arrangements() {
		if a.Name == name {
			band := a.Band(s.App.Render.Registry.Schema(), app.NewID)
			return &band, nil
		}
	}
	return nil, fiber.ErrBadRequest
}

func (s *Studio) changed(c fiber.Ctx, draft app.Draft, whole bool) (changed, error) {
	d, err := s.draw(c, draft, s.asOf(c))
	if err != nil {
		return changed{}, err
	}
	sh, err := s.sheet(c, d)
	if err != nil {
		return changed{}, err
	}
	answer := changed{Revision: draft.Revision, Telling: []told{}}
	if whole {
		if answer.Sheet, err = s.html("sheet", sh); err != nil {
			return answer, err
		}
	}
	for _, b := range sh.Bands {
		for _, p := range b.Pieces {
			if p.Telling != nil {
				html, err := s.html("telling", p.Telling)
				if err != nil {
					return answer, err
				}
				answer.Telling = append(answer.Telling, told{Piece: p.ID, HTML: html})
			}
		}
	}
	g, err := s.gauges(c, d, sh)
	if err != nil {
		return answer, err
	}
	if answer.Gauges, err = s.html("gauges", g); err != nil {
		return answer, err
	}
	if answer.Live, err = s.liveHTML(c); err != nil {
		return answer, err
	}
	answer.Proof, err = s.parts(d)
	return answer, err
}

func (s *Studio) liveHTML(c fiber.Ctx) (string, error) {
	state, err := s.App.Changes(c, atHand(c))
	if err != nil {
		return "", err
	}
	return s.html("live", map[string]any{"State": state, "Shop": s.App.Origins.Shop})
}

func (s *Studio) livePart(c fiber.Ctx) error {
	html, err := s.liveHTML(c)
	if err != nil {
		return err
	}
	return c.Type("html", "utf-8").SendString(html)
}

// proof is a page drawn for the studio: nothing in it runs or is sent.
func (s *Studio) proof(c fiber.Ctx) error {
	d, err := s.asked(c)
	if err != nil {
		return err
	}
	return s.sendProof(c, d.input)
}

// asked draws the page of the request as of the moment it asks for.
func (s *Studio) asked(c fiber.Ctx) (draw, error) {
	draft, err := s.App.Draft(c, c.Params("id"))
	if err != nil {
		return draw{}, err
	}
	return s.draw(c, draft, s.asOf(c))
}

func (s *Studio) proofParts(c fiber.Ctx) error {
	d, err := s.asked(c)
	if err != nil {
		return err
	}
	parts, err := s.parts(d)
	if err != nil {
		return err
	}
	return c.JSON(parts)
}

// slip is the small panel with the settings of a piece, made from what its
// kind declares.
func (s *Studio) slip(c fiber.Ctx) error {
	draft, err := s.App.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	p, ok := draft.Tree.Piece(c.Params("piece"))
	if !ok {
		return app.Refusal{Kind: app.ErrNotFound, Say: "This piece is no longer on the page. Load the page again."}
	}
	shelf, err := s.App.Choices(c, p.Fields.Text("product"), p.Fields.Text("bump"))
	if err != nil {
		return err
	}
	kind, _ := s.App.Render.Registry.Kind(p.Kind)
	values := map[string]any{"Piece": p, "PageID": draft.ID, "Shelf": shelf, "Title": kind.Title}
	var fields []slipField
	for _, f := range kind.Fields {
		if f.Written() || f.Type == manuscript.List {
			continue
		}
		fields = append(fields, slipField{Field: f, Value: pieces.Or(p.Fields.Text(f.Name), f.Default), Choices: choices(f, shelf, draft)})
		if f.Type == manuscript.Deadline {
			values["Deadline"] = shared(p.Fields.Text(f.Name), shelf, s.App.Now())
		}
	}
	values["Fields"] = fields
	if values["Look"], err = s.lookSlip(c, draft, p.ID); err != nil {
		return err
	}
	if product := p.Fields.Text("product"); product != "" {
		values["Offers"] = offersOn(product, shelf, s.App.Now())
		values["ProductName"] = shelf.ProductName(product)
	}
	return s.render(c, fiber.StatusOK, "slip", values)
}

type slipField struct {
	manuscript.Field
	Value   string
	Choices []manuscript.Option
}

func choices(f manuscript.Field, shelf app.Choices, draft app.Draft) []manuscript.Option {
	none := []manuscript.Option{{Value: "", Label: "nothing yet"}}
	switch f.Type {
	case manuscript.Choice:
		return f.Options
	case manuscript.Product:
		for _, p := range shelf.Products {
			none = append(none, manuscript.Option{Value: p.ID, Label: p.Name + ", " + p.Price.String()})
		}
	case manuscript.Deadline:
		for _, d := range shelf.Deadlines {
			none = append(none, manuscript.Option{Value: d.ID, Label: d.Name})
		}
	case manuscript.Picture:
		for _, p := range shelf.Pictures {
			none = append(none, manuscript.Option{Value: p.ID, Label: p.Name})
		}
	case manuscript.Shelf:
		for _, h := range shelf.Shelves {
			none = append(none, manuscript.Option{Value: h.ID, Label: h.Name})
		}
	case manuscript.Link:
		return slipTargets(shelf, draft)
	case manuscript.Line, manuscript.Prose, manuscript.Rich, manuscript.List, manuscript.Group:
	}
	return none
}

// targets lists where a link of a page can lead: to its bands, to these pages,
// and by call or mail where those have a name.
func targets(bands []manuscript.Band, pages []manuscript.Option, call, mail string) []manuscript.Option {
	out := []manuscript.Option{{Value: "checkout", Label: "the checkout on this page"}, {Value: "home", Label: "the shop’s first page"}}
	for _, b := range bands {
		out = append(out, manuscript.Option{Value: "band:" + b.ID, Label: "band: " + b.Name})
	}
	for _, p := range pages {
		out = append(out, manuscript.Option{Value: "page:" + p.Value, Label: "page: " + p.Label})
	}
	if call != "" {
		out = append(out, manuscript.Option{Value: "tel:", Label: call})
	}
	if mail != "" {
		out = append(out, manuscript.Option{Value: "mailto:", Label: mail})
	}
	return out
}

// slipTargets are those that a slip offers, with the pages of all campaigns.
func slipTargets(shelf app.Choices, draft app.Draft) []manuscript.Option {
	var pages []manuscript.Option
	for _, p := range shelf.Pages {
		if p.ID != draft.ID {
			pages = append(pages, manuscript.Option{Value: p.ID, Label: p.Name + ", " + p.Campaign})
		}
	}
	named := func(what, value string) string {
		if value == "" {
			return ""
		}
		return what + value
	}
	return append([]manuscript.Option{{Value: "", Label: "nowhere yet, or typed"}},
		targets(draft.Tree.Bands, pages, named("a call to ", shelf.Store.Phone), named("a mail to ", shelf.Store.ContactEmail))...)
}

// Typed is where a link leads, when that is none of the choices.
func (f slipField) Typed() string {
	if f.Type != manuscript.Link || slices.ContainsFunc(f.Choices, func(o manuscript.Option) bool { return o.Value == f.Value }) {
		return ""
	}
	return f.Value
}

// history lists who changed a page, when and how.
func (s *Studio) history(c fiber.Ctx) error {
	draft, err := s.App.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	list, err := s.App.History(c, draft)
	if err != nil {
		return err
	}
	shop, err := s.App.Shop(c)
	if err != nil {
		return err
	}
	return s.fragment(c, "history", map[string]any{"List": list, "Zone": shop.Zone})
}

// targetList is what a link within copy can lead to.
func (s *Studio) targetList(c fiber.Ctx) error {
	draft, err := s.App.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	shelf, err := s.App.Choices(c)
	if err != nil {
		return err
	}
	return c.JSON(slipTargets(shelf, draft))
}

// rename changes what a page is called and where it is found.
func (s *Studio) rename(c fiber.Ctx) error {
	field := func(name string) string { return typed(c, name) }
	name, address, title, description := field("name"), strings.ToLower(field("address")), field("title"), field("description")
	faults, err := s.App.Rename(c, c.Params("id"), publish.Naming{Name: name, Address: address, Title: title, Description: description})
	if err != nil {
		return err
	}
	values := map[string]any{"ID": strings.Clone(c.Params("id")), "Name": name, "Address": address, "PageTitle": title, "Description": description, "Faults": faults, "Saved": len(faults) == 0}
	if len(faults) == 0 {
		c.Set("HX-Trigger", "page-named")
	}
	return s.render(c, fiber.StatusOK, "name-form", values)
}
