package deadline

import (
	"errors"
	"fmt"
	"time"
)

// Kind says how a deadline finds its moment.
type Kind string

// The kinds of deadline.
const (
	Fixed    Kind = "fixed"            // one moment in the store's zone
	Midnight Kind = "visitor_midnight" // the end of a day in the visitor's zone
	Repeats  Kind = "repeating"        // by a rule of RFC 5545, in the store's zone
	Span     Kind = "span"             // so long after the visitor's first sight of it
)

// Kinds lists all kinds.
var Kinds = []Kind{Fixed, Midnight, Repeats, Span}

// Deadline is one named moment, or the rule that gives it.
type Deadline struct {
	ID    string        `json:"id,omitempty"`
	Name  string        `json:"name,omitempty"`
	Kind  Kind          `json:"kind,omitempty"`     // fixed when empty
	Zone  string        `json:"zone"`               // the store's; IANA name, such as Europe/Lisbon
	At    time.Time     `json:"at,omitzero"`        // fixed: the moment
	Day   string        `json:"day,omitempty"`      // visitor_midnight: the day that ends, like 2026-11-27; empty: every day
	Start string        `json:"start,omitempty"`    // repeating: first local date and time
	Rule  string        `json:"rule,omitempty"`     // repeating: the value of an RRULE (RFC 5545, 3.3.10)
	Runs  time.Duration `json:"runs_ns,omitempty"`  // repeating: how long before each occurrence it runs; 0: since the last one
	Span  time.Duration `json:"span_ns,omitempty"`  // span: how long
	Grace time.Duration `json:"grace_ns,omitempty"` // how long after it a price that was seen is honoured; 0: the store's
}

// Visitor is what a deadline must know of whom it is shown to.
type Visitor struct {
	Zone      string    // IANA name; empty: not known, the store's zone is taken
	FirstSeen time.Time // first sight of this deadline; zero: now is the first
}

// Instance is a deadline as it stands for one visitor at one moment. It runs
// from Opens until At: closed at its start, open at its end.
type Instance struct {
	ID       string        `json:"id,omitempty"`
	Name     string        `json:"name,omitempty"`
	Zone     string        `json:"zone"` // in which it is written out
	Opens    time.Time     `json:"opens,omitzero"`
	At       time.Time     `json:"at,omitzero"` // zero: a repeating rule has no occurrence left
	Grace    time.Duration `json:"-"`
	Personal bool          `json:"personal"` // differs from visitor to visitor
}

// Passed tells whether the deadline is over. The instant itself is over:
// what is bound to a deadline ends in that instant.
func (i Instance) Passed(moment time.Time) bool { return !moment.Before(i.At) }

// Runs tells whether what is bound to the deadline holds at a moment.
func (i Instance) Runs(moment time.Time) bool { return !moment.Before(i.Opens) && moment.Before(i.At) }

// Written writes the deadline out in full, in its own zone.
func (i Instance) Written() string { return Written(i.At, i.Zone) }

// Told is [Instance.Written] for people who may be in another zone.
func (i Instance) Told() string { return Told(i.At, i.Zone) }

// Short writes it for a crowded line.
func (i Instance) Short() string { return Short(i.At, i.Zone) }

// Next is the first moment after this one at which the deadline changes what
// is bound to it; zero: never.
func (i Instance) Next(moment time.Time) time.Time {
	switch {
	case moment.Before(i.Opens):
		return i.Opens
	case moment.Before(i.At):
		return i.At
	}
	return time.Time{}
}

// Personal tells whether the deadline differs from visitor to visitor.
func (d Deadline) Personal() bool { return d.Kind == Midnight || d.Kind == Span }

// Limits of what is accepted from outside.
const (
	MaxSpan  = 366 * 24 * time.Hour
	MaxGrace = 24 * time.Hour
	maxSteps = 300_000 // occurrences that are gone through
)

