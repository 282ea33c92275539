package fault

import (
	"fmt"
	"slices"

	"chrysagon/core/check"
	"chrysagon/core/fork"
	"chrysagon/core/route"
)

// ways finds outcomes that must lead on and do not, and routes to steps that are gone.
func ways(r *reading) []Fault {
	var out []Fault
	add := func(s route.Step, o route.Outcome, what string) {
		f := Fault{StepID: s.ID, Outcome: o, What: what, Remedy: "Say where they go.", Gravity: check.Stops}
		if end, ok := r.end(); ok {
			f.Remedy, f.Mend = "Lead them to “"+end.Name+"”.", lead(s.ID, o, end.ID)
		}
		out = append(out, f)
	}
	for _, s := range r.Funnel.Steps {
		for _, o := range s.Kind.Must() {
			if len(r.Funnel.From(s.ID, o)) == 0 {
				add(s, o, fmt.Sprintf("Who %s on “%s” would have nowhere to go.", o.Who(), s.Name))
			}
		}
		for _, o := range r.Funnel.OutcomesOf(s) {
			list := r.Funnel.From(s.ID, o)
			if slices.ContainsFunc(list, func(one route.Route) bool {
				return slices.ContainsFunc(one.Targets(), func(id string) bool { _, there := r.index[id]; return !there })
			}) {
				add(s, o, fmt.Sprintf("A way for who %s on “%s” leads to a step that is gone.", o.Who(), s.Name))
			} else if n := len(list); n > 0 && len(list[n-1].When) > 0 {
				add(s, o, fmt.Sprintf("Every way for who %s on “%s” is only for some, so the others would have nowhere to go.", o.Who(), s.Name))
			}
		}
		if s.Kind == route.Bridge && !slices.ContainsFunc(r.Funnel.Routes, func(one route.Route) bool { return one.From == s.ID }) {
			f := Fault{StepID: s.ID, Outcome: route.Clicked(route.Yes), What: fmt.Sprintf("“%s” leads nowhere: nobody who reads it can go on.", s.Name), Remedy: "Say where it leads.", Gravity: check.Mend}
			r.toOffer(&f, "Lead it to “%s”.")
			out = append(out, f)
		}
	}
	return out
}

// buttons finds calls to action that lead nowhere in this funnel.
func buttons(r *reading) []Fault {
	var out []Fault
	for _, s := range r.Funnel.Steps {
		for _, name := range r.About[s.ID].Buttons {
			o := route.Clicked(name)
			if !o.Leads() || len(r.Funnel.From(s.ID, o)) > 0 {
				continue
			}
			f := Fault{StepID: s.ID, Outcome: o, What: fmt.Sprintf("A button of “%s” says “%s”, which has no route here.", s.Name, name), Remedy: "Say where it leads.", Gravity: check.Stops}
			if s.Kind != route.ThankYou {
				r.toOffer(&f, "Lead it to “%s”.")
			}
			out = append(out, f)
		}
	}
	return out
}

// reached finds steps to which no path leads.
func reached(r *reading) []Fault {
	var out []Fault
	for _, s := range r.Funnel.Steps {
		if r.met[s.ID] {
			continue
		}
		gravity := check.Mend
		if s.Kind.AfterPayment() {
			gravity = check.Stops // who has paid must come to an end
		}
		out = append(out, Fault{
			StepID: s.ID, What: fmt.Sprintf("“%s” is reached by no path.", s.Name), Remedy: "Lead a route to it, or take it off the map.", Gravity: gravity,
			Mend: &route.Command{Do: route.RemoveStep, Step: route.Step{ID: s.ID}},
		})
	}
	return out
}

// circles finds steps from which no path ends, and circles after a payment: an
// offer that was answered is not shown again.
func circles(r *reading) []Fault {
	ends := map[string]bool{}
	can := func(s route.Step) bool {
		if s.Kind.Ends() {
			return true
		}
		on := false
		for _, one := range r.Funnel.Routes {
			for _, to := range one.Targets() {
				if _, there := r.index[to]; there && one.From == s.ID {
					if on = true; ends[to] {
						return true
					}
				}
			}
		}
		return !on // who stays on a page has come to the end of the path
	}
	for changed := true; changed; {
		changed = false
		for _, s := range r.Funnel.Steps {
			if !ends[s.ID] && can(s) {
				ends[s.ID], changed = true, true
			}
		}
	}
	var out []Fault
	add := func(s route.Step, what string) {
		f := Fault{StepID: s.ID, What: what, Remedy: "Give one of its steps a way out.", Gravity: check.Stops}
		if end, ok := r.end(); ok && s.Kind.Offers() {
			f.Remedy, f.Mend = "Lead who says no on “"+s.Name+"” to “"+end.Name+"”.", lead(s.ID, route.Declined, end.ID)
		}
		out = append(out, f)
	}
	for _, s := range r.Funnel.Steps {
		switch {
		case !ends[s.ID]:
			add(s, fmt.Sprintf("No path from “%s” comes to an end.", s.Name))
		case s.Kind.Offers() && r.around(s.ID):
			add(s, fmt.Sprintf("A path leads from “%s” back to it: who has answered it once would go in a circle.", s.Name))
		}
	}
	return out
}

