package results

import (
	"fmt"

	"chrysagon/app/results"
	"chrysagon/core/route"
	"chrysagon/studio/frame"
)

// stairView is one step of the staircase, placed in its drawing.
type stairView struct {
	Name, What, Count, Falls, Share, Revenue string
	X, Y, Height, FallY, FallHeight          int
	TextY                                    int
}

const (
	stairWidth  = 250
	stairFloor  = 250 // y of the ground
	stairHeight = 190 // of the highest step
	stairLeast  = 6   // a step is drawn at least this high, so that it is seen
)

// staircase places the steps: each as high as those who reached it, on a
// square-root scale so that the later ones stay readable, and hatched what
// falls off between. Several entrances stand side by side, each with its own
// orders; a yes is a part of those who were asked.
func staircase(r results.Results) []stairView {
	type step struct {
		name, what string
		n, of      int64 // of: out of which; below zero: an entrance
		noun       string
		revenue    string
	}
	var steps []step
	for _, s := range r.Stairs {
		switch {
		case s.Step.Kind == route.Sales:
			steps = append(steps, step{name: s.Step.Name, what: "visitors", n: s.Reached, of: -1}, step{name: "Checkout", what: "orders paid", n: s.Passed, of: s.Reached, noun: "visitors", revenue: s.Revenue.String()})
		case s.Step.Kind.Offers():
			steps = append(steps, step{name: s.Step.Name, what: "said yes", n: s.Passed, of: s.Reached, noun: "who answered", revenue: s.Revenue.String()})
		case !s.Step.Kind.Ends():
			steps = append(steps, step{name: s.Step.Name, what: "visitors", n: s.Reached, of: -1})
		}
	}
	var most int64 = 1
	for _, s := range steps {
		most = max(most, s.n, s.of)
	}
	height := func(n int64) int {
		if n == 0 {
			return stairLeast / 2
		}
		return max(isqrt(n*stairHeight*stairHeight/most), stairLeast)
	}
	views := make([]stairView, len(steps))
	for i, s := range steps {
		h := height(s.n)
		v := stairView{Name: s.name, What: s.what, Count: fmt.Sprint(s.n), X: i * stairWidth, Height: h, Y: stairFloor - h, Revenue: s.revenue}
		v.TextY = v.Y - 12
		if s.of >= 0 {
			v.Share = frame.Percent(s.n, s.of) + " of " + s.noun
			v.FallY = stairFloor - height(s.of)
			v.FallHeight = max(v.Y-v.FallY, 0)
			if lost := s.of - s.n; lost > 0 {
				v.Falls = fmt.Sprintf("%d fall off", lost)
			}
		}
		views[i] = v
	}
	return views
}

// stairsWide is how wide the drawing of so many steps is.
func stairsWide(n int) int { return max(n*stairWidth+30, 3*stairWidth+30) }

// isqrt is the whole square root.
func isqrt(n int64) int {
	lo, hi := int64(0), int64(1)<<31
	for lo < hi {
		mid := (lo + hi + 1) / 2
		if mid*mid <= n {
			lo = mid
		} else {
			hi = mid - 1
		}
	}
	return int(lo)
}

// dayBar is one day's revenue, placed in its drawing.
type dayBar struct {
	X, Y, Height int
	Tip          string
}

const (
	dayPitch  = 22
	dayFloor  = 90
	dayHeight = 80
)

func daily(r results.Results) []dayBar {
	var most int64 = 1
	for _, d := range r.Daily {
		most = max(most, d.Revenue.Minor)
	}
	bars := make([]dayBar, len(r.Daily))
	for i, d := range r.Daily {
		h := int(d.Revenue.Minor * dayHeight / most)
		if d.Orders > 0 {
			h = max(h, 2)
		}
		bars[i] = dayBar{X: i * dayPitch, Y: dayFloor - h, Height: h, Tip: fmt.Sprintf("%s: %d orders, %s", d.Date.Format("Mon 2 Jan"), d.Orders, d.Revenue)}
	}
	return bars
}
