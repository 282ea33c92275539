package route

import "errors"

// Join puts a step into a funnel where buyers expect it, and leads the routes
// through it: a sales page leads where the others lead; what follows a payment
// comes before the thank-you page, after whatever was said there last or, with
// after, only after that answer; a thank-you page takes every outcome that
// leads nowhere yet. The steps come out in the order a buyer walks them.
func (f Funnel) Join(s Step, after Outcome) (Funnel, error) {
	end, hasEnd := f.first(ThankYou)
	out := Funnel{Steps: append([]Step{}, f.Steps...), Routes: append([]Route{}, f.Routes...)}
	switch s.Kind {
	case Sales:
		if first, ok := f.first(Sales); ok {
			if to, err := f.Next(first.ID, Bought); err == nil {
				out.Routes = append(out.Routes, Route{s.ID, Bought, to.ID})
			}
		} else if hasEnd {
			out.Routes = append(out.Routes, Route{s.ID, Bought, end.ID})
		}
	case UpsellAt:
		if !hasEnd {
			return f, errors.New("a thank-you page must come first: it is where every answer leads")
		}
		led := false
		for i, r := range out.Routes {
			if r.To == end.ID && (after == "" || r.Outcome == after) {
				out.Routes[i].To, led = s.ID, true
			}
		}
		if !led {
			return f, errors.New("nothing leads to it: a downsell follows an upsell that can be declined, an upsell a page that sells")
		}
		out.Routes = append(out.Routes, Route{s.ID, Accepted, end.ID}, Route{s.ID, Declined, end.ID})
	case ThankYou:
		if hasEnd {
			return f, errors.New("this campaign has a thank-you page already: " + end.Name)
		}
		for _, from := range f.Steps {
			for _, o := range from.Kind.Outcomes() {
				if _, err := f.Next(from.ID, o); err != nil {
					out.Routes = append(out.Routes, Route{from.ID, o, s.ID})
				}
			}
		}
	}
	out.Steps = append(out.Steps, s)
	return out.walked(), nil
}

func (f Funnel) first(k Kind) (Step, bool) {
	for _, s := range f.Steps {
		if s.Kind == k {
			return s, true
		}
	}
	return Step{}, false
}

// walked orders the steps: pages that sell, then what follows the payment in
// the order it is met, then the end.
func (f Funnel) walked() Funnel {
	var steps []Step
	placed := map[string]bool{}
	place := func(s Step) {
		if !placed[s.ID] {
			placed[s.ID] = true
			steps = append(steps, s)
		}
	}
	for _, s := range f.Steps {
		if s.Kind == Sales {
			place(s)
		}
	}
	for i := 0; i < len(steps); i++ {
		for _, o := range steps[i].Kind.Outcomes() {
			if to, err := f.Next(steps[i].ID, o); err == nil && to.Kind == UpsellAt {
				place(to)
			}
		}
	}
	for _, k := range []Kind{UpsellAt, ThankYou} {
		for _, s := range f.Steps {
			if s.Kind == k {
				place(s)
			}
		}
	}
	f.Steps = steps
	return f
}

// Leave takes a step out of a funnel: what led to it leads on to where a no
// leads from it, or a purchase where nobody can say no. A thank-you page to
// which others lead stays, because their buyers would have nowhere to go.
func (f Funnel) Leave(id string) (Funnel, error) {
	s, ok := f.Step(id)
	if !ok {
		return f, nil
	}
	onward := ""
	for _, o := range s.Kind.Outcomes() { // the last is the no
		if to, err := f.Next(id, o); err == nil {
			onward = to.ID
		}
	}
	var out Funnel
	for _, r := range f.Routes {
		switch {
		case r.From == id:
			continue
		case r.To == id && onward == "":
			from, _ := f.Step(r.From)
			return f, errors.New("“" + from.Name + "” leads to it; set that page aside first, or lead it elsewhere")
		case r.To == id:
			r.To = onward
		}
		out.Routes = append(out.Routes, r)
	}
	for _, one := range f.Steps {
		if one.ID != id {
			out.Steps = append(out.Steps, one)
		}
	}
	return out.walked(), nil
}
