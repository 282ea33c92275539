package route

import (
	"fmt"
	"net/url"
	"slices"
	"strings"

	"chrysagon/core/fork"
	"chrysagon/core/refusal"
)

// Do is what a command does to a funnel.
type Do string

// What can be done.
const (
	AddStep    Do = "add"    // put a step on the map
	RemoveStep Do = "remove" // take one off; what led to it leads on
	ChangeStep Do = "change" // its name, its address, its aim
	MoveStep   Do = "move"   // where it is drawn
	LeadTo     Do = "lead"   // say where an outcome leads, for whom and by which shares
)

// Command is one change of a funnel.
type Command struct {
	Do      Do      `json:"do"`
	Step    Step    `json:"step,omitzero"`     // to add; of a change: with what changes
	From    string  `json:"from,omitempty"`    // the step whose outcome is led
	Outcome Outcome `json:"outcome,omitempty"` // that is led
	Routes  []Route `json:"routes,omitempty"`  // all of that outcome, in the order in which they are tried
}

// Apply carries out a command. What cannot be done is refused with a sentence,
// and the funnel stays as it was.
func (f Funnel) Apply(c Command) (Funnel, error) {
	switch c.Do {
	case AddStep:
		if why := c.Step.fault(); why != "" {
			return f, refusal.Of(refusal.ErrInvalid, "%s", why)
		}
		out, err := f.Join(c.Step)
		if err != nil {
			return f, refusal.Of(refusal.ErrConflict, "“%s” cannot be put on the map: %s.", c.Step.Name, err)
		}
		return out, nil
	case RemoveStep:
		out, err := f.Leave(c.Step.ID)
		if err != nil {
			return f, refusal.Of(refusal.ErrConflict, "This step stays: %s.", err)
		}
		return out, nil
	case ChangeStep, MoveStep:
		return f.change(c)
	case LeadTo:
		return f.lead(c)
	}
	return f, refusal.Of(refusal.ErrInvalid, "There is no such change.")
}

// fault says what is wrong with a step, or "".
func (s Step) fault() string {
	switch {
	case !s.Kind.Known():
		return "Choose what kind of step it is."
	case strings.TrimSpace(s.Name) == "" || len(s.Name) > 120:
		return "Give the step a name of at most 120 letters."
	case s.Kind == Outside:
		if u, err := url.Parse(s.Address); err != nil || u.Host == "" || u.User != nil || (u.Scheme != "https" && u.Scheme != "http") {
			return "Write the whole address of the page outside, with https:// before it."
		}
	case s.Kind == File && s.FileID == "":
		return "Choose the file that is handed out."
	case s.Kind.Paged() && s.PageID == "":
		return "Choose the page."
	}
	return ""
}

// furthest is how far a step can be moved on the map.
const furthest = 2000

func (f Funnel) change(c Command) (Funnel, error) {
	i := slices.IndexFunc(f.Steps, func(s Step) bool { return s.ID == c.Step.ID })
	if i < 0 {
		return f, refusal.Of(refusal.ErrNotFound, "This step is not on the map any more.")
	}
	out := f.Clone()
	s := &out.Steps[i]
	if c.Do == MoveStep {
		s.DX, s.DY = min(max(c.Step.DX, -furthest), furthest), min(max(c.Step.DY, -furthest), furthest)
		return out, nil
	}
	s.Name, s.Address, s.Aim = c.Step.Name, c.Step.Address, c.Step.Aim
	if aim, ok := f.Step(s.Aim); s.Aim != "" && (!ok || aim.Kind != UpsellAt || s.Kind != DownsellAt) {
		return f, refusal.Of(refusal.ErrInvalid, "A downsell belongs to the upsell that was declined.")
	}
	if why := s.fault(); why != "" {
		return f, refusal.Of(refusal.ErrInvalid, "%s", why)
	}
	return out, nil
}

func (f Funnel) lead(c Command) (Funnel, error) {
	from, ok := f.Step(c.From)
	switch {
	case !ok:
		return f, refusal.Of(refusal.ErrNotFound, "This step is not on the map any more.")
	case !c.Outcome.Known() || !c.Outcome.Leads() || from.Kind.Ends():
		return f, refusal.Of(refusal.ErrInvalid, "Nothing leads on from here.")
	case len(f.Routes)+len(c.Routes) > MostRoutes || len(c.Routes) > 20:
		return f, refusal.Of(refusal.ErrInvalid, "That is more ways than a map can hold: 20 for one outcome, %d in all.", MostRoutes)
	}
	var led []Route
	for i, r := range c.Routes {
		r = r.single()
		if r.From, r.Outcome = c.From, c.Outcome; r.To != "" {
			r.Fork = nil
		}
		if why := f.routeFault(from, r, i == len(c.Routes)-1); why != "" {
			return f, refusal.Of(refusal.ErrInvalid, "%s", why)
		}
		led = append(led, r)
	}
	out := f.Clone()
	at := slices.IndexFunc(out.Routes, func(r Route) bool { return r.From == c.From && r.Outcome == c.Outcome })
	out.Routes = slices.DeleteFunc(out.Routes, func(r Route) bool { return r.From == c.From && r.Outcome == c.Outcome })
	if at < 0 {
		at = len(out.Routes)
	}
	out.Routes = slices.Insert(out.Routes, at, led...)
	return out.walked(), nil
}

// routeFault says what is wrong with one of the routes of an outcome, or "".
func (f Funnel) routeFault(from Step, r Route, last bool) string {
	for _, id := range r.Targets() {
		to, ok := f.Step(id)
		switch {
		case !ok:
			return fmt.Sprintf("Choose where who %s goes.", r.Outcome.Who())
		case id == from.ID:
			return fmt.Sprintf("Who %s on “%s” cannot go to the same page again.", r.Outcome.Who(), from.Name)
		case to.Kind.Offers() && r.Outcome != Bought && !from.Kind.AfterPayment():
			return fmt.Sprintf("“%s” charges a card that was used before, so it can follow a payment only.", to.Name)
		}
	}
	if r.Forks() {
		if err := fork.Check(r.Fork); err != nil {
			return "These shares come to nothing, or one of them is no whole number from 0 to 1,000,000. Give one of them a share."
		}
	}
	if len(r.When) == 0 != last {
		if last {
			return "The last way must be open to everybody: else some would have nowhere to go."
		}
		return "A way that is open to everybody must come last: none behind it would ever be taken."
	}
	if len(r.When) > 10 {
		return "That is more conditions than anybody can follow; ten are the most."
	}
	for _, c := range r.When {
		if why := c.Fault(); why != "" {
			return why
		}
	}
	return ""
}
