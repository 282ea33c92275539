// Package forms takes what visitors leave in forms, and gives appointments.
package forms

import (
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/people"
	"chrysagon/app/publishing"
	"chrysagon/pieces"
	"chrysagon/pieces/form"
	"chrysagon/shopfront/frame"
	"chrysagon/shopfront/pages"

	"github.com/gofiber/fiber/v3"
)

// Forms takes them.
type Forms struct {
	*frame.Frame
	Publishing *publishing.Publisher
	Facts      *factbook.Reader
	People     *people.People
	Pages      *pages.Pages
}

// Part is what the shopfront joins.
func (forms *Forms) Part(out fiber.Router, limits frame.Limits) {
	out.Get("/appointments/:file", forms.calendarFile)
	out.Post("/:address/forms/:piece", limits.Forms, forms.SameSite, forms.form)
}

// form takes what a visitor sent by a form. What is wrong is said beside its
// field, and nothing typed is lost.
func (forms *Forms) form(c fiber.Ctx) error {
	live, err := forms.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	if live.Step.Kind.AfterPayment() {
		return forms.Say(c, fiber.StatusNotFound, "There is no form here", "Pages after a payment take no forms. Nothing was sent.", "")
	}
	values := frame.Typed(c)
	id := strings.Clone(c.Params("piece"))
	if p, ok := live.Page.Manuscript.Piece(id); ok && forms.Render.Registry.Schema()[p.Kind].Traits.Books {
		return forms.appointment(c, live, id, values)
	}
	p, faults, err := forms.People.TakeLead(c, people.FormInput{Live: live, PieceID: id, Visitor: forms.Visitor(c), Values: values})
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return forms.Pages.Private(c, fiber.StatusUnprocessableEntity, live, nil, pieces.Form{Piece: id, Values: values, Errors: faults, Notice: "Something is missing; see below. Nothing was sent yet."})
	}
	if form.Gives(p) != "" { // it is handed out where it was asked for
		return frame.SeeOther(c, "/"+live.Page.Address+"?sent="+id+"#p-"+id)
	}
	f, err := forms.Facts.FactsFor(c, forms.Render.Registry.Schema().Names(live.Page.Manuscript), factbook.Buyer{})
	if err != nil {
		return err
	}
	// Only the shop's own pages: a form's policy lets it lead nowhere else.
	if href, ok := (&pieces.Context{Facts: f}).Href(p.Fields.Text("target")); ok && strings.HasPrefix(string(href), "/") {
		return frame.SeeOther(c, string(href))
	}
	return frame.SeeOther(c, "/"+live.Page.Address+"?sent="+id+"#p-"+id)
}
