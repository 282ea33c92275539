// Package forms takes what visitors leave in forms, and gives appointments.
package forms

import (
	"errors"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/people"
	"chrysagon/app/publishing"
	"chrysagon/app/walks"
	"chrysagon/core/route"
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
	Guide      *walks.Guide
	People     *people.People
	Pages      *pages.Pages
}

// Part is what the shopfront joins.
func (forms *Forms) Part(out fiber.Router, limits frame.Limits) {
	out.Get("/appointments/:file", forms.calendarFile)
	frame.At(out, fiber.MethodPost, "/forms/:piece", limits.Forms, forms.SameSite, forms.form)
}

// led is where the routes lead a visitor after a form, or "" where they stay.
func (forms *Forms) led(c fiber.Ctx, live publishing.Live, at walks.Place, visitor string, outcome route.Outcome) (string, error) {
	to, err := forms.Guide.Lead(c, at, visitor, outcome, nil)
	if errors.Is(err, walks.ErrNowhere) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	return to.Path, forms.Guide.Took(c, walks.Print{At: forms.Store.Now(), Visitor: visitor, Place: at, PageID: live.Page.ID, Outcome: outcome}, to)
}

// form takes what a visitor sent by a form. What is wrong is said beside its
// field, and nothing typed is lost.
func (forms *Forms) form(c fiber.Ctx) error {
	live, err := forms.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	if live.Step.Kind.AfterPayment() {
		return forms.Say(c, fiber.StatusNotFound, "There is no form here", "Pages after a payment take no forms. Nothing was sent.", "")
	}
	values := frame.TypedAsMeant(c)
	id := strings.Clone(c.Params("piece"))
	asks, there := live.Page.Manuscript.Piece(id)
	if there && forms.Quick(c, values) {
		forms.Visitor(c)
		values[frame.Came] = forms.Moment()
		return forms.Pages.Private(c, fiber.StatusUnprocessableEntity, live, nil, pieces.Form{Piece: id, Values: values, Notice: "That was quick. Press once more, so that we know it was you; nothing was sent yet."})
	}
	if there && forms.Render.Registry.Schema()[asks.Kind].Traits.Books {
		return forms.appointment(c, live, id, values)
	}
	visitor := forms.Visitor(c)
	at, err := forms.Guide.Stand(c, live, visitor)
	if err != nil {
		return err
	}
	p, faults, err := forms.People.TakeLead(c, people.FormInput{Live: live, PieceID: id, Visitor: visitor, Values: values, At: at, Zone: frame.ZoneOf(c)})
	if err != nil {
		return err
	}
	if meant := faults["meant"]; meant != "" {
		values["meant"] = meant
		return forms.Pages.Private(c, fiber.StatusUnprocessableEntity, live, nil, pieces.Form{Piece: id, Values: values, Notice: "Look at the address once more; nothing was sent yet."})
	}
	if len(faults) > 0 {
		return forms.Pages.Private(c, fiber.StatusUnprocessableEntity, live, nil, pieces.Form{Piece: id, Values: values, Errors: faults, Notice: "Something is missing; see below. Nothing was sent yet."})
	}
	if path, err := forms.led(c, live, at, visitor, route.Submitted); err != nil {
		return err
	} else if path != "" {
		return forms.Onward(c, path)
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
