// Package appointment says which times can be offered for an appointment, and
// writes one as a calendar file.
package appointment

import (
	"fmt"
	"slices"
	"time"

	"chrysagon/core/hours"

	ics "github.com/arran4/golang-ical"
)

// Slot is one time that can be taken.
type Slot struct {
	At      time.Time `json:"at"`
	Minutes int       `json:"minutes"`
}

// End is when it is over.
func (s Slot) End() time.Time { return s.At.Add(time.Duration(s.Minutes) * time.Minute) }

// Overlaps tells whether two slots share a moment; one that begins when the
// other ends does not.
func (s Slot) Overlaps(o Slot) bool { return s.At.Before(o.End()) && o.At.Before(s.End()) }

// Free lists the slots of some length that lie within opening hours, begin after
// a moment and within so many days of it, and overlap none that is taken. Times
// are on the wall clock of the zone, every so many minutes from opening.
func Free(spans []hours.Span, taken []Slot, after time.Time, days, minutes int, zone string) ([]Slot, error) {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return nil, fmt.Errorf("zone %q: %w", zone, err)
	}
	if minutes < 5 || days < 1 || days > 62 {
		return nil, fmt.Errorf("slots of %d minutes over %d days cannot be listed", minutes, days)
	}
	var out []Slot
	here := after.In(loc)
	for day := range days + 1 {
		y, m, d := here.AddDate(0, 0, day).Date()
		weekday := time.Date(y, m, d, 12, 0, 0, 0, loc).Weekday()
		for _, span := range spans {
			if !slices.Contains(span.Days, weekday) {
				continue
			}
			for at := span.Opens; at+minutes <= span.Closes; at += minutes {
				s := Slot{At: time.Date(y, m, d, 0, at, 0, 0, loc), Minutes: minutes}
				busy := slices.ContainsFunc(taken, s.Overlaps)
				if s.At.After(after) && s.At.Before(after.AddDate(0, 0, days)) && !busy {
					out = append(out, s)
				}
			}
		}
	}
	slices.SortFunc(out, func(a, b Slot) int { return a.At.Compare(b.At) })
	return slices.Compact(out), nil
}

// Meeting is an appointment that was taken.
type Meeting struct {
	Slot
	ID    string // the same for ever, so that a calendar knows it again
	Title string
	Note  string
	Where string
	Host  string // email of the store
	With  string // the store's name
	Noted time.Time
}

// Calendar writes a meeting as iCalendar (RFC 5545): one VEVENT, in UTC.
func Calendar(m Meeting) string {
	c := ics.NewCalendarFor("Chrysagon")
	c.SetMethod(ics.MethodPublish)
	e := c.AddEvent(m.ID + "@chrysagon")
	e.SetDtStampTime(m.Noted.UTC())
	e.SetStartAt(m.At.UTC())
	e.SetEndAt(m.End().UTC())
	e.SetSummary(m.Title)
	if m.Note != "" {
		e.SetDescription(m.Note)
	}
	if m.Where != "" {
		e.SetLocation(m.Where)
	}
	if m.Host != "" {
		e.SetOrganizer("mailto:"+m.Host, ics.WithCN(m.With))
	}
	alarm := e.AddAlarm()
	alarm.SetAction(ics.ActionDisplay)
	alarm.SetTrigger("-PT1H")
	alarm.SetDescription(m.Title)
	return c.Serialize(ics.WithNewLineWindows)
}
