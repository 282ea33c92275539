package studio

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"time"

	"chrysagon/app/desk"
	"chrysagon/app/drafts"
	"chrysagon/app/offers"
	"chrysagon/app/publishing"
	"chrysagon/core/check"
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/store"

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
	return s.App.Store.Now()
}

type pageCard struct {
	drafts.Draft
	Findings []check.Finding
	Change   *publishing.PageChange
	Live     string // address that is live; empty: none
}

// AfterPay tells whether the page belongs to an order, so that only its buyer sees it.
func (p pageCard) AfterPay() bool {
	step := purpose.Of(p.Purpose).Step
	return step != "" && step != route.Sales
}

// pagesPlace opens on the funnel's pages and what each needs next.
func (s *Studio) pagesPlace(c fiber.Ctx) error {
	state, err := s.App.Publishing.State(c, atHand(c))
	if err != nil {
		return err
	}
	leads, err := s.App.People.LeadCounts(c, atHand(c))
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
	aside, err := s.App.Pages.Aside(c, atHand(c))
	if err != nil {
		return err
	}
	first, err := s.App.Accounts.FirstSteps(c)
	if err != nil {
		return err
	}
	return s.place(c, "pages", "Pages", map[string]any{"Title": "Pages", "Cards": cards, "State": state, "Leads": leads, "Aside": aside, "First": first})
}

func (s *Studio) manuscript(c fiber.Ctx) error {
	draft, err := s.App.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	now := s.App.Store.Now()
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
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	return s.place(c, "manuscript", "Pages", map[string]any{
		"Visitors": visitors(d.input.Facts, shop.Countries),
		"Title":    draft.Name, "Sheet": sh, "Gauges": g, "Parts": parts, "Track": tr, "Marks": string(marks), "Findings": g.Findings,
	})
}

// change is what the sheet's script sends: a command, or undo or redo.
type change struct {
	Command     *manuscript.Command `json:"command"`
	Arrangement string              `json:"arrangement"` // with Command add_band: the band to make
	Line        string              `json:"line"`        // with Command add_band: the line of a plan that becomes it
	Piece       string              `json:"piece"`       // with Command add_piece: the kind of piece to make
	Dressing    *desk.Dressing      `json:"dressing"`    // a whole look for one thing, or for all alike
	Joins       bool                `json:"joins"`
	Undo        bool                `json:"undo"`
	Redo        bool                `json:"redo"`
	Revision    int64               `json:"revision"` // on which the sheet stands
}

// changed is what the script is told.
type changed struct {
	Revision int64  `json:"revision"`
	Sheet    string `json:"sheet,omitempty"` // whole, when more than the typed words changed
	Telling  []told `json:"telling"`         // one line a piece, to be renewed in place
	*gauged
	Proof  proofParts `json:"proof"`
	Added  string     `json:"added,omitempty"`  // ID of a new band or piece
	Taken  any        `json:"taken,omitempty"`  // the value of a field as it is kept
	Merged bool       `json:"merged,omitempty"` // with what others wrote in it
}

// gauged is what is told of the page as a whole. While words are typed, it is
// asked for once the hand rests.
type gauged struct {
	Gauges string `json:"gauges"`
	Live   string `json:"live"`
}

type told struct {
	Piece string `json:"piece"`
	HTML  string `json:"html"`
}

