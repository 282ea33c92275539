package fault

import (
	"fmt"
	"slices"

	"chrysagon/core/check"
	"chrysagon/core/route"
)

// unpaid finds offers after paying that are reached by who has not paid.
func unpaid(r *reading) []Fault {
	var out []Fault
	for _, s := range r.states(func(s state, step route.Step, _ About) bool { return step.Kind.AfterPayment() && !s.paid }) {
		step, _ := r.step(s)
		f := Fault{StepID: step.ID, What: fmt.Sprintf("“%s” is for who has paid, and is reached unpaid: %s.", step.Name, r.path(s)), Remedy: "Lead that route elsewhere.", Gravity: check.Stops}
		by := r.from[s]
		if from := r.Funnel.Steps[by.state.step]; !by.began {
			f.Outcome = by.outcome
			if to, ok := r.offer(from.ID); ok && from.Kind != route.Sales {
				f.Remedy, f.Mend = "Lead who "+by.outcome.Who()+" on “"+from.Name+"” to “"+to.Name+"”.", lead(from.ID, by.outcome, to.ID)
			}
		}
		out = append(out, f)
	}
	return out
}

// checkouts finds sales pages to which who has just paid is led.
func checkouts(r *reading) []Fault {
	var out []Fault
	for _, s := range r.states(func(s state, step route.Step, _ About) bool { return step.Kind == route.Sales && s.paid }) {
		step, _ := r.step(s)
		f := Fault{StepID: step.ID, What: fmt.Sprintf("Who has just paid is led into a second checkout: %s.", r.path(s)), Remedy: "Lead buyers to an offer after paying, or to the thank-you page.", Gravity: check.Mend}
		by := r.from[s]
		if end, ok := r.end(); ok && !by.began {
			from := r.Funnel.Steps[by.state.step]
			f.Outcome, f.Remedy, f.Mend = by.outcome, "Lead who "+by.outcome.Who()+" on “"+from.Name+"” to “"+end.Name+"”.", lead(from.ID, by.outcome, end.ID)
		}
		out = append(out, f)
	}
	return out
}

// twice finds offers of goods that some who come there have in their order.
func twice(r *reading) []Fault {
	var out []Fault
	for _, s := range r.states(func(s state, _ route.Step, about About) bool { return r.has(s, about.Sells) }) {
		step, about := r.step(s)
		f := Fault{StepID: step.ID, What: fmt.Sprintf("“%s” offers %s to some who have it in their order: %s. They are led past it, as by a no.", step.Name, r.name(about.Sells), r.path(s)),
			Remedy: "Lead who has bought it past this step.", Gravity: check.Mend}
		if step.Kind == route.Sales {
			f.What = fmt.Sprintf("“%s” sells %s to some who have just bought it: %s.", step.Name, r.name(about.Sells), r.path(s))
		}
		f.Mend = r.past(s, about.Sells)
		out = append(out, f)
	}
	return out
}

// past is the command that leads who has bought goods past a step that offers
// them, to where its no leads.
func (r *reading) past(s state, goods string) *route.Command {
	by, step := r.from[s], r.Funnel.Steps[s.step]
	to, err := r.Funnel.Next(step.ID, route.Declined)
	if by.began || err != nil {
		return nil
	}
	from := r.Funnel.Steps[by.state.step]
	list := slices.Clone(r.Funnel.From(from.ID, by.outcome))
	has := []route.Condition{{Kind: route.IfBought, Values: []string{goods}}}
	return &route.Command{Do: route.LeadTo, From: from.ID, Outcome: by.outcome, Routes: append([]route.Route{{When: has, To: to.ID}}, list...)}
}