// around tells whether a path of offers leads from a step back to it.
func (r *reading) around(id string) bool {
	seen, queue := map[string]bool{}, []string{id}
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		for _, one := range r.Funnel.Routes {
			if one.From != at {
				continue
			}
			for _, to := range one.Targets() {
				s, ok := r.Funnel.Step(to)
				if to == id {
					return true
				}
				if ok && s.Kind.Offers() && !seen[to] {
					seen[to] = true
					queue = append(queue, to)
				}
			}
		}
	}
	return false
}

// shares finds forks that divide nobody.
func shares(r *reading) []Fault {
	var out []Fault
	for _, one := range r.Funnel.Routes {
		if !one.Forks() || fork.Check(one.Fork) == nil {
			continue
		}
		from, _ := r.Funnel.Step(one.From)
		mended := r.Funnel.From(one.From, one.Outcome)
		for i := range mended {
			if mended[i].Key() != one.Key() {
				continue
			}
			mended[i].Fork = slices.Clone(mended[i].Fork)
			for j := range mended[i].Fork {
				mended[i].Fork[j].Share = 1
			}
		}
		out = append(out, Fault{
			StepID: one.From, Outcome: one.Outcome, What: fmt.Sprintf("The shares for who %s on “%s” come to nothing.", one.Outcome.Who(), from.Name),
			Remedy: "Give all of them the same share.", Gravity: check.Stops,
			Mend: &route.Command{Do: route.LeadTo, From: one.From, Outcome: one.Outcome, Routes: mended},
		})
	}
	return out
}

// outside finds pages elsewhere from which nobody comes back.
func outside(r *reading) []Fault {
	var out []Fault
	for _, s := range r.Funnel.Steps {
		if s.Kind != route.Outside || slices.ContainsFunc(r.Funnel.Routes, func(one route.Route) bool { return one.From == s.ID }) {
			continue
		}
		f := Fault{StepID: s.ID, Outcome: route.Clicked(route.Yes), What: fmt.Sprintf("From “%s” no way leads back.", s.Name), Remedy: "Say where its readers come back to, and put that address behind its button.", Gravity: check.Mend}
		r.toOffer(&f, "Lead them to “%s”, and put that address behind its button.")
		out = append(out, f)
	}
	return out
}

// bound finds offers that hold on steps only that nobody reaches.
func bound(r *reading) []Fault {
	var out []Fault
	for _, b := range r.Bound {
		here := slices.ContainsFunc(b.Steps, func(id string) bool { _, there := r.index[id]; return there })
		if here && !slices.ContainsFunc(b.Steps, func(id string) bool { return r.met[id] }) {
			out = append(out, Fault{StepID: b.Steps[0], What: fmt.Sprintf("The offer “%s” holds on a step that no path reaches.", b.Offer), Remedy: "Lead a route to the step, or bind the offer to another.", Gravity: check.Mend})
		}
	}
	return out
}

// never finds routes that nobody takes, because of what stands before them or in them.
func never(r *reading) []Fault {
	var out []Fault
	for _, s := range r.Funnel.Steps {
		for _, o := range r.Funnel.OutcomesOf(s) {
			list := r.Funnel.From(s.ID, o)
			for i, one := range list {
				what := nobodys(list[:i], one)
				if what == "" && !s.Kind.AfterPayment() && o != route.Bought {
					for _, c := range one.When {
						if k, ok := route.ConditionOf(c.Kind); ok && k.Paid {
							what = "it is about an order, and nobody has ordered yet"
						}
					}
				}
				if what == "" {
					continue
				}
				out = append(out, Fault{
					StepID: s.ID, Outcome: o, What: fmt.Sprintf("The %s way for who %s on “%s” is never taken: %s.", nth(i), o.Who(), s.Name, what), Remedy: "Take this way out.", Gravity: check.Mend,
					Mend: &route.Command{Do: route.LeadTo, From: s.ID, Outcome: o, Routes: slices.Delete(slices.Clone(list), i, i+1)},
				})
			}
		}
	}
	return out
}

// nobodys says why a route behind others is nobody's, or "".
func nobodys(before []route.Route, one route.Route) string {
	for i, c := range one.When {
		for _, d := range one.When[:i] {
			if c.Excludes(d) {
				return "its conditions exclude each other"
			}
		}
	}
	for i, b := range before {
		taken := !slices.ContainsFunc(b.When, func(d route.Condition) bool {
			return !slices.ContainsFunc(one.When, func(c route.Condition) bool { return c.Implies(d) })
		})
		if taken {
			return fmt.Sprintf("whoever meets it takes the %s way before it", nth(i))
		}
	}
	return ""
}

func nth(i int) string {
	names := []string{"first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"}
	if i < len(names) {
		return names[i]
	}
	return fmt.Sprintf("%dth", i+1)
}
