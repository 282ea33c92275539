package offers

import (
	"strconv"

	"chrysagon/app/offers"
	"chrysagon/core/deadline"
	"chrysagon/studio/frame"
	"chrysagon/studio/sharing"

	"github.com/gofiber/fiber/v3"
)

// saveDeadline moves a deadline; whoever shares it follows.
func (p *Place) saveDeadline(c fiber.Ctx) error {
	get := func(name string) string { return frame.Typed(c, name) }
	whole := func(name string) int { n, _ := strconv.Atoi(get(name)); return n } // what is no number is refused as 0
	in := offers.DeadlineInput{
		ID: get("id"), Name: get("name"), Kind: get("kind"), At: deadline.Entered(get("at")), Day: deadline.Entered(get("day")), Start: deadline.Entered(get("start")), Rule: get("rule"),
		RunsHours: whole("runs_hours"), SpanMinutes: whole("span_minutes"), GraceMinutes: whole("grace_minutes"),
	}
	newID, faults, err := p.Offers.SaveDeadline(c, in)
	if err != nil {
		return err
	}
	choices, err := p.Offers.Choices(c, offers.Wanted{Deadlines: true, Offers: true})
	if err != nil {
		return err
	}
	values := map[string]any{"Faults": faults, "Typed": in, "Saved": len(faults) == 0, "Zone": choices.Store.Zone}
	if len(faults) > 0 {
		newID = in.ID
		values["Into"] = get("into")
	} else if into := get("into"); into != "" {
		if err := p.Desk.PutInto(c, frame.Who(c).User.ID, into, newID); err != nil {
			return err
		}
		c.Set("HX-Trigger", "deadline-moved")
	} else {
		c.Set("HX-Trigger", "deadline-moved")
	}
	values["Deadline"] = sharing.Shared(newID, choices, p.Store.Now())
	return p.Send(c, fiber.StatusOK, "deadline-form", values)
}
