package rehearsal

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"chrysagon/core/route"
)

// Output is what became of the visitors.
type Output struct {
	Visitors int      `json:"visitors"`
	Steps    []Seen   `json:"steps"`
	Ways     []Way    `json:"ways"`
	Orders   int      `json:"orders"`
	Revenue  int64    `json:"revenue"` // minor units
	Margin   int64    `json:"margin"`
	Pages    int      `json:"pages"`             // steps that were seen, by all
	Squares  float64  `json:"squares,omitempty"` // sum of the squares of what each brought, for its error
	Broken   []string `json:"broken,omitempty"`  // rules that a walk broke; none should be
}

// Seen is what became of a step.
type Seen struct {
	Step    string `json:"step"`
	Seen    int    `json:"seen"` // times that it was seen
	Left    int    `json:"left"`
	Ended   int    `json:"ended"` // walks that came to rest here
	Orders  int    `json:"orders"`
	Revenue int64  `json:"revenue"`
}

// Way is how many took a way from one step to another.
type Way struct {
	From    string        `json:"from"`
	Outcome route.Outcome `json:"outcome"`
	To      string        `json:"to"`
	Taken   int           `json:"taken"`
}

// Most is how many visitors can be rehearsed at once.
const Most = 1_000_000

// Footfall is one step of one visitor, to be watched.
type Footfall struct {
	Visitor int
	From    string // "" where they come in
	Outcome route.Outcome
	To      string // "" where they leave
}

// Walk draws visitors by a seed and lets them walk by the rules; the same seed
// gives the same walks. watch, where it is given, sees each of the first ones.
func Walk(in Input, visitors int, seed uint64, watch func(Footfall)) (Output, error) {
	p, err := read(in)
	if err != nil {
		return Output{}, err
	}
	if visitors < 1 || visitors > Most {
		return Output{}, fmt.Errorf("visitors: %d; it must be from 1 to %d", visitors, Most)
	}
	w := &walking{plan: p, draw: rand.New(rand.NewPCG(seed, 0x9e3779b97f4a7c15)), ways: map[Way]int{}, watch: watch} //nolint:gosec // the same seed must give the same walks
	w.out = Output{Visitors: visitors, Steps: make([]Seen, len(p.nodes))}
	for i, n := range p.nodes {
		w.out.Steps[i].Step = n.step.ID
	}
	for v := range visitors {
		if err := w.one(v); err != nil {
			return w.out, err
		}
	}
	for _, n := range p.nodes { // in the order of the map
		for _, o := range in.Funnel.OutcomesOf(n.step) {
			for _, to := range p.nodes {
				key := Way{From: n.step.ID, Outcome: o, To: to.step.ID}
				if taken := w.ways[key]; taken > 0 {
					key.Taken = taken
					w.out.Ways = append(w.out.Ways, key)
				}
			}
		}
	}
	return w.out, nil
}

type walking struct {
	*plan
	draw  *rand.Rand
	out   Output
	ways  map[Way]int
	watch func(Footfall)
}

func (w *walking) one(v int) error {
	who := route.Walker{
		ID: fmt.Sprintf("rehearsal-%d-%d", v, w.draw.Uint64()), Source: w.of(w.in.Who.Sources), Country: w.of(w.in.Who.Countries), Again: w.draw.Float64() < w.in.Who.Again,
	}
	at, brought, paid := w.of(w.in.Comes), int64(0), false
	w.see(Footfall{Visitor: v, To: at})
	for range furthest {
		n := w.nodes[w.index[at]]
		seen := &w.out.Steps[w.index[at]]
		seen.Seen++
		w.out.Pages++
		if n.ends {
			seen.Ended++
			w.out.Squares += float64(brought) * float64(brought)
			return nil
		}
		if n.step.Kind.AfterPayment() && !paid {
			w.broke(fmt.Sprintf("“%s” was reached unpaid", n.step.Name))
		}
		if n.step.Kind == route.Sales && paid {
			w.broke(fmt.Sprintf("“%s” was a second checkout", n.step.Name))
		}
		o, bumps := w.outcome(n), []string(nil)
		if n.passes(who) {
			w.broke(fmt.Sprintf("“%s” offered what was bought", n.step.Name))
			o = route.Declined
		}
		if o == route.Bought {
			for _, id := range n.about.Bumps {
				if w.draw.Float64() < w.in.Who.Bump {
					bumps = append(bumps, id)
				}
			}
			paid = true
		}
		var worth Worth
		var err error
		if who, worth, err = w.does(n, o, bumps, who); err != nil {
			return err
		}
		if o == route.Bought {
			w.out.Orders++
			seen.Orders++
		}
		brought += worth.Revenue
		seen.Revenue += worth.Revenue
		w.out.Revenue += worth.Revenue
		w.out.Margin += worth.Margin
		to, _, ok := route.Among(n.routes[o], who, w.there)
		if !o.Leads() || !ok {
			seen.Left++
			w.out.Squares += float64(brought) * float64(brought)
			w.see(Footfall{Visitor: v, From: at, Outcome: o})
			return nil
		}
		w.ways[Way{From: at, Outcome: o, To: to}]++
		w.see(Footfall{Visitor: v, From: at, Outcome: o, To: to})
		at = to
	}
	w.broke("a walk did not end")
	return nil
}

func (w *walking) see(f Footfall) {
	if w.watch != nil {
		w.watch(f)
	}
}

func (w *walking) broke(what string) {
	if !slices.Contains(w.out.Broken, what) {
		w.out.Broken = append(w.out.Broken, what)
	}
}

// outcome draws what a visitor does on a step.
func (w *walking) outcome(n node) route.Outcome {
	u := w.draw.Float64()
	for _, r := range n.rates {
		if u -= r.Rate; u < 0 {
			return r.Outcome
		}
	}
	return route.Left
}

// of draws one of several by their shares.
func (w *walking) of(list []Share) string {
	sum := 0.0
	for _, s := range list {
		sum += s.Share
	}
	u := w.draw.Float64() * sum
	for _, s := range list {
		if u -= s.Share; u < 0 {
			return s.Of
		}
	}
	if len(list) > 0 {
		return list[len(list)-1].Of
	}
	return ""
}
