package audience

import (
	"cmp"
	"errors"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/followups"
	"chrysagon/core/followup"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// lineForm is a follow-up as it is typed: some sentences.
type lineForm struct {
	ID, Name, List, Deadline string
	Begins, Before           string // what begins it, as its choice has it, and how many days before
	Ends                     string // the purchase that ends it
	Steps                    []stepForm
	From, To                 string
	Days                     map[int]bool
	ADay                     string
	Lapses                   bool
}

type stepForm struct{ Letter, Days, Hours, Clock, Whom, Did string }

// weekdays in the order in which a week is written here.
var weekdays = []weekday{{Day: 1, Label: "Mon"}, {Day: 2, Label: "Tue"}, {Day: 3, Label: "Wed"}, {Day: 4, Label: "Thu"}, {Day: 5, Label: "Fri"}, {Day: 6, Label: "Sat"}, {Day: 0, Label: "Sun"}}

// weekday is a day of the week, and whether letters may arrive on it.
type weekday struct {
	Day   int
	Label string
	On    bool
}

// Week is the days of the week.
func (f lineForm) Week() []weekday {
	var out []weekday
	for _, w := range weekdays {
		w.On = len(f.Days) == 0 || f.Days[w.Day]
		out = append(out, w)
	}
	return out
}

func clockOf(c *followup.Clock) string {
	if c == nil {
		return ""
	}
	return c.String()
}

// formOf writes a line as sentences to be filled in.
func formOf(l followups.Line) lineForm {
	f := lineForm{
		ID: l.Row.ID, Name: l.Row.Name, List: factbook.Deref(l.Row.ListID), Deadline: factbook.Deref(l.Row.DeadlineID),
		Begins: chosenBegin(l.Says.Begins), Before: frame.Whole(l.Says.Begins.Days), Ends: chosenEnd(l.Says),
		From: clockOf(l.Says.Hours.From), To: clockOf(l.Says.Hours.To), ADay: frame.Whole(l.Says.ADay), Lapses: l.Says.Lapses, Days: map[int]bool{},
	}
	for _, d := range l.Says.Hours.Days {
		f.Days[int(d)] = true
	}
	for _, s := range l.Says.Steps {
		whom, did := onlyForm(s.Only)
		f.Steps = append(f.Steps, stepForm{Letter: s.Letter, Days: strconv.Itoa(s.Days), Hours: frame.Whole(s.Minutes / 60), Clock: clockOf(s.Clock), Whom: whom, Did: did})
	}
	return f
}

// typedLine reads the form.
func typedLine(c fiber.Ctx) lineForm {
	f := lineForm{ID: frame.Typed(c, "id"), Name: frame.Typed(c, "name"), List: frame.Typed(c, "list"), Begins: frame.Typed(c, "begins"), Before: frame.Typed(c, "before"), Ends: frame.Typed(c, "ends"), Deadline: frame.Typed(c, "deadline"), From: frame.Typed(c, "from"), To: frame.Typed(c, "to"), ADay: frame.Typed(c, "a_day"), Lapses: frame.Typed(c, "lapses") != "", Days: map[int]bool{}}
	for _, d := range frame.AllTyped(c, "day") {
		if n, err := strconv.Atoi(d); err == nil {
			f.Days[n] = true
		}
	}
	at := func(list []string, i int) string {
		if i < len(list) {
			return strings.TrimSpace(list[i])
		}
		return ""
	}
	letters, days, hours, clocks := frame.AllTyped(c, "letter"), frame.AllTyped(c, "days"), frame.AllTyped(c, "hours"), frame.AllTyped(c, "clock")
	whom, did := frame.AllTyped(c, "whom"), frame.AllTyped(c, "did")
	for i, letter := range letters {
		if letter != "" { // a line without a letter is taken away, or was never filled in
			f.Steps = append(f.Steps, stepForm{letter, at(days, i), at(hours, i), at(clocks, i), at(whom, i), at(did, i)})
		}
	}
	return f
}

// line is what the form says, and what of it cannot be read, in sentences.
func (f lineForm) line() (followup.Followup, []string) {
	out := followup.Followup{Lapses: f.Lapses}
	var faults []string
	number := func(text string) int {
		if text == "" {
			return 0
		}
		n, bad := strconv.Atoi(text)
		if bad != nil || n < 0 {
			faults = append(faults, "“"+text+"” is no whole number.")
		}
		return n
	}
	clock := func(text string) *followup.Clock {
		at, ok := followup.ParseClock(text)
		if !ok {
			faults = append(faults, "“"+text+"” is no time of the day; write it as 10:00.")
		}
		return at
	}
	what, of, _ := strings.Cut(f.Begins, ":")
	out.Begins = followup.Begin{What: followup.Happening(what), Of: of}
	if out.Begins.Ahead() {
		out.Begins.Days = number(f.Before)
	}
	if out.Stays = f.Ends == noEnd; !out.Stays {
		out.Bought = f.Ends
	}
	out.ADay, out.Hours.From, out.Hours.To = number(f.ADay), clock(f.From), clock(f.To)
	if len(f.Days) > 0 && len(f.Days) < 7 {
		for _, w := range weekdays {
			if f.Days[w.Day] {
				out.Hours.Days = append(out.Hours.Days, time.Weekday(w.Day))
			}
		}
	}
	for _, s := range f.Steps {
		out.Steps = append(out.Steps, followup.Step{Letter: s.Letter, Days: number(s.Days), Minutes: 60 * number(s.Hours), Clock: clock(s.Clock), Only: s.only()})
	}
	return out, faults
}

func (p *Place) saveLine(c fiber.Ctx) error {
	f := typedLine(c)
	line, faults := f.line()
	id := f.ID
	if len(faults) == 0 {
		var err error
		id, faults, err = p.Followups.SaveLine(c, followups.Drafted{ID: f.ID, CampaignID: frame.AtHand(c), Name: f.Name, ListID: f.List, DeadlineID: f.Deadline, Line: line})
		if err != nil {
			return err
		}
	}
	if len(faults) == 0 {
		return frame.SeeOther(c, "/audience?followup="+id+"&said=kept")
	}
	s, err := p.read(c, cmp.Or(f.ID, "new"))
	if err != nil {
		return err
	}
	s.Form = f
	return p.show(c, s, faults, "")
}

func (p *Place) begins(c fiber.Ctx) error {
	id, on := strings.Clone(c.Params("id")), frame.Typed(c, "on") != ""
	err := p.Followups.Begins(c, frame.AtHand(c), id, on)
	var refused refusal.Refusal
	if frame.AsRefusal(err, &refused) && errors.Is(err, refusal.ErrConflict) {
		s, err := p.read(c, id)
		if err != nil {
			return err
		}
		s.Form = formOf(*s.Chosen)
		return p.show(c, s, []string{refused.Say}, "")
	}
	if err != nil {
		return err
	}
	said := "stopped"
	if on {
		said = "begins"
	}
	return frame.SeeOther(c, "/audience?followup="+id+"&said="+said)
}

func (p *Place) removeLine(c fiber.Ctx) error {
	if err := p.Followups.RemoveLine(c, frame.AtHand(c), strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience?said=gone")
}