func (s *Studio) command(c fiber.Ctx) error {
	var ch change
	if err := json.Unmarshal(c.Body(), &ch); err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "This change cannot be read: "+jsonFault(err, len(c.Body()))+". Nothing was changed.")
	}
	id, user := c.Params("id"), who(c).User.ID
	var draft drafts.Draft
	var err error
	added := ""
	switch {
	case ch.Undo:
		draft, err = s.App.Desk.Undo(c, user, id)
	case ch.Redo:
		draft, err = s.App.Desk.Redo(c, user, id)
	case ch.Dressing != nil:
		draft, err = s.App.Desk.Wear(c, user, id, *ch.Dressing)
	case ch.Command == nil:
		return fiber.NewError(fiber.StatusBadRequest, "This change says nothing to do: a command, undo or redo is missing. Nothing was changed.")
	default:
		if ch.Line != "" {
			band := all.Planned(ch.Line, s.App.Render.Registry.Schema(), store.NewID)
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
		draft, err = s.App.Desk.Edit(c, user, id, *ch.Command, ch.Joins)
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
			f, _ := s.App.Render.Registry.Schema()[p.Kind].Field(c.Field)
			answer.Taken = p.Fields[c.Field]
			answer.Merged = !reflect.DeepEqual(answer.Taken, f.Clean(c.Value))
		}
	}
	if answer.Added = added; ch.Command != nil && ch.Command.New != nil {
		answer.Added = ch.Command.New.ID
	}
	return c.JSON(answer)
}

// jsonFault says where JSON cannot be read.
func jsonFault(err error, length int) string {
	var syntax *json.SyntaxError
	var kind *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax) && syntax.Offset < int64(length):
		return fmt.Sprintf("its JSON is broken at byte %d", syntax.Offset)
	case errors.As(err, &kind):
		return fmt.Sprintf("“%s” is a %s there", kind.Field, kind.Value)
	}
	return "its JSON ends too soon"
}

func isText(value any) bool { _, ok := value.(string); return ok }

func (s *Studio) arranged(name string) (*manuscript.Band, error) {
	for _, a := range all.Arrangements() {
		if a.Name == name {
			band := a.Band(s.App.Render.Registry.Schema(), store.NewID)
			return &band, nil
		}
	}
	return nil, fiber.ErrBadRequest
}

func (s *Studio) changed(c fiber.Ctx, draft drafts.Draft, whole bool) (changed, error) {
	d, err := s.draw(c, draft, s.asOf(c))
	if err != nil {
		return changed{}, err
	}
	answer := changed{Revision: draft.Revision, Telling: []told{}}
	if whole {
		err = s.whole(c, d, &answer)
	} else {
		answer.Telling, err = s.tellings(d)
	}
	if err != nil {
		return answer, err
	}
	answer.Proof, err = s.parts(d)
	return answer, err
}

// whole tells the sheet and what is said of the page as a whole.
func (s *Studio) whole(c fiber.Ctx, d draw, answer *changed) error {
	sh, err := s.sheet(c, d)
	if err != nil {
		return err
	}
	if answer.Sheet, err = s.html("sheet", sh); err != nil {
		return err
	}
	answer.gauged, err = s.gauged(c, d, sh)
	return err
}

// tellings are the lines of the pieces that are summed up in one. While words
// are typed they are all of the sheet that can change.
func (s *Studio) tellings(d draw) ([]told, error) {
	out := []told{}
	var err error
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		telling := s.telling(d, p)
		if telling == nil || err != nil {
			return
		}
		var html string
		html, err = s.html("telling", telling)
		out = append(out, told{Piece: p.ID, HTML: html})
	})
	return out, err
}

// telling is a piece in one line; nil when it is text.
func (s *Studio) telling(d draw, p manuscript.Piece) *pieces.Telling {
	kind, _ := s.App.Render.Registry.Kind(p.Kind)
	if kind.Tell == nil {
		return nil
	}
	t := kind.Tell(d.context, d.follows[p.ID])
	return &t
}

// sheetPart answers with a page as it stands, for a sheet that is behind.
func (s *Studio) sheetPart(c fiber.Ctx) error {
	draft, err := s.App.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	answer, err := s.changed(c, draft, true)
	if err != nil {
		return err
	}
	return c.JSON(answer)
}

func (s *Studio) gauged(c fiber.Ctx, d draw, sh sheet) (*gauged, error) {
	g, err := s.gauges(c, d, sh)
	if err != nil {
		return nil, err
	}
	var out gauged
	if out.Gauges, err = s.html("gauges", g); err != nil {
		return nil, err
	}
	out.Live, err = s.liveHTML(c)
	return &out, err
}

