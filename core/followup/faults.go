package followup

import (
	"fmt"
	"time"
)

// Most letters in one line, and days between two.
const (
	MostSteps = 40
	MostDays  = 400
)

// Faults says what must be mended before a line is kept, each in a sentence.
func (f Followup) Faults() []string {
	var out []string
	out = append(out, f.Begins.faults()...)
	if len(f.Steps) > MostSteps {
		out = append(out, fmt.Sprintf("A follow-up has at most %d letters.", MostSteps))
	}
	for i, s := range f.Steps {
		switch {
		case s.Letter == "":
			out = append(out, fmt.Sprintf("Choose the letter of step %d.", i+1))
		case s.Days < 0 || s.Days > MostDays || s.Minutes < 0 || s.Minutes >= 24*60:
			out = append(out, fmt.Sprintf("Step %d comes 0 to %d days and less than 24 hours after the one before.", i+1, MostDays))
		case s.Clock != nil && !s.Clock.valid():
			out = append(out, fmt.Sprintf("Step %d: write the time as 10:00.", i+1))
		case !s.Only.known():
			out = append(out, fmt.Sprintf("Step %d: choose to whom it is sent.", i+1))
		}
	}
	if f.ADay < 0 || f.ADay > 20 {
		out = append(out, "Send from 1 to 20 letters a day, or as many as there are.")
	}
	return append(out, f.Hours.faults()...)
}

func (b Begin) faults() []string {
	switch b.What {
	case Joined, Submitted, Bought, Declined, Unfinished, Clicked, Booked:
		if b.Days == 0 {
			return nil
		}
	case Nears:
		if b.Of == "" {
			return []string{"Choose the deadline before which it begins."}
		}
	case Meets:
	default:
		return []string{"Choose what begins it."}
	}
	if !b.Ahead() || b.Days < 0 || b.Days > MostDays {
		return []string{fmt.Sprintf("It begins 0 to %d days before.", MostDays)}
	}
	return nil
}

func (h Hours) faults() []string {
	var out []string
	for _, c := range []*Clock{h.From, h.To} {
		if c != nil && !c.valid() {
			out = append(out, "Write the hours as 8:00 and 20:00.")
			return out
		}
	}
	if h.From != nil && h.To != nil && h.From.minutes() >= h.To.minutes() {
		out = append(out, "The hours begin after they end; nothing could ever arrive.")
	}
	for _, d := range h.Days {
		if d < time.Sunday || d > time.Saturday {
			out = append(out, "Choose days of the week.")
		}
	}
	return out
}

func (c Clock) valid() bool { return c.Hour >= 0 && c.Hour < 24 && c.Minute >= 0 && c.Minute < 60 }

func (c Clock) minutes() int { return c.Hour*60 + c.Minute }

// String writes a clock time, and ParseClock reads one.
func (c Clock) String() string { return fmt.Sprintf("%d:%02d", c.Hour, c.Minute) }

// ParseClock reads a time as it is typed; nil for nothing, false for what is no time.
func ParseClock(text string) (*Clock, bool) {
	if text == "" {
		return nil, true
	}
	t, err := time.Parse("15:04", text)
	if err != nil {
		return nil, false
	}
	return &Clock{t.Hour(), t.Minute()}, true
}
