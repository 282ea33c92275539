package followup

import (
	"cmp"
	"slices"
	"time"
)

// Tell tells what becomes of each letter for a person of whom that happened, in the zone in
// which they live; nothing for whom it has not begun. What has not happened yet is taken
// not to happen: so it tells too how the line would reach somebody who begins now.
func (f Followup) Tell(history []Event, zone *time.Location) []Told {
	history = slices.Clone(history)
	slices.SortStableFunc(history, func(a, b Event) int {
		return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.What, b.What), cmp.Compare(a.Of, b.Of))
	})
	first := slices.IndexFunc(history, f.begins)
	if first < 0 {
		return nil
	}
	began := history[first].At
	days := wrote(history, zone)
	out := make([]Told, len(f.Steps))
	before := began
	for i, s := range f.Steps {
		at := f.Hours.Fit(s.after(before, zone), zone)
		before = at
		told := Told{Step: i, Letter: s.Letter, At: at, Outcome: Sent}
		told.Outcome, told.Why = f.outcome(s, history, began, at)
		if told.Outcome == Sent && f.ADay > 0 && days[day(at, zone)] >= f.ADay {
			told = f.crowded(s, told, history, began, days, zone)
			before = told.At
		}
		if told.Outcome == Sent {
			days[day(told.At, zone)]++
		}
		out[i] = told
	}
	return out
}

func (f Followup) begins(e Event) bool {
	return e.What == f.Begins.What && (f.Begins.Of == "" || e.Of == f.Begins.Of)
}

// after is when a letter comes, counted from the one before.
func (s Step) after(before time.Time, zone *time.Location) time.Time {
	b := before.In(zone)
	at := time.Date(b.Year(), b.Month(), b.Day()+s.Days, b.Hour(), b.Minute(), b.Second(), b.Nanosecond(), zone).Add(time.Duration(s.Minutes) * time.Minute)
	if at.Before(before) { // an hour that comes twice
		at = before
	}
	if s.Clock == nil {
		return at
	}
	clock := on(at, *s.Clock, zone)
	if clock.Before(before) || (s.Minutes > 0 && clock.Before(at)) {
		clock = time.Date(clock.Year(), clock.Month(), clock.Day()+1, s.Clock.Hour, s.Clock.Minute, 0, 0, zone)
	}
	return clock
}

// outcome is what becomes of a letter that is due at a moment, but for crowding.
func (f Followup) outcome(s Step, history []Event, began, at time.Time) (Outcome, string) {
	for _, e := range history {
		if e.At.Before(began) || e.At.After(at) {
			continue
		}
		switch {
		case e.What == Bought && f.endedBy(e, began):
			return Ended, "bought"
		case e.What == Left && (e.Of == "" || f.list() == "" || e.Of == f.list()):
			return Ended, "wants no more letters"
		}
	}
	switch {
	case !f.Until.IsZero() && at.After(f.Until):
		return TooLate, "it would come after the end"
	case !s.Only.holds(f, history, at):
		return Skipped, s.Only.why()
	}
	return Sent, ""
}

// endedBy tells whether a purchase ends the line: none that began it does.
func (f Followup) endedBy(e Event, began time.Time) bool {
	if f.Stays || (f.Bought != "" && e.Of != f.Bought) {
		return false
	}
	return f.Begins.What != Bought || e.At.After(began)
}

// list is whose letters these are.
func (f Followup) list() string {
	if f.List == "" && f.Begins.What == Joined {
		return f.Begins.Of
	}
	return f.List
}

func (f Followup) has(letter string) bool {
	return slices.ContainsFunc(f.Steps, func(s Step) bool { return s.Letter == letter })
}

// crowded is what becomes of a letter on a day on which somebody has had as many as they
// may: it lapses, or comes on the first day on which they have not.
func (f Followup) crowded(s Step, told Told, history []Event, began time.Time, days map[string]int, zone *time.Location) Told {
	if f.Lapses {
		told.Outcome, told.Why = Lapsed, "they had as many letters that day as they may"
		return told
	}
	for days[day(told.At, zone)] >= f.ADay {
		at := told.At.In(zone)
		next := time.Date(at.Year(), at.Month(), at.Day()+1, at.Hour(), at.Minute(), 0, 0, zone)
		told.At = f.Hours.Fit(next, zone)
		told.Why = "it waits for a day with fewer letters"
	}
	if outcome, why := f.outcome(s, history, began, told.At); outcome != Sent {
		told.Outcome, told.Why = outcome, why
	}
	return told
}

// wrote counts the letters of others, by day.
func wrote(history []Event, zone *time.Location) map[string]int {
	days := map[string]int{}
	for _, e := range history {
		if e.What == Wrote {
			days[day(e.At, zone)]++
		}
	}
	return days
}

func day(t time.Time, zone *time.Location) string { return t.In(zone).Format(time.DateOnly) }