// Validate refuses a deadline that gives no moment, with the field and reason.
func (d Deadline) Validate() error {
	if _, err := zone(d.Zone); err != nil {
		return fmt.Errorf("zone: %w", err)
	}
	if d.Grace < 0 || d.Grace > MaxGrace {
		return fmt.Errorf("grace: must be from 0 to %d hours", MaxGrace/time.Hour)
	}
	switch d.Kind {
	case Fixed, "":
		if d.At.IsZero() {
			return errors.New("at: missing; a fixed deadline has a moment")
		}
	case Midnight:
		if d.Day != "" {
			if _, err := time.Parse(time.DateOnly, d.Day); err != nil {
				return fmt.Errorf("day: %q is not a day; write it like 2026-11-27", d.Day)
			}
		}
	case Repeats:
		if d.Runs < 0 || d.Runs > MaxSpan {
			return errors.New("runs: must be from 0 to 366 days")
		}
		return d.repeats()
	case Span:
		if d.Span < time.Minute || d.Span > MaxSpan {
			return errors.New("span: must be from one minute to 366 days")
		}
	default:
		return fmt.Errorf("kind: %q; it must be fixed, visitor_midnight, repeating or span", d.Kind)
	}
	return nil
}

// For is the deadline as it stands for a visitor at a moment.
func (d Deadline) For(v Visitor, moment time.Time) (Instance, error) {
	err := d.Validate()
	if err != nil {
		return Instance{}, err
	}
	i := Instance{ID: d.ID, Name: d.Name, Zone: d.Zone, Grace: d.Grace, Personal: d.Personal()}
	switch d.Kind {
	case Midnight:
		return d.midnight(i, v, moment)
	case Repeats:
		return d.repeating(i, moment)
	case Span:
		first := v.FirstSeen
		if first.IsZero() || first.After(moment) {
			first = moment
		}
		i.Opens = first
		if i.At, err = written(first.Add(d.Span)); err != nil {
			return i, fmt.Errorf("span: %w", err)
		}
	case Fixed:
		i.At = d.At
	default:
		i.At = d.At
	}
	return i, nil
}

// midnight is the end of the day: the first instant of the next one, moved
// forward where a clock change skips midnight.
func (d Deadline) midnight(i Instance, v Visitor, moment time.Time) (Instance, error) {
	if v.Zone != "" {
		if _, err := zone(v.Zone); err != nil {
			return i, fmt.Errorf("visitor_zone: %w", err)
		}
		i.Zone = v.Zone
	}
	loc, err := zone(i.Zone)
	if err != nil {
		return i, err
	}
	day := moment.In(loc)
	if d.Day != "" {
		if day, err = time.Parse(time.DateOnly, d.Day); err != nil {
			return i, err
		}
	}
	i.At, err = Resolve(day.AddDate(0, 0, 1).Format(time.DateOnly)+"T00:00", i.Zone)
	if err == nil && d.Day == "" {
		i.Opens, err = Resolve(day.Format(time.DateOnly)+"T00:00", i.Zone)
	}
	return i, err
}

// repeating finds the first occurrence after the moment and when it opens.
func (d Deadline) repeating(i Instance, moment time.Time) (Instance, error) {
	next, err := d.walls()
	if err != nil {
		return i, err
	}
	// Before the first occurrence it runs since the rule starts, not since ever.
	last, err := Resolve(d.Start, d.Zone)
	if err != nil {
		return i, err
	}
	for steps := 0; ; steps++ {
		if steps > maxSteps {
			return i, errors.New("rule: it repeats too often to be gone through; let it start later or repeat more seldom")
		}
		wall, ok := next()
		if !ok {
			i.Opens, i.At = last, last // none is left: passed for good
			return i, nil
		}
		at, err := Resolve(wall.Format("2006-01-02T15:04:05"), d.Zone)
		if err != nil {
			return i, err
		}
		if at.After(moment) {
			i.At, i.Opens = at, last
			if d.Runs > 0 {
				i.Opens = at.Add(-d.Runs)
			}
			return i, nil
		}
		last = at
	}
}

// Occurrences lists the first n moments of a repeating deadline.
func (d Deadline) Occurrences(n int) ([]time.Time, error) {
	next, err := d.walls()
	if err != nil {
		return nil, err
	}
	var out []time.Time
	for len(out) < n {
		wall, ok := next()
		if !ok {
			break
		}
		at, err := Resolve(wall.Format("2006-01-02T15:04:05"), d.Zone)
		if err != nil {
			return nil, err
		}
		out = append(out, at)
	}
	return out, nil
}

func zone(name string) (*time.Location, error) {
	loc, err := time.LoadLocation(name)
	if err != nil || name == "" || name == "Local" {
		return nil, fmt.Errorf("%q is not a time zone; write it like Europe/Lisbon", name)
	}
	return loc, nil
}