// afterNo lists the offers to which a no leads, each with the step that was declined.
func (r *reading) afterNo(is func(declined, then About, step route.Step) string) []Fault {
	var out []Fault
	for _, one := range r.Funnel.Routes {
		from, ok := r.Funnel.Step(one.From)
		if !ok || one.Outcome != route.Declined {
			continue
		}
		for _, id := range one.Targets() {
			to, ok := r.Funnel.Step(id)
			if !ok || !to.Kind.Offers() {
				continue
			}
			what := is(r.About[from.ID], r.About[to.ID], to)
			if what == "" {
				continue
			}
			f := Fault{StepID: to.ID, Outcome: route.Declined, What: fmt.Sprintf("Who says no on “%s” comes to “%s”, %s.", from.Name, to.Name, what), Remedy: "Ask less there, or lead the no elsewhere.", Gravity: check.Mend}
			if on, err := r.Funnel.Next(to.ID, route.Declined); err == nil && on.ID != from.ID {
				f.Remedy, f.Mend = "Lead that no to “"+on.Name+"”.", lead(from.ID, route.Declined, on.ID)
			}
			out = append(out, f)
		}
	}
	return out
}

// again finds a no that leads to the same goods at the same price.
func again(r *reading) []Fault {
	return r.afterNo(func(declined, then About, _ route.Step) string {
		if then.Sells == "" || then.Sells != declined.Sells || then.Price < declined.Price {
			return ""
		}
		return "which asks the same again: " + r.name(then.Sells) + ", and no less"
	})
}

// dearer finds downsells that cost more than what was declined.
func dearer(r *reading) []Fault {
	return r.afterNo(func(declined, then About, step route.Step) string {
		if step.Kind != route.DownsellAt || then.Sells == "" || then.Sells == declined.Sells || then.Price <= declined.Price {
			return ""
		}
		return "which costs more than what was declined"
	})
}

// addresses finds offers of goods that travel, to buyers who were asked for no address.
func addresses(r *reading) []Fault {
	var out []Fault
	for _, s := range r.states(func(s state, step route.Step, about About) bool {
		return step.Kind.Offers() && s.paid && about.Travels && !s.asked && !r.has(s, about.Sells)
	}) {
		step, about := r.step(s)
		f := Fault{
			StepID: step.ID, What: fmt.Sprintf("“%s” offers %s, which goes by parcel, to buyers who were asked for no address: %s. They are led past it, as by a no.", step.Name, r.name(about.Sells), r.path(s)),
			Remedy: "Offer something that needs no parcel, or lead these buyers elsewhere.", Gravity: check.Mend,
		}
		if from, end, ok := r.seller(s); ok {
			f.Remedy, f.Mend = "Lead who buys on “"+from.Name+"” to “"+end.Name+"”.", lead(from.ID, route.Bought, end.ID)
		}
		out = append(out, f)
	}
	return out
}

// seller is the page on whose checkout a path was paid for, and where paths end.
func (r *reading) seller(s state) (from, end route.Step, ok bool) {
	for by := r.from[s]; !by.began; by = r.from[by.state] {
		if from = r.Funnel.Steps[by.state.step]; by.outcome == route.Bought {
			end, ok = r.end()
			return from, end, ok
		}
	}
	return from, end, false
}

// words finds offers that speak of goods which some who come there have not bought.
func words(r *reading) []Fault {
	var out []Fault
	for _, s := range r.states(func(s state, step route.Step, about About) bool {
		return step.Kind.Offers() && s.paid && slices.ContainsFunc(about.Mentions, func(id string) bool { return id != about.Sells && !r.has(s, id) })
	}) {
		step, about := r.step(s)
		i := slices.IndexFunc(about.Mentions, func(id string) bool { return id != about.Sells && !r.has(s, id) })
		out = append(out, Fault{
			StepID: step.ID, What: fmt.Sprintf("“%s” speaks of %s, which some who come there have not bought: %s.", step.Name, r.name(about.Mentions[i]), r.path(s)),
			Remedy: "Say it so that it fits all of them, or lead these buyers elsewhere.", Gravity: check.Mend,
		})
	}
	return out
}

// summaries finds thank-you pages that do not say what was bought.
func summaries(r *reading) []Fault {
	var out []Fault
	for _, s := range r.Funnel.Steps {
		about, known := r.About[s.ID]
		if s.Kind == route.ThankYou && known && !about.Summary {
			out = append(out, Fault{StepID: s.ID, What: fmt.Sprintf("“%s” does not say what was bought.", s.Name), Remedy: "Put the order’s summary on the page.", Gravity: check.Mend})
		}
	}
	return out
}
