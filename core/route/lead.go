package route

import "chrysagon/core/fork"

// Walker is a visitor as routes see them.
type Walker struct {
	ID      string   // by which forks assign them
	Bought  []string // goods of the order at hand
	Owned   []string // goods of any earlier order
	Bump    bool     // the bump was taken
	Total   int64    // of the order at hand, in minor units
	Again   bool     // they ordered here before
	Country string   // ISO 3166-1
	Source  string   // by which they came
	// Kept is where a route assigned them before, or "".
	Kept func(route string) string
}

// Led is where a visitor is led.
type Led struct {
	Step  Step
	Route Route
}

// Lead is where an outcome leads a visitor: by the first route that fits, and
// where it forks, to their share. Targets that are no steps any more, or that
// open refuses, are gone: they take nobody. ok is false where nothing leads on.
func (f Funnel) Lead(from string, o Outcome, w Walker, open func(Step) bool) (led Led, ok bool) {
	if !o.Leads() {
		return Led{}, false
	}
	to, r, ok := Among(f.From(from, o), w, func(id string) bool {
		s, ok := f.Step(id)
		return ok && (open == nil || open(s))
	})
	if !ok {
		return Led{}, false
	}
	s, _ := f.Step(to)
	return Led{Step: s, Route: r}, true
}

// Among is where the routes of one outcome lead a visitor, of those targets that are there.
func Among(list []Route, w Walker, there func(id string) bool) (to string, by Route, ok bool) {
	for _, r := range list {
		if !Hold(r.When, w) {
			continue
		}
		to := r.To
		if r.Forks() {
			kept := ""
			if w.Kept != nil {
				kept = w.Kept(r.Key())
			}
			open := make([]fork.Share, 0, len(r.Fork))
			for _, s := range r.Fork {
				if there(s.To) {
					open = append(open, s)
				}
			}
			to, _ = fork.Pick(r.Key(), w.ID, kept, open)
		}
		if to != "" && there(to) {
			return to, r, true
		}
	}
	return "", Route{}, false
}
