// Package hours tells whether a store is open, in its own zone.
package hours

import (
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"
)

// Span is one stretch of opening on certain days: from Opens to Closes, in
// minutes after midnight by the wall clock. One that closes at or before its
// opening runs past midnight.
type Span struct {
	Days          []time.Weekday
	Opens, Closes int
}

// Days are the groups of days a store writes its hours for.
var Days = map[string][]time.Weekday{
	"weekdays": {time.Monday, time.Tuesday, time.Wednesday, time.Thursday, time.Friday},
	"daily":    {time.Sunday, time.Monday, time.Tuesday, time.Wednesday, time.Thursday, time.Friday, time.Saturday},
	"monday":   {time.Monday}, "tuesday": {time.Tuesday}, "wednesday": {time.Wednesday}, "thursday": {time.Thursday},
	"friday": {time.Friday}, "saturday": {time.Saturday}, "sunday": {time.Sunday},
}

// Clock reads a time of day such as 9:30, 09.30 or 18, in minutes after midnight.
func Clock(text string) (int, error) {
	text = strings.NewReplacer(".", ":", "h", ":", "H", ":").Replace(strings.TrimSpace(text))
	hour, minute, _ := strings.Cut(text, ":")
	if minute == "" {
		minute = "00"
	}
	h, err := strconv.ParseUint(hour, 10, 8)
	m, fault := strconv.ParseUint(minute, 10, 8)
	at := int(h)*60 + int(m)
	if err != nil || fault != nil || m > 59 || at > 24*60 {
		return 0, errors.New("write a time of day such as 9:30")
	}
	return at, nil
}

// Now is whether a store is open at a moment, and when that next changes.
// Changes is zero when it never does.
type Now struct {
	Open    bool
	Changes time.Time
}

// At computes it. The walls are those of the zone, so a clock change moves
// nothing: a shop that opens at nine opens at nine.
func At(spans []Span, moment time.Time, zone string) (Now, error) {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return Now{}, fmt.Errorf("zone %q: %w", zone, err)
	}
	var n Now
	here := moment.In(loc)
	// From yesterday, whose last stretch may reach into today, to a week ahead.
	for day := -1; day <= 8; day++ {
		y, m, d := here.AddDate(0, 0, day).Date()
		for _, s := range spans {
			if !s.on(time.Date(y, m, d, 12, 0, 0, 0, loc).Weekday()) {
				continue
			}
			opens := time.Date(y, m, d, 0, s.Opens, 0, 0, loc)
			closes := time.Date(y, m, d, 0, s.Closes, 0, 0, loc)
			if s.Closes <= s.Opens {
				closes = time.Date(y, m, d+1, 0, s.Closes, 0, 0, loc)
			}
			if !moment.Before(opens) && moment.Before(closes) {
				n.Open = true
			}
			for _, edge := range []time.Time{opens, closes} {
				if edge.After(moment) && (n.Changes.IsZero() || edge.Before(n.Changes)) {
					n.Changes = edge
				}
			}
		}
	}
	return n, nil
}

func (s Span) on(day time.Weekday) bool {
	for _, d := range s.Days {
		if d == day {
			return true
		}
	}
	return false
}
