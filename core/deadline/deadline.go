// Package deadline computes the moments that prices, timers, bands and bars share.
package deadline

import (
	"fmt"
	"strings"
	"time"
)

// LocalLayout is how an owner and a browser write a local date and time.
const LocalLayout = "2006-01-02T15:04"

// Written writes a moment out in full: Friday 27 November 2026, 23:59.
func Written(at time.Time, zone string) string { return in(at, zone, "Monday 2 January 2006, 15:04") }

// Told writes a moment for people who may be in another zone: Friday 27 November
// 2026, 23:59, Lisbon time.
func Told(at time.Time, zone string) string { return Written(at, zone) + ", " + Clock(zone) }

// Clock names whose clock a moment is told by: Lisbon time.
func Clock(zone string) string {
	city := zone[strings.LastIndex(zone, "/")+1:]
	if city == "" || city == "UTC" {
		return "UTC"
	}
	return strings.ReplaceAll(city, "_", " ") + " time"
}

// Short writes a moment for a crowded line: Fri 27 Nov, 23:59.
func Short(at time.Time, zone string) string { return in(at, zone, "Mon 2 Jan, 15:04") }

// Day writes only the day of a moment: Friday 27 November.
func Day(at time.Time, zone string) string { return in(at, zone, "Monday 2 January") }

func in(at time.Time, zone, layout string) string {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		loc = time.UTC
	}
	return at.In(loc).Format(layout)
}

// Resolve finds the moment of a local date and time in an IANA zone.
//
// A local time that a clock change skips moves forward by the length of the
// gap; one that comes twice means the first. This is the rule of RFC 5545,
// section 3.3.5 (DATE-TIME, form 3).
func Resolve(local, name string) (time.Time, error) {
	loc, err := zone(name)
	if err != nil {
		return time.Time{}, err
	}
	wall, err := wall(local)
	if err != nil {
		return time.Time{}, err
	}
	// The offsets in force a day either side bracket any change near this wall time.
	before := offset(wall.Add(-24*time.Hour), loc)
	after := offset(wall.Add(24*time.Hour), loc)
	early, late := wall.Add(-max(before, after)), wall.Add(-min(before, after))
	switch {
	case isWall(early, wall, loc):
		return written(early)
	case isWall(late, wall, loc):
		return written(late)
	default: // skipped: read it with the offset that was in force before the gap
		return written(wall.Add(-before))
	}
}

// written refuses a moment that cannot be written down (RFC 3339 has years of
// four digits): near the date line the last hours of 9999 lie beyond in UTC.
func written(at time.Time) (time.Time, error) {
	at = at.UTC()
	if y := at.Year(); y < 1 || y > 9999 {
		return time.Time{}, fmt.Errorf("%s is outside the years 1 to 9999 of UTC; choose another moment", at.Format("2 January 2006, 15:04"))
	}
	return at, nil
}

func offset(at time.Time, loc *time.Location) time.Duration {
	_, seconds := at.In(loc).Zone()
	return time.Duration(seconds) * time.Second
}

func isWall(at, wall time.Time, loc *time.Location) bool {
	const layout = "2006-01-02T15:04:05"
	return at.In(loc).Format(layout) == wall.Format(layout)
}

// Left is the time to a deadline, as a countdown shows it.
type Left struct {
	Days    int  `json:"days"`
	Hours   int  `json:"hours"`
	Minutes int  `json:"minutes"`
	Seconds int  `json:"seconds"`
	Passed  bool `json:"passed"`
}

// Until is the difference of two moments, cut to whole seconds. Days are
// 24 hours long: a clock change in between does not distort what is left.
func Until(at, moment time.Time) Left {
	d := at.Sub(moment)
	if d <= 0 {
		return Left{Passed: true}
	}
	seconds := int(d / time.Second)
	return Left{
		Days:    seconds / 86400,
		Hours:   seconds / 3600 % 24,
		Minutes: seconds / 60 % 60,
		Seconds: seconds % 60,
	}
}

// wall reads a local date and time, in UTC because it has no zone of its own.
// 24:00 is the end of the day (ISO 8601-1).
func wall(local string) (time.Time, error) {
	for _, end := range []string{"T24:00", "T24:00:00"} {
		if day, is := strings.CutSuffix(local, end); is {
			if at, err := time.Parse(time.DateOnly, day); err == nil {
				return at.AddDate(0, 0, 1), nil
			}
		}
	}
	for _, layout := range []string{LocalLayout, "2006-01-02T15:04:05"} {
		if at, err := time.Parse(layout, local); err == nil {
			return at, nil
		}
	}
	return time.Time{}, fmt.Errorf("%q is not a date and time; write it like 2026-11-27T23:59", local)
}
