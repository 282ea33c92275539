package followup

import (
	"time"
)

// Hours are when letters may arrive: on some days of the week, from one clock time to
// another, where the reader is. None means any.
type Hours struct {
	From *Clock         `json:"from,omitempty"`
	To   *Clock         `json:"to,omitempty"` // the first minute that is too late
	Days []time.Weekday `json:"days,omitempty"`
}

// Fit is the first moment from t on that lies within the hours.
func (h Hours) Fit(t time.Time, zone *time.Location) time.Time {
	for day := 0; day <= 7; day++ {
		at := t.In(zone)
		if day > 0 { // from the beginning of that day
			at = time.Date(at.Year(), at.Month(), at.Day()+day, 0, 0, 0, 0, zone)
		}
		if !h.on(at.Weekday()) {
			continue
		}
		if open := h.opening(at, zone); at.Before(open) {
			at = open
		}
		if h.To == nil || at.Before(on(at, *h.To, zone)) {
			return at
		}
	}
	return t.In(zone) // no hour of the week is open: Faults tells
}

func (h Hours) on(day time.Weekday) bool {
	if len(h.Days) == 0 {
		return true
	}
	for _, d := range h.Days {
		if d == day {
			return true
		}
	}
	return false
}

// opening is when the hours of a day begin.
func (h Hours) opening(t time.Time, zone *time.Location) time.Time {
	if h.From == nil {
		return t
	}
	return on(t, *h.From, zone)
}

// on is a clock time on the day of a moment. Where the clocks are put forward over it, it
// is the moment that many minutes after the change began.
func on(t time.Time, c Clock, zone *time.Location) time.Time {
	t = t.In(zone)
	return time.Date(t.Year(), t.Month(), t.Day(), c.Hour, c.Minute, 0, 0, zone)
}
