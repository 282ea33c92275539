package fault

import (
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/route"
)

// reading is a funnel with every state in which a visitor can be on its steps.
//
// What is on the map decides some conditions (what was bought so far, the bump);
// the others may hold or not, so both ways are followed. What no state shows can
// therefore happen to nobody.
type reading struct {
	Input
	index map[string]int  // of steps
	goods []string        // by their bit
	from  map[state]link  // how a state was first come to
	order []state         // in which they were found
	met   map[string]bool // steps to which any state leads
}

// state is where a visitor is, and what became of them on the way.
type state struct {
	step  int
	paid  bool   // they have paid
	asked bool   // an address was asked for
	bump  bool   // the bump was taken
	sold  uint64 // goods of the order, by bit
}

type link struct {
	state   state
	outcome route.Outcome
	began   bool // nobody led here: it is an entrance
}

// mostStates is how many are told apart. Behind them a step is followed once, whatever
// was bought on the way, so that every step is still come to. Goods beyond the 64th
// share the last bit.
const mostStates = 50_000

func read(in Input) *reading {
	r := &reading{Input: in, index: map[string]int{}, from: map[state]link{}, met: map[string]bool{}}
	for i, s := range in.Funnel.Steps {
		r.index[s.ID] = i
	}
	for i, s := range in.Funnel.Steps {
		if s.Kind.Entrance() || (i == 0 && !s.Kind.AfterPayment()) || slices.Contains(in.Linked, s.ID) {
			r.come(state{step: i}, link{began: true})
		}
	}
	for i := 0; i < len(r.order); i++ {
		r.on(r.order[i])
	}
	return r
}

func (r *reading) come(s state, by link) {
	id := r.Funnel.Steps[s.step].ID
	if _, known := r.from[s]; known || (len(r.order) >= mostStates && r.met[id]) {
		return
	}
	r.from[s], r.met[id] = by, true
	r.order = append(r.order, s)
}

// step is the step of a state, with what is known of it.
func (r *reading) step(s state) (route.Step, About) {
	step := r.Funnel.Steps[s.step]
	return step, r.About[step.ID]
}

func (r *reading) bit(id string) uint64 {
	if id == "" {
		return 0
	}
	i := slices.Index(r.goods, id)
	if i < 0 {
		i = len(r.goods)
		r.goods = append(r.goods, id)
	}
	return 1 << min(i, 63)
}

func (r *reading) has(s state, id string) bool { return id != "" && s.sold&r.bit(id) != 0 }

// on follows what can come of a state.
func (r *reading) on(s state) {
	step, about := r.step(s)
	for _, o := range r.Funnel.OutcomesOf(step) {
		if !o.Leads() || (step.Kind.Offers() && o == route.Accepted && r.has(s, about.Sells)) {
			continue // an offer of what is in the order is passed over
		}
		for _, after := range r.after(s, o, about) {
			for _, to := range r.targets(step.ID, o, after) {
				after.step = to
				r.come(after, link{state: s, outcome: o})
			}
		}
	}
}

// after is what becomes of a visitor by an outcome: where there is something to choose,
// and with bumps, several things can.
func (r *reading) after(s state, o route.Outcome, about About) []state {
	switch o { //nolint:exhaustive // the others change nothing
	case route.Bought: // an order begins
		s.paid, s.asked = true, about.Asks
		var out []state
		for _, goods := range append([][]string{{about.Sells}}, about.Others...) {
			for set := range 1 << len(about.Bumps) {
				s.sold, s.bump = 0, set > 0
				for _, id := range goods {
					s.sold |= r.bit(id)
				}
				for i, id := range about.Bumps {
					if set>>i&1 == 1 {
						s.sold |= r.bit(id)
					}
				}
				out = append(out, s)
			}
		}
		return out
	case route.Accepted:
		s.sold |= r.bit(about.Sells)
	}
	return []state{s}
}

// targets are the steps to which an outcome can lead in a state.
func (r *reading) targets(from string, o route.Outcome, s state) []int {
	var out []int
	for _, one := range r.Funnel.From(from, o) {
		can, must := r.holds(one.When, s)
		if !can {
			continue
		}
		for _, id := range one.Targets() {
			if i, there := r.index[id]; there {
				out = append(out, i)
			}
		}
		if must {
			break
		}
	}
	return out
}

// holds tells whether conditions can hold in a state, and whether they must.
func (r *reading) holds(when []route.Condition, s state) (can, must bool) {
	must = true
	for _, c := range when {
		is := false
		switch c.Kind {
		case route.IfBought:
			is = slices.ContainsFunc(c.Values, func(id string) bool { return r.has(s, id) })
		case route.IfBump:
			is = s.bump
		default:
			if k, _ := route.ConditionOf(c.Kind); !k.Paid || s.paid || s.sold != 0 {
				must = false
				continue
			} // else it is about an order that nobody made
		}
		if is == c.Not {
			return false, false
		}
	}
	return true, must
}

// path says how a visitor comes to a state.
func (r *reading) path(s state) string {
	var names []string
	for range r.order {
		by := r.from[s]
		names = append(names, r.Funnel.Steps[s.step].Name)
		if by.began {
			break
		}
		names = append(names, by.outcome.Did())
		s = by.state
	}
	slices.Reverse(names)
	return strings.Join(names, " → ")
}

// states are those on steps for which a visitor has come, once for each step.
func (r *reading) states(is func(state, route.Step, About) bool) []state {
	var out []state
	seen := map[int]bool{}
	for _, s := range r.order {
		step, about := r.step(s)
		if !seen[s.step] && is(s, step, about) {
			seen[s.step] = true
			out = append(out, s)
		}
	}
	return out
}

func (r *reading) name(id string) string {
	if n := r.Goods[id]; n != "" {
		return n
	}
	return id
}

// end is where buyers come to rest, to be led there by a remedy.
func (r *reading) end() (route.Step, bool) {
	for _, k := range []route.Kind{route.ThankYou, route.End} {
		for _, s := range r.Funnel.Steps {
			if s.Kind == k {
				return s, true
			}
		}
	}
	return route.Step{}, false
}

// offer is the first page that sells, other than from.
func (r *reading) offer(from string) (route.Step, bool) {
	i := slices.IndexFunc(r.Funnel.Steps, func(s route.Step) bool { return s.Kind == route.Sales && s.ID != from })
	if i < 0 {
		return route.Step{}, false
	}
	return r.Funnel.Steps[i], true
}

// toOffer makes it the remedy of a fault that its outcome is led to a page that sells,
// said by a sentence with its name in it.
func (r *reading) toOffer(f *Fault, says string) {
	if to, ok := r.offer(f.StepID); ok {
		f.Remedy, f.Mend = fmt.Sprintf(says, to.Name), lead(f.StepID, f.Outcome, to.ID)
	}
}

// lead is the command that leads an outcome to one step, for everybody.
func lead(from string, o route.Outcome, to string) *route.Command {
	return &route.Command{Do: route.LeadTo, From: from, Outcome: o, Routes: []route.Route{{To: to}}}
}
