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
	flagRows  = 6
	laneHigh  = 34
	laneTop   = flagsTop + flagRows*flagLine + 14
	pinHigh   = 62
	letterDot = 6.6 // mean width of a letter in a flag
)

type flag struct {
	X, Y    int
	Name    string
	Date    string
	Holiday bool
	Left    bool // its words stand to its left, since the year ends
}

type bar struct {
	ID, Name, Says string
	X, Y, Width    int
	Live           bool
	TextX          int  // where its name begins, or ends
	Left           bool // its name ends there
}

// named places a bar's name: in it where it fits, else after it, or before it where the year
// ends; from and to are what it takes with its name.
func (b *bar) named(year int) (from, to int) {
	width := lettersWide(b.Name) + 24
	switch {
	case width <= b.Width:
		b.TextX = b.X + 11
		return b.X, b.X + b.Width
	case b.X+b.Width+width <= year:
		b.TextX = b.X + b.Width + 7
		return b.X, b.X + b.Width + width
	}
	b.TextX, b.Left = b.X-7, true
	return b.X - width, b.X + b.Width
}

// lettersWide is about how wide a name is, in a flag's letters.
func lettersWide(name string) int { return int(float64(len([]rune(name))) * letterDot) }

// beside is where words begin that stand at x, or end there.
func beside(x, width int, left bool) int {
	if left {
		return x - width
	}
	return x
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
	Left  bool // its words stand to its left, since the year ends
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
