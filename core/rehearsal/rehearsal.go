// Package rehearsal walks a funnel with invented visitors before real ones do, and computes what such walks come to.
package rehearsal

import (
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/route"
	"chrysagon/core/route/fault"
)

// Input is a funnel with who comes, and how often they do what.
type Input struct {
	Funnel route.Funnel           `json:"funnel"`
	About  map[string]fault.About `json:"about,omitempty"` // what each step sells
	Rates  []Rate                 `json:"rates"`
	Comes  []Share                `json:"comes"` // steps at which visitors come in
	Who    Who                    `json:"who,omitzero"`

	// Price is what a sale brings; nil: the price of what is sold, and nothing left of it.
	// It is asked once for each step, cart and kind of visitor.
	Price func(Sale) (Worth, error) `json:"-"`
}

// Rate is how many of a step's visitors an outcome comes of, in parts of one. What
// is missing to one leaves.
type Rate struct {
	Step    string        `json:"step"`
	Outcome route.Outcome `json:"outcome"`
	Rate    float64       `json:"rate" jsonschema:"minimum=0,maximum=1"`
}

// Share is one of several, with its weight.
type Share struct {
	Of    string  `json:"of"`
	Share float64 `json:"share" jsonschema:"minimum=0"`
}

// Who is what visitors are like: each of these is drawn for itself.
type Who struct {
	Sources   []Share `json:"sources,omitempty"`
	Countries []Share `json:"countries,omitempty"`
	Again     float64 `json:"again,omitempty" jsonschema:"minimum=0,maximum=1"` // how many ordered before
	Bump      float64 `json:"bump,omitempty" jsonschema:"minimum=0,maximum=1"`  // how many buyers take a bump, of each
}

// Sale is something that is sold on a walk.
type Sale struct {
	Step    string
	Goods   []string // what is charged now
	Country string
	Source  string
	Again   bool
}

// Worth is what a sale brings, in minor units.
type Worth struct {
	Revenue int64 `json:"revenue"`
	Margin  int64 `json:"margin"` // of it, what is left after what the goods cost
}

// node is a step, ready to be walked.
type node struct {
	step   route.Step
	about  fault.About
	ends   bool
	rates  []Rate
	routes map[route.Outcome][]route.Route
}

type plan struct {
	in    Input
	nodes []node
	index map[string]int
	worth map[string]Worth
}

// furthest is how many steps a walk may have before it counts as endless.
const furthest = 1000

func read(in Input) (*plan, error) {
	p := &plan{in: in, index: map[string]int{}, worth: map[string]Worth{}}
	for i, s := range in.Funnel.Steps {
		p.index[s.ID] = i
		n := node{step: s, about: in.About[s.ID], routes: map[route.Outcome][]route.Route{}}
		for _, o := range in.Funnel.OutcomesOf(s) {
			n.routes[o] = in.Funnel.From(s.ID, o)
		}
		n.ends = s.Kind.Ends()
		p.nodes = append(p.nodes, n)
	}
	for i, r := range in.Rates {
		at, ok := p.index[r.Step]
		if !ok {
			return nil, fmt.Errorf("rates[%d].step: there is no step %q", i, r.Step)
		}
		if r.Rate < 0 || r.Rate > 1 || !r.Outcome.Known() {
			return nil, fmt.Errorf("rates[%d]: %q at %v; a rate is from 0 to 1, of an outcome that is known", i, r.Outcome, r.Rate)
		}
		p.nodes[at].rates = append(p.nodes[at].rates, r)
	}
	for _, n := range p.nodes {
		sum := 0.0
		for _, r := range n.rates {
			sum += r.Rate
		}
		if sum > 1+1e-9 {
			return nil, fmt.Errorf("rates: of “%s” more than all visitors do something", n.step.Name)
		}
	}
	if len(in.Comes) == 0 {
		return nil, fmt.Errorf("comes: nobody comes in anywhere")
	}
	for i, c := range in.Comes {
		if _, ok := p.index[c.Of]; !ok {
			return nil, fmt.Errorf("comes[%d].of: there is no step %q", i, c.Of)
		}
	}
	for name, list := range map[string][]Share{"comes": in.Comes, "who.sources": in.Who.Sources, "who.countries": in.Who.Countries} {
		sum := 0.0
		for _, s := range list {
			if s.Share < 0 {
				return nil, fmt.Errorf("%s: a share is below 0", name)
			}
			sum += s.Share
		}
		if len(list) > 0 && sum <= 0 {
			return nil, fmt.Errorf("%s: the shares come to nothing", name)
		}
	}
	return p, nil
}

// sold is what a sale brings, quoted once for each cart.
func (p *plan) sold(n node, goods []string, w route.Walker) (Worth, error) {
	key := strings.Join(append([]string{n.step.ID, w.Country, w.Source, fmt.Sprint(w.Again)}, goods...), "\x00")
	if known, ok := p.worth[key]; ok {
		return known, nil
	}
	worth := Worth{Revenue: n.about.Price}
	if p.in.Price != nil {
		var err error
		if worth, err = p.in.Price(Sale{Step: n.step.ID, Goods: goods, Country: w.Country, Source: w.Source, Again: w.Again}); err != nil {
			return worth, fmt.Errorf("price a sale on “%s”: %w", n.step.Name, err)
		}
	}
	p.worth[key] = worth
	return worth, nil
}

// passes tells whether a step is passed over, as by a no: what it offers is in the order.
func (n node) passes(w route.Walker) bool {
	return n.step.Kind.Offers() && slices.Contains(w.Bought, n.about.Sells) && n.about.Sells != ""
}

// does carries out an outcome: what is sold by it, and what the visitor has then.
func (p *plan) does(n node, o route.Outcome, bumps []string, w route.Walker) (route.Walker, Worth, error) {
	var worth Worth
	var err error
	switch o { //nolint:exhaustive // nothing is sold by the others
	case route.Bought:
		goods := append([]string{n.about.Sells}, bumps...)
		if worth, err = p.sold(n, goods, w); err != nil {
			return w, worth, err
		}
		w.Bought, w.Bump, w.Total = goods, len(bumps) > 0, worth.Revenue
	case route.Accepted:
		if worth, err = p.sold(n, []string{n.about.Sells}, w); err != nil {
			return w, worth, err
		}
		w.Bought, w.Total = append(slices.Clone(w.Bought), n.about.Sells), w.Total+worth.Revenue
	}
	return w, worth, nil
}

func (p *plan) there(id string) bool { _, ok := p.index[id]; return ok }
