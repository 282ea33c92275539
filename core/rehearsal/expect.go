package rehearsal

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chrysagon/core/route"
)

// Expected is what a visitor comes to on average.
type Expected struct {
	Seen    map[string]float64 `json:"seen"`   // times that each step is seen
	Ends    map[string]float64 `json:"ends"`   // chance to come to rest there
	Left    float64            `json:"left"`   // chance to leave
	Orders  float64            `json:"orders"` // for each visitor
	Revenue float64            `json:"revenue_minor"`
	Margin  float64            `json:"margin_minor"`
	Pages   float64            `json:"pages"`
}

// place is a state of the chain: a step, and what a visitor has there.
type place struct {
	at   int
	who  route.Walker
	mass float64
}

// mostPlaces bounds the states of the chain.
const mostPlaces = 200_000

// Expect computes what Walk draws: the map as an absorbing Markov chain whose
// states are steps with what a visitor has bought and where they are from, for
// conditions look at that. Its sums are those of the powers of its matrix
// (Grinstead and Snell, "Introduction to Probability", theorem 11.4), taken until
// less than 10⁻¹² of a visitor is still on the way.
func Expect(in Input) (Expected, error) {
	p, err := read(in)
	if err != nil {
		return Expected{}, err
	}
	out := Expected{Seen: map[string]float64{}, Ends: map[string]float64{}}
	now := p.arrivals()
	for round := 0; len(now) > 0; round++ {
		left := 0.0
		next := map[string]*place{}
		for _, s := range now {
			left += s.mass
			if err := p.spread(*s, &out, next); err != nil {
				return out, err
			}
		}
		if left < 1e-12 {
			return out, nil
		}
		if round > 1_000_000/max(len(now), 1) || len(next) > mostPlaces {
			return out, fmt.Errorf("routes: there is a circle that hardly anybody leaves; give one of its steps a way out")
		}
		now = next
	}
	return out, nil
}

// arrivals are the places at which visitors come in, of every kind.
func (p *plan) arrivals() map[string]*place {
	out := map[string]*place{}
	for _, c := range weighted(p.in.Comes) {
		for _, source := range weighted(p.in.Who.Sources) {
			for _, country := range weighted(p.in.Who.Countries) {
				for _, again := range []bool{false, true} {
					mass := c.Share * source.Share * country.Share
					if again {
						mass *= p.in.Who.Again
					} else {
						mass *= 1 - p.in.Who.Again
					}
					add(out, place{p.index[c.Of], route.Walker{Source: source.Of, Country: country.Of, Again: again}, mass})
				}
			}
		}
	}
	return out
}

func add(to map[string]*place, s place) {
	if s.mass <= 0 {
		return
	}
	w := s.who
	key := fmt.Sprint(s.at, "\x00", w.Source, "\x00", w.Country, "\x00", w.Again, w.Bump, w.Total, "\x00", strings.Join(w.Bought, "\x00"))
	if had := to[key]; had != nil {
		had.mass += s.mass
		return
	}
	to[key] = &s
}

// spread moves those who are at a place on, along all that can come of it.
func (p *plan) spread(s place, out *Expected, next map[string]*place) error {
	n := p.nodes[s.at]
	out.Seen[n.step.ID] += s.mass
	out.Pages += s.mass
	if n.ends {
		out.Ends[n.step.ID] += s.mass
		return nil
	}
	rates := n.rates
	if n.passes(s.who) {
		rates = []Rate{{Outcome: route.Declined, Rate: 1}}
	}
	stays := 1.0
	for _, r := range rates {
		stays -= r.Rate
		for _, with := range n.bumps(r.Outcome, p.in.Who.Bump) {
			mass := s.mass * r.Rate * with.share
			if mass <= 0 {
				continue
			}
			who, worth, err := p.does(n, r.Outcome, with.bumps, s.who)
			if err != nil {
				return err
			}
			if r.Outcome == route.Bought {
				out.Orders += mass
			}
			out.Revenue += mass * float64(worth.Revenue)
			out.Margin += mass * float64(worth.Margin)
			out.Left += p.onward(n.routes[r.Outcome], r.Outcome, place{s.at, who, mass}, next)
		}
	}
	out.Left += s.mass * math.Max(stays, 0)
	return nil
}

// taking is one way to buy where bumps are offered, and how many of the buyers take it.
type taking struct {
	bumps []string
	share float64
}

// bumps are the ways to buy where bumps are offered: each is taken by as many, whoever
// takes the others.
func (n node) bumps(o route.Outcome, takes float64) []taking {
	ways := []taking{{nil, 1}}
	if o != route.Bought {
		return ways
	}
	for _, id := range n.about.Bumps {
		for i := range ways {
			with := taking{append(slices.Clone(ways[i].bumps), id), ways[i].share * takes}
			ways[i].share *= 1 - takes
			ways = append(ways, with)
		}
	}
	return ways
}

// onward leads those of a place on by the first route that fits, and returns those
// whom nothing leads on.
func (p *plan) onward(list []route.Route, o route.Outcome, s place, next map[string]*place) float64 {
	if !o.Leads() {
		return s.mass
	}
	for _, r := range list {
		if !route.Hold(r.When, s.who) {
			continue
		}
		var to []Share
		if r.Forks() {
			for _, f := range r.Fork {
				if p.there(f.To) {
					to = append(to, Share{f.To, float64(f.Share)})
				}
			}
			to = weighted(to)
		} else if p.there(r.To) {
			to = []Share{{r.To, 1}}
		}
		if len(to) == 0 || to[0].Of == "" {
			continue
		}
		for _, t := range to {
			add(next, place{p.index[t.Of], s.who, s.mass * t.Share})
		}
		return 0
	}
	return s.mass
}

// weighted are shares that add up to one; of none, one that is nothing.
func weighted(list []Share) []Share {
	sum := 0.0
	for _, s := range list {
		sum += s.Share
	}
	if sum <= 0 {
		return []Share{{"", 1}}
	}
	out := make([]Share, len(list))
	for i, s := range list {
		out[i] = Share{s.Of, s.Share / sum}
	}
	return out
}
