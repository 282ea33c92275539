package route

import (
	"errors"
	"slices"

	"chrysagon/core/fork"
)

// Join puts a step into a funnel where buyers expect it, and leads the routes
// through it: a sales page leads where the others lead; what follows a payment
// comes before the thank-you page, after whatever was said there last or, for a
// downsell, only after a no; a thank-you page takes every outcome that must
// lead on and leads nowhere yet. Other steps stand there and lead nowhere until
// somebody says where. The steps come out in the order a buyer walks them.
func (f Funnel) Join(s Step) (Funnel, error) {
	if _, twice := f.Step(s.ID); twice || len(f.Steps) >= MostSteps {
		return f, errors.New("it is in this funnel already, or the funnel has no room for more")
	}
	end, hasEnd := f.first(ThankYou)
	out := f.Clone()
	switch {
	case s.Kind == Sales:
		if first, ok := f.first(Sales); ok {
			if to, err := f.Next(first.ID, Bought); err == nil {
				out.Routes = append(out.Routes, Route{From: s.ID, Outcome: Bought, To: to.ID})
			}
		} else if hasEnd {
			out.Routes = append(out.Routes, Route{From: s.ID, Outcome: Bought, To: end.ID})
		}
	case s.Kind.Offers():
		if !hasEnd {
			return f, errors.New("a thank-you page must come first: it is where every answer leads")
		}
		led := false
		for i, r := range out.Routes {
			if slices.Contains(r.Targets(), end.ID) && (s.Kind == UpsellAt || r.Outcome == Declined) {
				if led = true; r.Outcome == Declined && s.Aim == "" {
					s.Aim = r.From
				}
				out.Routes[i] = r.Turned(end.ID, s.ID)
			}
		}
		if !led {
			return f, errors.New("nothing leads to it: a downsell follows an upsell that can be declined, an upsell a page that sells")
		}
		if s.Kind == UpsellAt {
			s.Aim = ""
		}
		out.Routes = append(out.Routes, Route{From: s.ID, Outcome: Accepted, To: end.ID}, Route{From: s.ID, Outcome: Declined, To: end.ID})
	case s.Kind == ThankYou:
		if hasEnd {
			return f, errors.New("this campaign has a thank-you page already: " + end.Name)
		}
		for _, from := range f.Steps {
			for _, o := range from.Kind.Must() {
				if _, err := f.Next(from.ID, o); err != nil {
					out.Routes = append(out.Routes, Route{From: from.ID, Outcome: o, To: s.ID})
				}
			}
		}
	}
	out.Steps = append(out.Steps, s)
	return out.walked(), nil
}

// Turned is a route with one of its targets changed for another.
func (r Route) Turned(from, to string) Route {
	if r.To == from {
		r.To = to
	}
	r.Fork = slices.Clone(r.Fork)
	for i, s := range r.Fork {
		if s.To == from {
			r.Fork[i].To = to
		}
	}
	return r.single()
}

// single is a fork whose targets are one without repeats, and where that leaves
// one target only, a plain route.
func (r Route) single() Route {
	if !r.Forks() {
		return r
	}
	var list []fork.Share
	for _, s := range r.Fork {
		if i := slices.IndexFunc(list, func(t fork.Share) bool { return t.To == s.To }); i >= 0 {
			list[i].Share += s.Share
		} else {
			list = append(list, s)
		}
	}
	if r.Fork = list; len(list) == 1 {
		r.To, r.Fork = list[0].To, nil
	}
	return r
}

func (f Funnel) first(k Kind) (Step, bool) {
	if i := slices.IndexFunc(f.Steps, func(s Step) bool { return s.Kind == k }); i >= 0 {
		return f.Steps[i], true
	}
	return Step{}, false
}

// walked orders the steps as visitors meet them: those to which nothing leads,
// then what they lead to, and what ends a path last.
func (f Funnel) walked() Funnel {
	led := map[string]bool{}
	for _, r := range f.Routes {
		for _, to := range r.Targets() {
			led[to] = true
		}
	}
	var steps []Step
	placed := map[string]bool{}
	place := func(s Step) {
		if !placed[s.ID] {
			placed[s.ID] = true
			steps = append(steps, s)
		}
	}
	walk := func(from int) {
		for i := from; i < len(steps); i++ {
			for _, o := range f.OutcomesOf(steps[i]) {
				for _, r := range f.From(steps[i].ID, o) {
					for _, id := range r.Targets() {
						if to, ok := f.Step(id); ok && !to.Kind.Ends() {
							place(to)
						}
					}
				}
			}
		}
	}
	for _, s := range f.Steps {
		if !led[s.ID] && !s.Kind.AfterPayment() && !s.Kind.Ends() {
			place(s)
		}
	}
	walk(0)
	for _, rest := range []func(Kind) bool{Kind.Entrance, func(k Kind) bool { return !k.Ends() }, func(Kind) bool { return true }} {
		for _, s := range f.Steps {
			if rest(s.Kind) && !placed[s.ID] {
				place(s)
				walk(len(steps) - 1)
			}
		}
	}
	f.Steps = steps
	return f
}

// Leave takes a step out of a funnel: what led to it leads on to where a no
// leads from it, or a purchase where nobody can say no. Where it leads nowhere,
// or only to what is for who has paid, who could stay on their page stays there; a
// thank-you page to which buyers are led stays: they would have nowhere to go.
func (f Funnel) Leave(id string) (Funnel, error) {
	s, ok := f.Step(id)
	if !ok {
		return f, nil
	}
	onward := ""
	for _, o := range f.OutcomesOf(s) { // the last of its kind is the no
		if to, err := f.Next(id, o); err == nil && to.ID != id {
			onward = to.ID
		}
	}
	var out Funnel
	for _, r := range f.Routes {
		if r.From == id {
			continue
		}
		if slices.Contains(r.Targets(), id) {
			switch {
			case onward != "" && onward != r.From && f.may(r, onward):
				r = r.Turned(id, onward)
			case r.Forks():
				r.Fork = slices.DeleteFunc(slices.Clone(r.Fork), func(s fork.Share) bool { return s.To == id })
				r = r.single()
			case f.needs(r):
				from, _ := f.Step(r.From)
				return f, errors.New("“" + from.Name + "” leads to it; set that page aside first, or lead it elsewhere")
			default:
				continue
			}
		}
		out.Routes = append(out.Routes, r)
	}
	for _, one := range f.Steps {
		if one.ID == id {
			continue
		}
		if one.Aim == id {
			one.Aim = ""
		}
		out.Steps = append(out.Steps, one)
	}
	return out.walked(), nil
}

// may tells whether a route can lead to a step: who has not paid is led to none that
// is for who has.
func (f Funnel) may(r Route, to string) bool {
	from, _ := f.Step(r.From)
	step, _ := f.Step(to)
	return !step.Kind.AfterPayment() || from.Kind.AfterPayment() || r.Outcome == Bought
}

// needs tells whether an outcome would lead nowhere without this route.
func (f Funnel) needs(r Route) bool {
	from, _ := f.Step(r.From)
	return slices.Contains(from.Kind.Must(), r.Outcome) && len(f.From(r.From, r.Outcome)) == 1
}
