// Package route says which step of a funnel follows which outcome.
package route

import (
	"fmt"
	"slices"

	"chrysagon/core/fork"
)

// Step is one place in a funnel: a page of the store, or something else that a
// visitor comes to.
type Step struct {
	ID      string `json:"id"`
	Kind    Kind   `json:"kind"`
	PageID  string `json:"page_id,omitempty"` // of a page of the store
	Name    string `json:"name"`
	Address string `json:"address,omitempty"` // of a page outside, whole
	FileID  string `json:"file_id,omitempty"` // of a file that is handed out
	Aim     string `json:"aim,omitempty"`     // of a downsell: the upsell that was declined
	DX      int    `json:"dx,omitempty"`      // how far its owner moved it on the map
	DY      int    `json:"dy,omitempty"`
}

// Route leads from a step, on an outcome, to another step, or by shares to one
// of several. Of the routes of one outcome the first that fits is taken.
type Route struct {
	ID      string       `json:"id,omitempty"` // by which visitors are assigned where it forks
	From    string       `json:"from"`
	Outcome Outcome      `json:"outcome"`
	When    []Condition  `json:"when,omitempty"` // all must hold; none: it is for everybody
	To      string       `json:"to,omitempty"`
	Fork    []fork.Share `json:"fork,omitempty"` // instead of To
}

// Key names the route to whoever keeps assignments.
func (r Route) Key() string {
	if r.ID != "" {
		return r.ID
	}
	return r.From + "/" + string(r.Outcome)
}

// Targets are the steps it can lead to, in the order of its shares.
func (r Route) Targets() []string {
	if len(r.Fork) == 0 {
		return []string{r.To}
	}
	out := make([]string, len(r.Fork))
	for i, s := range r.Fork {
		out[i] = s.To
	}
	return out
}

// Forks tells whether it divides its visitors.
func (r Route) Forks() bool { return len(r.Fork) > 0 }

// Funnel is a set of steps joined by routes.
type Funnel struct {
	Steps  []Step  `json:"steps"`
	Routes []Route `json:"routes"`
}

// Bounds of a funnel.
const (
	MostSteps  = 200
	MostRoutes = 1000
)

// Step returns the step of that ID.
func (f Funnel) Step(id string) (Step, bool) {
	if i := slices.IndexFunc(f.Steps, func(s Step) bool { return s.ID == id }); i >= 0 {
		return f.Steps[i], true
	}
	return Step{}, false
}

// StepOf returns the step that a page is.
func (f Funnel) StepOf(pageID string) (Step, bool) {
	if i := slices.IndexFunc(f.Steps, func(s Step) bool { return s.PageID == pageID && pageID != "" }); i >= 0 {
		return f.Steps[i], true
	}
	return Step{}, false
}

// From lists the routes of an outcome, in the order in which they are tried.
func (f Funnel) From(step string, o Outcome) []Route {
	var out []Route
	for _, r := range f.Routes {
		if r.From == step && r.Outcome == o {
			out = append(out, r)
		}
	}
	return out
}

// OutcomesOf lists what can come of a step: by its kind, and by its routes.
func (f Funnel) OutcomesOf(s Step) []Outcome {
	out := slices.Clone(s.Kind.Outcomes())
	for _, r := range f.Routes {
		if r.From == s.ID && !slices.Contains(out, r.Outcome) {
			out = append(out, r.Outcome)
		}
	}
	return out
}

// Next returns where an outcome leads from a step for who meets no condition:
// by the last route, to its first target.
func (f Funnel) Next(from string, outcome Outcome) (Step, error) {
	list := f.From(from, outcome)
	for _, r := range slices.Backward(list) {
		for _, id := range r.Targets() {
			if to, ok := f.Step(id); ok {
				return to, nil
			}
		}
	}
	return Step{}, fmt.Errorf("step %q has no route for %q", from, outcome)
}

// Clone is a copy that shares nothing with it.
func (f Funnel) Clone() Funnel {
	out := Funnel{Steps: slices.Clone(f.Steps), Routes: slices.Clone(f.Routes)}
	for i, r := range out.Routes {
		out.Routes[i].Fork = slices.Clone(r.Fork)
		out.Routes[i].When = slices.Clone(r.When)
	}
	return out
}
