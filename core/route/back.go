package route

import (
	"slices"

	"chrysagon/core/refusal"
)

// Back takes a change back: what differs between before and after is made as it was
// before, on a funnel that may have changed elsewhere since. What has changed in the
// same place is refused, and nothing is lost. To do a change again is to take back
// its taking back.
func (f Funnel) Back(before, after Funnel) (Funnel, error) {
	out := f.Clone()
	conflict := refusal.Of(refusal.ErrConflict, "The same place of the map was changed since; change it by hand.")
	for _, s := range before.Steps {
		at, was := slices.IndexFunc(out.Steps, func(o Step) bool { return o.ID == s.ID }), s
		now, kept := after.Step(s.ID)
		switch {
		case !kept && at >= 0:
			return f, conflict
		case !kept:
			out.Steps = append(out.Steps, was)
		case now == was:
		case at < 0 || (out.Steps[at] != now && called(out.Steps[at], now.Name) != now):
			return f, conflict
		default:
			out.Steps[at] = was
		}
	}
	for _, s := range after.Steps {
		if _, had := before.Step(s.ID); !had {
			out.Steps = slices.DeleteFunc(out.Steps, func(o Step) bool { return o.ID == s.ID })
		}
	}
	for _, k := range keys(before, after) {
		was, now := before.From(k.from, k.outcome), after.From(k.from, k.outcome)
		if slices.EqualFunc(was, now, sameRoute) {
			continue
		}
		if !slices.EqualFunc(out.From(k.from, k.outcome), now, sameRoute) {
			return f, conflict
		}
		out.Routes = slices.DeleteFunc(out.Routes, func(r Route) bool { return r.From == k.from && r.Outcome == k.outcome })
		out.Routes = append(out.Routes, was...)
	}
	for _, r := range out.Routes {
		if _, ok := out.Step(r.From); !ok {
			return f, conflict
		}
		for _, to := range r.Targets() {
			if _, ok := out.Step(to); !ok {
				return f, conflict
			}
		}
	}
	return out.walked(), nil
}

// called is a step by another name: pages are renamed elsewhere.
func called(s Step, name string) Step {
	s.Name = name
	return s
}

type key struct {
	from    string
	outcome Outcome
}

// keys are the outcomes that lead on in either of two funnels.
func keys(a, b Funnel) []key {
	var out []key
	for _, r := range append(slices.Clone(a.Routes), b.Routes...) {
		if k := (key{r.From, r.Outcome}); !slices.Contains(out, k) {
			out = append(out, k)
		}
	}
	return out
}
