package shopfront

import (
	"strings"

	"chrysagon/app/people"
	"chrysagon/app/publishing"
	"chrysagon/core/appointment"
	"chrysagon/core/deadline"
	"chrysagon/pieces"

	"github.com/gofiber/fiber/v3"
)

// appointment takes the time a visitor chose. What is wrong is said beside it,
// with the times that are free by now.
func (s *Front) appointment(c fiber.Ctx, live publishing.Live, piece string, values map[string]string) error {
	id, faults, err := s.App.People.TakeAppointment(c, people.FormInput{Live: live, PieceID: piece, Visitor: s.visitor(c), Values: values})
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return s.private(c, fiber.StatusUnprocessableEntity, live, nil, pieces.Form{Piece: piece, Values: values, Errors: faults, Notice: "Something is missing; see below. Nothing is booked yet."})
	}
	return seeOther(c, "/"+live.Page.Address+"?sent="+piece+"&booked="+id+"#p-"+piece)
}

// booked says what was booked, to whom holds its secret ID.
func (s *Front) booked(c fiber.Ctx, values map[string]string) {
	m, err := s.App.People.Appointment(c, strings.Clone(c.Query("booked")))
	if err != nil {
		return
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return
	}
	values["booked"], values["booked_at"] = m.ID, deadline.Written(m.At, shop.Zone)
}

// calendarFile is an appointment for the visitor's own calendar.
func (s *Front) calendarFile(c fiber.Ctx) error {
	id, _, _ := strings.Cut(strings.Clone(c.Params("file")), ".")
	m, err := s.App.People.Appointment(c, id)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "text/calendar; charset=utf-8")
	c.Set("Content-Disposition", `attachment; filename="appointment.ics"`)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	return c.SendString(appointment.Calendar(m))
}
