package season

import (
	"cmp"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/calendar"
	"chrysagon/core/season"
)

// The year line is drawn in these measures.
const (
	dayWidth  = 9
	flagsTop  = 44 // below the months
	flagLine  = 17
	flagRows  = 5
	laneHigh  = 34
	laneTop   = flagsTop + flagRows*flagLine + 14
	pinHigh   = 62
	letterDot = 6.4 // mean width of a letter in a flag
)

type flag struct {
	X, Y    int
	Name    string
	Date    string
	Holiday bool
}

type bar struct {
	ID, Name, Says string
	X, Y, Width    int
	Live           bool
}

type hatch struct {
	X, Y, Width, Height int
	Says                string
}

type pin struct {
	X, Y  int
	Name  string
	Says  string
	Label bool
	End   bool
}

// yearline is the year, placed in its drawing.
type yearline struct {
	Width, Height, Ground int
	Months                []flag
	Weeks                 []int
	Flags                 []flag
	Bars                  []bar
	Hatches               []hatch
	Pins                  []pin
	Today                 int
	DayWidth              int
}

func xOf(date string, year int) int {
	at, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return 0
	}
	return int(at.Sub(time.Date(year, 1, 1, 0, 0, 0, 0, time.UTC)).Hours()/24) * dayWidth
}

func drawYear(s calendar.Season, now time.Time) yearline {
	first := time.Date(s.Year, 1, 1, 0, 0, 0, 0, time.UTC)
	days := int(first.AddDate(1, 0, 0).Sub(first).Hours() / 24)
	r := yearline{Width: days * dayWidth, DayWidth: dayWidth, Today: -1}
	for m := range 12 {
		at := first.AddDate(0, m, 0)
		r.Months = append(r.Months, flag{X: xOf(at.Format(time.DateOnly), s.Year), Name: at.Format("January")})
	}
	for d := range days {
		if first.AddDate(0, 0, d).Weekday() == time.Monday {
			r.Weeks = append(r.Weeks, d*dayWidth)
		}
	}
	r.flags(s)
	lanes := r.bars(s)
	r.Ground = laneTop + max(lanes, 1)*laneHigh + 8
	r.pins(s)
	r.Height = r.Ground + pinHigh + 30
	if local := now.In(zoneOf(s.Zone)); local.Year() == s.Year {
		r.Today = xOf(local.Format(time.DateOnly), s.Year)
	}
	return r
}

func zoneOf(name string) *time.Location {
	loc, err := time.LoadLocation(name)
	if err != nil {
		return time.UTC
	}
	return loc
}

func clashWords(s calendar.Season, c season.Clash) string {
	var names []string
	for _, g := range c.Goods {
		names = append(names, cmp.Or(s.Names[g], g))
	}
	if len(names) > 4 {
		names = append(names[:4], fmt.Sprintf("%d more", len(names)-4))
	}
	return fmt.Sprintf("%s and %s are both on %s, %s.", s.Names[c.A], s.Names[c.B], strings.Join(names, ", "), spanWords(c.From, c.To))
}

func spanWords(from, to string) string {
	a, err := time.Parse(time.DateOnly, from)
	b, failed := time.Parse(time.DateOnly, to)
	if err != nil || failed != nil {
		return from + " to " + to
	}
	if from == to {
		return a.Format("2 January")
	}
	return a.Format("2 January") + " to " + b.Format("2 January")
}
