package audience

import (
	"fmt"
	"time"

	"chrysagon/app/followups"
	"chrysagon/core/deadline"
	"chrysagon/core/followup"
)

// drawing is a line as one picture: days from left to right, letters where they come.
type drawing struct {
	Width, Height, Ground int
	Nights                []span
	Days                  []mark
	Letters               []letterMark
	End                   *mark
	After                 *span    // what lies after the end
	Says                  []string // what is not sent, and why
	Forks                 []string // what is only for some, and for whom
}

type span struct{ X, Width int }

type mark struct {
	X    int
	Name string
}

type letterMark struct {
	X, LabelX, Row, Y int
	Name, When, Why   string
	Sent              bool
	Forked            bool // it is for who did something else than nothing
}

const (
	drawnWide = 920
	ground    = 118
	labelWide = 132
	rowHigh   = 36
)

// draw draws how a line would reach somebody who begins at a moment.
func draw(told []followup.Told, l followups.Line, at time.Time, zone *time.Location) drawing {
	d := drawing{Width: drawnWide, Ground: ground}
	from := midnight(at, zone, 0)
	last := at
	for _, t := range told {
		if t.At.After(last) {
			last = t.At
		}
	}
	if until := l.Says.Until; !until.IsZero() && until.After(at) && until.Sub(last) < 30*24*time.Hour {
		if until.After(last) {
			last = until
		}
	}
	to := midnight(last, zone, 1)
	if to.Sub(from) < 72*time.Hour {
		to = midnight(from, zone, 3)
	}
	x := func(t time.Time) int { return int(float64(drawnWide) * float64(t.Sub(from)) / float64(to.Sub(from))) }
	days := int(to.Sub(from).Hours()/24 + 0.5)
	every := max(1, (days*118+drawnWide-1)/drawnWide)
	for i := range days {
		begin, next := midnight(from, zone, i), midnight(from, zone, i+1)
		if days <= 21 { // nights, from ten in the evening to seven
			seven, ten := begin.Add(7*time.Hour), begin.Add(22*time.Hour)
			d.Nights = append(d.Nights, span{x(begin), x(seven) - x(begin)}, span{x(ten), x(next) - x(ten)})
		}
		if i%every == 0 {
			d.Days = append(d.Days, mark{x(begin), begin.Format("Mon 2 January")})
		}
	}
	if until := l.Says.Until; !until.IsZero() && until.After(from) && until.Before(to) {
		d.End = &mark{x(until), l.Deadline.Name + ", " + until.In(zone).Format("15:04")}
		d.After = &span{x(until), drawnWide - x(until)}
	}
	var ends []int // of the labels in each row
	for _, t := range told {
		m := letterMark{X: x(t.At), Name: l.Letters[t.Letter].Name, When: deadline.Short(t.At, zone.String()), Why: t.Why, Sent: t.Outcome == followup.Sent, Forked: t.Outcome == followup.Skipped}
		if m.Name == "" {
			m.Name = "a letter that was set aside"
		}
		left := min(max(m.X-labelWide/2, 0), drawnWide-labelWide)
		m.LabelX = left + labelWide/2
		for m.Row < len(ends) && ends[m.Row] > left {
			m.Row++
		}
		if m.Row == len(ends) {
			ends = append(ends, 0)
		}
		ends[m.Row] = left + labelWide + 6
		m.Y = ground + 22 + m.Row*rowHigh
		d.Letters = append(d.Letters, m)
		switch {
		case m.Forked:
			d.Forks = append(d.Forks, fmt.Sprintf("“%s” is %s.", m.Name, t.Why))
		case !m.Sent:
			d.Says = append(d.Says, fmt.Sprintf("“%s”, %s: %s.", m.Name, m.When, t.Why))
		}
	}
	d.Height = ground + 22 + max(1, len(ends))*rowHigh + 18
	return d
}

// midnight is the beginning of the day of a moment, so many days on.
func midnight(t time.Time, zone *time.Location, days int) time.Time {
	t = t.In(zone)
	return time.Date(t.Year(), t.Month(), t.Day()+days, 0, 0, 0, 0, zone)
}
