package forms

import (
	"strings"

	"chrysagon/app/people"
	"chrysagon/app/publishing"
	"chrysagon/core/appointment"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/shopfront/frame"

	"github.com/gofiber/fiber/v3"
)

// appointment takes the time a visitor chose. What is wrong is said beside it,
// with the times that are free by now.
func (forms *Forms) appointment(c fiber.Ctx, live publishing.Live, piece string, values map[string]string) error {
	visitor := forms.Visitor(c)
	at, err := forms.Guide.Stand(c, live, visitor)
	if err != nil {
		return err
	}
	id, faults, err := forms.People.TakeAppointment(c, people.FormInput{Live: live, PieceID: piece, Visitor: visitor, Values: values, At: at})
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return forms.Pages.Private(c, fiber.StatusUnprocessableEntity, live, nil, pieces.Form{Piece: piece, Values: values, Errors: faults, Notice: "Something is missing; see below. Nothing is booked yet."})
	}
	if path, err := forms.led(c, live, at, visitor, route.Booked); err != nil {
		return err
	} else if path != "" {
		return forms.Onward(c, path)
	}
	return frame.SeeOther(c, "/"+live.Page.Address+"?sent="+piece+"&booked="+id+"#p-"+piece)
}

// calendarFile is an appointment for the visitor's own calendar.
func (forms *Forms) calendarFile(c fiber.Ctx) error {
	id, _, _ := strings.Cut(strings.Clone(c.Params("file")), ".")
	m, err := forms.People.Appointment(c, id)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "text/calendar; charset=utf-8")
	c.Set("Content-Disposition", `attachment; filename="appointment.ics"`)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	return c.SendString(appointment.Calendar(m))
}
