package shopfront

import (
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/people"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/form"

	"github.com/gofiber/fiber/v3"
)

// form takes what a visitor sent by a form. What is wrong is said beside its
// field, and nothing typed is lost.
func (s *Front) form(c fiber.Ctx) error {
	live, err := s.App.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	if live.Step.Kind != "" && live.Step.Kind != route.Sales {
		return s.say(c, fiber.StatusNotFound, "There is no form here", "Pages after a payment take no forms. Nothing was sent.", "")
	}
	values := typed(c)
	id := strings.Clone(c.Params("piece"))
	if p, ok := live.Page.Manuscript.Piece(id); ok && p.Kind == "appointment" {
		return s.appointment(c, live, id, values)
	}
	p, faults, err := s.App.People.TakeLead(c, people.FormInput{Live: live, PieceID: id, Visitor: s.visitor(c), Values: values})
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return s.private(c, fiber.StatusUnprocessableEntity, live, nil, pieces.Form{Piece: id, Values: values, Errors: faults, Notice: "Something is missing; see below. Nothing was sent yet."})
	}
	if form.Gives(p) != "" { // it is handed out where it was asked for
		return seeOther(c, "/"+live.Page.Address+"?sent="+id+"#p-"+id)
	}
	f, err := s.App.Facts.FactsFor(c, s.App.Render.Registry.Schema().Names(live.Page.Manuscript), factbook.Buyer{})
	if err != nil {
		return err
	}
	// Only the shop's own pages: a form's policy lets it lead nowhere else.
	if href, ok := (&pieces.Context{Facts: f}).Href(p.Fields.Text("target")); ok && strings.HasPrefix(string(href), "/") {
		return seeOther(c, string(href))
	}
	return seeOther(c, "/"+live.Page.Address+"?sent="+id+"#p-"+id)
}
