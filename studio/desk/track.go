package desk

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/studio/proof"
)

func sortMarks(marks []mark) {
	slices.SortFunc(marks, func(a, b mark) int { return cmp.Compare(a.At, b.At) })
}

// track is the as-of slider: its span and the moments at which the page changes.
type track struct {
	From, To, Now int64 // Unix seconds
	Marks         []mark
}

type mark struct {
	At    int64  `json:"at"`
	Label string `json:"label"`
	When  string `json:"when"`
}

func (place *Place) track(d proof.Draw, now time.Time) track {
	zone := d.Input.Facts.Store.Zone
	at := map[time.Time][]string{}
	add := func(t time.Time, what string) {
		if !t.IsZero() {
			at[t] = append(at[t], what)
		}
	}
	for _, o := range d.Input.Facts.Offers {
		add(o.Starts, o.Name+" begins")
		add(o.Ends, o.Name+" ends")
	}
	for id := range d.Input.Facts.Deadlines {
		if dl, ok := d.Input.Facts.Deadline(id, now); ok {
			add(dl.At, dl.Name)
		}
	}
	first, last := now, now
	tr := track{Now: now.Unix()}
	for t, what := range at {
		if t.Before(first) {
			first = t
		}
		if t.After(last) {
			last = t
		}
		tr.Marks = append(tr.Marks, mark{At: t.Unix(), Label: strings.Join(what, ", "), When: deadline.Short(t, zone)})
	}
	margin := max(last.Sub(first)/5, 24*time.Hour)
	tr.From, tr.To = first.Add(-margin).Unix(), last.Add(margin).Unix()
	sortMarks(tr.Marks)
	return tr
}
