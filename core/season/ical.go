package season

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/deadline"

	ics "github.com/arran4/golang-ical"
)

// Entry is something in a calendar: whole days, or one moment.
type Entry struct {
	ID   string
	Name string
	Note string
	From string    // first day; empty for a moment
	To   string    // last day, included
	At   time.Time // a moment; zero for whole days
}

// MaxEntries is how many entries a calendar file may have.
const MaxEntries = 2000

// WriteCalendar writes entries as iCalendar (RFC 5545). Whole days have DATE values,
// and DTEND is the day after the last (3.6.1). stamp is when it is written.
func WriteCalendar(name string, entries []Entry, stamp time.Time) string {
	c := ics.NewCalendarFor("Chrysagon")
	c.SetMethod(ics.MethodPublish)
	c.SetName(name)
	c.SetXWRCalName(name)
	for _, e := range entries {
		event := c.AddEvent(e.ID + "@chrysagon")
		event.SetDtStampTime(stamp.UTC())
		event.SetSummary(e.Name)
		if e.Note != "" {
			event.SetDescription(e.Note)
		}
		if !e.At.IsZero() {
			event.SetStartAt(e.At.UTC())
			event.SetEndAt(e.At.UTC())
			continue
		}
		from, err := time.Parse(time.DateOnly, e.From)
		to, failed := time.Parse(time.DateOnly, e.To)
		if err != nil || failed != nil {
			continue
		}
		event.SetAllDayStartAt(from)
		event.SetAllDayEndAt(to.AddDate(0, 0, 1))
		event.SetTimeTransparency(ics.TransparencyTransparent)
	}
	return c.Serialize(ics.WithNewLineWindows)
}

// ReadCalendar reads the events of an iCalendar file: whole days as campaigns,
// moments as deadlines. Local times without a zone are taken in the store's. An
// event that cannot be read is an error that names it.
func ReadCalendar(raw []byte, zone string) ([]Entry, error) {
	c, err := ics.ParseCalendar(bytes.NewReader(raw))
	if err != nil {
		return nil, fmt.Errorf("this is not an iCalendar file: %w", err)
	}
	events := c.Events()
	if len(events) > MaxEntries {
		return nil, fmt.Errorf("the calendar has %d events; at most %d can be brought in at once", len(events), MaxEntries)
	}
	var out []Entry
	for i, event := range events {
		e := Entry{Name: property(event, ics.ComponentPropertySummary), ID: event.Id()}
		if e.Name == "" {
			e.Name = fmt.Sprintf("Event %d", i+1)
		}
		start := event.GetProperty(ics.ComponentPropertyDtStart)
		if start == nil {
			return nil, fmt.Errorf("event %q has no start (DTSTART)", e.Name)
		}
		if err := when(&e, event, start, zone); err != nil {
			return nil, fmt.Errorf("event %q: %w", e.Name, err)
		}
		out = append(out, e)
	}
	return out, nil
}

func when(e *Entry, event *ics.VEvent, start *ics.IANAProperty, zone string) error {
	if len(start.Value) == len("20261127") {
		from, err := time.Parse("20060102", start.Value)
		if err != nil {
			return fmt.Errorf("DTSTART %q is not a date", start.Value)
		}
		last := from
		if end := event.GetProperty(ics.ComponentPropertyDtEnd); end != nil {
			after, err := time.Parse("20060102", end.Value)
			if err != nil || !after.After(from) {
				return fmt.Errorf("DTEND %q does not come after the start", end.Value)
			}
			last = after.AddDate(0, 0, -1)
		}
		e.From, e.To = from.Format(time.DateOnly), last.Format(time.DateOnly)
		return nil
	}
	// What ends is the deadline: the end of the event, where it has one.
	if _, err := instant(start, zone); err != nil {
		return err
	}
	moment := start
	if end := event.GetProperty(ics.ComponentPropertyDtEnd); end != nil {
		moment = end
	}
	at, err := instant(moment, zone)
	e.At = at
	return err
}

// instant reads the three forms of a date and time (RFC 5545, 3.3.5).
func instant(p *ics.IANAProperty, zone string) (time.Time, error) {
	if strings.HasSuffix(p.Value, "Z") {
		at, err := time.Parse("20060102T150405Z", p.Value)
		if err != nil {
			return at, fmt.Errorf("%q is not a date and time", p.Value)
		}
		return at, nil
	}
	wall, err := time.Parse("20060102T150405", p.Value)
	if err != nil {
		return wall, fmt.Errorf("%q is not a date and time", p.Value)
	}
	if id := p.ICalParameters["TZID"]; len(id) > 0 {
		zone = id[0]
	}
	at, err := deadline.Resolve(wall.Format("2006-01-02T15:04:05"), zone)
	if err != nil {
		return at, errors.New("its time zone is not known by its IANA name: " + zone)
	}
	return at, nil
}

func property(event *ics.VEvent, name ics.ComponentProperty) string {
	if p := event.GetProperty(name); p != nil {
		return strings.TrimSpace(ics.FromText(p.Value))
	}
	return ""
}
