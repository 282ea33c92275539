// Package route says which step of a funnel follows which outcome.
package route

import (
	"fmt"
	"maps"
	"sort"
)

// Outcome is what a visitor did on a step.
type Outcome string

// The outcomes that lead on from a step.
const (
	Bought   Outcome = "bought"
	Accepted Outcome = "accepted"
	Declined Outcome = "declined"
)

// Kind is what a step does in its funnel.
type Kind string

// The kinds of step.
const (
	Sales    Kind = "sales"
	UpsellAt Kind = "upsell"
	ThankYou Kind = "thank_you"
)

// Outcomes lists the outcomes a step of this kind has. A step without any
// ends its path.
func (k Kind) Outcomes() []Outcome {
	switch k {
	case Sales:
		return []Outcome{Bought}
	case UpsellAt:
		return []Outcome{Accepted, Declined}
	case ThankYou:
	}
	return nil
}

// Step is one page's place in a funnel.
type Step struct {
	ID     string `json:"id"`
	Kind   Kind   `json:"kind"`
	PageID string `json:"page_id"`
	Name   string `json:"name"`
}

// Route leads from a step, on an outcome, to another step.
type Route struct {
	From    string  `json:"from"`
	Outcome Outcome `json:"outcome"`
	To      string  `json:"to"`
}

// Funnel is a set of steps joined by routes. The first step is
// its entrance, and so is every page that sells.
type Funnel struct {
	Steps  []Step  `json:"steps"`
	Routes []Route `json:"routes"`
}

// Step returns the step of that ID.
func (f Funnel) Step(id string) (Step, bool) {
	for _, s := range f.Steps {
		if s.ID == id {
			return s, true
		}
	}
	return Step{}, false
}

// Next returns where an outcome leads from a step.
func (f Funnel) Next(from string, outcome Outcome) (Step, error) {
	for _, r := range f.Routes {
		if r.From == from && r.Outcome == outcome {
			if to, ok := f.Step(r.To); ok {
				return to, nil
			}
		}
	}
	return Step{}, fmt.Errorf("step %q has no route for %q", from, outcome)
}

// Fault is one thing that keeps a funnel from working.
type Fault struct {
	StepID string `json:"step_id"`
	What   string `json:"what"`
}

// Faults proves a funnel: every outcome leads to one step that exists, every
// step can be reached from an entrance, every path ends, and an upsell is
// reached only after a payment. It returns what does not hold.
func (f Funnel) Faults() []Fault {
	var faults []Fault
	add := func(id, what string, args ...any) {
		faults = append(faults, Fault{StepID: id, What: fmt.Sprintf(what, args...)})
	}
	if len(f.Steps) == 0 {
		add("", "The funnel has no step.")
		return faults
	}
	if f.Steps[0].Kind == UpsellAt {
		add(f.Steps[0].ID, "An upsell comes only after a payment; it cannot be the entrance.")
	}
	count := map[string]int{}
	for _, r := range f.Routes {
		count[r.From+" "+string(r.Outcome)]++
		if _, ok := f.Step(r.To); !ok {
			add(r.From, "The route for “%s” leads to a step that does not exist.", r.Outcome)
		}
	}
	for _, s := range f.Steps {
		for _, o := range s.Kind.Outcomes() {
			if n := count[s.ID+" "+string(o)]; n != 1 {
				add(s.ID, "“%s” needs exactly one route for “%s”; it has %d.", s.Name, o, n)
			}
		}
	}
	reached := map[string]bool{}
	for i, s := range f.Steps {
		if i == 0 || s.Kind == Sales { // a page that sells has an address of its own to be found at
			maps.Copy(reached, f.reach(s.ID))
		}
	}
	ends := f.ending()
	for _, s := range f.Steps {
		if !reached[s.ID] {
			add(s.ID, "“%s” cannot be reached from a page that sells.", s.Name)
		} else if !ends[s.ID] {
			add(s.ID, "No path from “%s” comes to an end.", s.Name)
		}
	}
	sort.SliceStable(faults, func(i, j int) bool { return faults[i].StepID < faults[j].StepID })
	return faults
}

func (f Funnel) reach(from string) map[string]bool {
	seen, queue := map[string]bool{from: true}, []string{from}
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		for _, r := range f.Routes {
			if r.From == at && !seen[r.To] {
				seen[r.To] = true
				queue = append(queue, r.To)
			}
		}
	}
	return seen
}

// ending finds the steps from which every outcome can come to an end.
func (f Funnel) ending() map[string]bool {
	ends := map[string]bool{}
	for changed := true; changed; {
		changed = false
		for _, s := range f.Steps {
			if ends[s.ID] {
				continue
			}
			done := true
			for _, r := range f.Routes {
				done = done && (r.From != s.ID || ends[r.To])
			}
			if done {
				ends[s.ID], changed = true, true
			}
		}
	}
	return ends
}