// gaugesPart answers with the gauges of a page as it stands.
func (s *Studio) gaugesPart(c fiber.Ctx) error {
	d, err := s.asked(c)
	if err != nil {
		return err
	}
	sh, err := s.sheet(c, d)
	if err != nil {
		return err
	}
	g, err := s.gauged(c, d, sh)
	if err != nil {
		return err
	}
	return c.JSON(g)
}

func (s *Studio) liveHTML(c fiber.Ctx) (string, error) {
	state, err := s.App.Publishing.Changes(c, atHand(c))
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
	draft, err := s.App.Drafts.Draft(c, c.Params("id"))
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
	draft, err := s.App.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	p, ok := draft.Tree.Piece(c.Params("piece"))
	if !ok {
		return refusal.Refusal{Kind: refusal.ErrNotFound, Say: "This piece is no longer on the page. Load the page again."}
	}
	d, err := s.draw(c, draft, s.App.Store.Now())
	if err != nil {
		return err
	}
	shelf, err := s.App.Offers.Choices(c, p.Fields.Text("product"), p.Fields.Text("bump"))
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
		field := slipField{Field: f, Value: pieces.Or(p.Fields.Text(f.Name), f.Default)}
		if chosenBySearch(f.Type) {
			by := chooserOf(d.context, draft.ID, f, p.Fields.Text(f.Name))
			by.Set = f.Name
			field.Chooser = &by
		} else {
			field.Choices = choices(f, shelf)
		}
		if f.Type == manuscript.Deadline {
			values["DeadlineField"] = f.Name
			if at := shared(p.Fields.Text(f.Name), shelf, s.App.Store.Now()); at != nil {
				values["Deadline"] = at
			}
		}
		if f.Type == manuscript.Shelf {
			values["ShelfField"] = f.Name
		}
		fields = append(fields, field)
	}
	values["Fields"] = fields
	if values["Look"], err = s.lookSlip(c, d, p.ID); err != nil {
		return err
	}
	if product := p.Fields.Text("product"); product != "" {
		values["Offers"] = offersOn(product, shelf, s.App.Store.Now())
		values["Product"], values["ProductName"] = product, shelf.ProductName(product)
	}
	return s.render(c, fiber.StatusOK, "slip", values)
}

type slipField struct {
	manuscript.Field
	Value   string
	Choices []manuscript.Option
	Chooser *chooser
}

// Typed is where a link leads that was typed.
func (f slipField) Typed() string {
	if to, err := manuscript.ParseTarget(f.Value); err == nil && f.Type == manuscript.Link && (to.Kind == manuscript.Outside || (to.Value != "" && (to.Kind == manuscript.ToPhone || to.Kind == manuscript.ToMail))) {
		return f.Value
	}
	return ""
}

// choices are what a field's list holds, where all of it can be shown.
func choices(f manuscript.Field, shelf offers.Choices) []manuscript.Option {
	list := []manuscript.Option{{Value: "", Label: "nothing yet"}}
	switch f.Type {
	case manuscript.Choice, manuscript.Slots:
		return f.Options
	case manuscript.Deadline:
		for _, d := range shelf.Deadlines {
			list = append(list, manuscript.Option{Value: d.ID, Label: d.Name})
		}
	case manuscript.Shelf:
		for _, h := range shelf.Shelves {
			list = append(list, manuscript.Option{Value: h.ID, Label: h.Name})
		}
	case manuscript.Video:
		for _, v := range shelf.Videos {
			list = append(list, manuscript.Option{Value: v.ID, Label: v.Name})
		}
	case manuscript.Line, manuscript.Prose, manuscript.Rich, manuscript.List, manuscript.Group, manuscript.Sign, manuscript.File, manuscript.Picture, manuscript.Product, manuscript.Link:
	}
	return list
}

// history lists who changed a page, when and how.
func (s *Studio) history(c fiber.Ctx) error {
	draft, err := s.App.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	list, err := s.App.Desk.History(c, draft)
	if err != nil {
		return err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	return s.fragment(c, "history", map[string]any{"List": list, "Zone": shop.Zone})
}
