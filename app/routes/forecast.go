package routes

import (
	"slices"
	"sort"

	"chrysagon/core/forecast"
	"chrysagon/core/fork"
	"chrysagon/core/money"
	"chrysagon/core/route"

	"github.com/shopspring/decimal"
)

// WhatIf is what would be otherwise: rates and prices written by hand, and shares.
type WhatIf struct {
	Rates  map[string]decimal.Decimal // per cent, by RateKey
	Prices map[string]int64           // minor units, by step
	Shares map[string]int             // by ShareKey
}

// Any tells whether anything would be otherwise.
func (w WhatIf) Any() bool { return len(w.Rates)+len(w.Prices)+len(w.Shares) > 0 }

// RateKey names an outcome of a step.
func RateKey(step string, o route.Outcome) string { return step + "|" + string(o) }

// ShareKey names a share of a route.
func ShareKey(r route.Route, to string) string { return r.Key() + "|" + to }

// In and Done are steps of the computation that are none on the map: where visitors
// come in, and where those end who stay on a page on which they did something.
const (
	In   = "in"
	Done = "done"
)

// Forecast is the map as an absorbing chain: rates as they were measured, or as they
// were written by hand. Steps of which nothing is known are named.
func (m Map) Forecast(w WhatIf) (out forecast.Output, unknown []string, err error) {
	in := forecast.Input{Currency: m.Currency, Entrance: In, Steps: []forecast.Step{{ID: In, Visitors: int(m.Figures.Walks)}}}
	if floor, bad := decimal.NewFromString(m.Floor); bad == nil {
		in.FloorPercent = floor
	}
	m.arrivals(&in)
	for _, s := range m.Funnel.Steps {
		in.Steps = append(in.Steps, forecast.Step{ID: s.ID, Name: s.Name, Visitors: int(m.Figures.Steps[s.ID].Visitors)})
		known := len(m.outcomes(s)) == 0
		for _, o := range m.outcomes(s) {
			list, is := m.ways(s, o, w)
			in.Routes = append(in.Routes, list...)
			known = known || is
		}
		if !known {
			unknown = append(unknown, s.Name)
		}
	}
	in.Steps = append(in.Steps, forecast.Step{ID: Done})
	out, err = forecast.Compute(in)
	return out, unknown, err
}

// outcomes are those that end a visit of a step, the ones that leave the page open
// left out: who calls may still go on.
func (m Map) outcomes(s route.Step) []route.Outcome {
	var out []route.Outcome
	for _, o := range m.Funnel.OutcomesOf(s) {
		if o.Leads() {
			out = append(out, o)
		}
	}
	return out
}

// arrivals lead visitors to the steps at which they came in; where nobody has yet,
// to the first.
func (m Map) arrivals(in *forecast.Input) {
	landed := map[string]int64{}
	for _, c := range m.Figures.Came {
		if _, there := m.Funnel.Step(c.Landing); there {
			landed[c.Landing] += c.Visitors
		}
	}
	var ids []string
	sum := int64(0)
	for id, n := range landed {
		ids, sum = append(ids, id), sum+n
	}
	sort.Strings(ids)
	if sum == 0 && len(m.Funnel.Steps) > 0 {
		all := decimal.NewFromInt(100)
		in.Routes = append(in.Routes, forecast.Route{From: In, Outcome: "came", To: m.Funnel.Steps[0].ID, Percent: &all})
		return
	}
	for _, id := range ids {
		share := decimal.NewFromInt(landed[id]).Mul(decimal.NewFromInt(100)).DivRound(decimal.NewFromInt(sum), 12)
		in.Routes = append(in.Routes, forecast.Route{From: In, Outcome: "came", To: id, Percent: &share})
	}
}

// ways are an outcome's routes with their rates. known is false where nothing says
// how often it comes.
func (m Map) ways(s route.Step, o route.Outcome, w WhatIf) (out []forecast.Route, known bool) {
	done := m.Figures.Steps[s.ID]
	count := done.Outcomes[o]
	percent, byHand := w.Rates[RateKey(s.ID, o)]
	targets, shares, split := m.targets(s, o, w)
	worth, margin := m.worth(s, o, w)
	sum := int64(0)
	for _, n := range shares {
		sum += n
	}
	left := count
	for i, to := range targets {
		r := forecast.Route{From: s.ID, Outcome: string(o), To: to, Worth: worth, Margin: margin}
		switch {
		case byHand || (split && done.Visitors > 0 && len(targets) > 1):
			of := percent
			if !byHand {
				of = decimal.NewFromInt(count*100).DivRound(decimal.NewFromInt(done.Visitors), 12)
			}
			part := of.Mul(decimal.NewFromInt(shares[i])).DivRound(decimal.NewFromInt(max(sum, 1)), 12)
			r.Percent = &part
		case done.Visitors == 0:
			none := decimal.Zero
			r.Percent = &none
		case i == len(targets)-1:
			r.Taken = int(left)
		default:
			n := count * shares[i] / max(sum, 1)
			r.Taken, left = int(n), left-n
		}
		out = append(out, r)
	}
	return out, byHand || done.Visitors > 0
}

// targets are where an outcome leads, with the weight of each: those who went there,
// or where nobody did or its shares are tried, its shares. split is true for shares.
func (m Map) targets(s route.Step, o route.Outcome, w WhatIf) (targets []string, weights []int64, split bool) {
	add := func(to string, n int64) {
		if i := slices.Index(targets, to); i >= 0 {
			weights[i] += n
			return
		}
		targets, weights = append(targets, to), append(weights, n)
	}
	list, went := m.Funnel.From(s.ID, o), int64(0)
	for _, r := range list {
		for _, to := range r.Targets() {
			if _, there := m.Funnel.Step(to); there {
				n := m.Figures.Ways[Way{s.ID, o, to}]
				add(to, n)
				went += n
			}
		}
	}
	if len(targets) == 0 {
		return []string{Done}, []int64{1}, false
	}
	last := list[len(list)-1]
	tried := slices.ContainsFunc(last.Fork, func(f fork.Share) bool { _, is := w.Shares[ShareKey(last, f.To)]; return is })
	if went > 0 && !tried {
		return targets, weights, false
	}
	for i := range weights {
		weights[i] = 0
	}
	for _, f := range last.Fork {
		n := int64(f.Share)
		if given, is := w.Shares[ShareKey(last, f.To)]; is {
			n = int64(given)
		}
		if i := slices.Index(targets, f.To); i >= 0 {
			weights[i] += n
		}
	}
	if i := slices.Index(targets, last.To); i >= 0 && !last.Forks() {
		weights[i] = 1
	}
	return targets, weights, true
}

// worth is what one taking of an outcome brings, and what is left of it: as it was
// on average, or at a price that is tried. Where nobody took it yet, the page's price.
func (m Map) worth(s route.Step, o route.Outcome, w WhatIf) (worth, margin money.Money) {
	if (s.Kind != route.Sales || o != route.Bought) && (!s.Kind.Offers() || o != route.Accepted) {
		return money.Money{}, money.Money{}
	}
	done := m.Figures.Steps[s.ID]
	price, cost := m.About[s.ID].Price, int64(0)
	if n := done.Outcomes[o]; n > 0 && done.Minor > 0 {
		price = (2*done.Minor + n) / (2 * n)
	}
	if e := m.Figures.Margin[s.ID]; e.Minor > 0 {
		cost = price - price*e.Margin/e.Minor
	}
	if tried, is := w.Prices[s.ID]; is {
		price = tried
	}
	return money.Of(price, m.Currency), money.Of(price-cost, m.Currency)
}

// Better is what a tenth more takers of an outcome would bring.
type Better struct {
	StepID   string
	Outcome  route.Outcome
	From, To float64 // the rate, now and then
	More     forecast.PerHead
}

// Betters lists which outcome's improvement by a tenth would bring most, as the
// forecast has it: an outcome that forks grows on all its ways.
func Betters(out forecast.Output) []Better {
	var list []Better
	at := func(from, outcome string) *Better {
		i := slices.IndexFunc(list, func(b Better) bool { return b.StepID == from && string(b.Outcome) == outcome })
		if i < 0 {
			list = append(list, Better{StepID: from, Outcome: route.Outcome(outcome)})
			i = len(list) - 1
		}
		return &list[i]
	}
	for _, g := range out.Gains {
		if g.From == In || g.Outcome == string(route.Declined) || !g.More.Minor.IsPositive() {
			continue
		}
		b := at(g.From, g.Outcome)
		b.More.Currency, b.More.Minor = g.More.Currency, b.More.Minor.Add(g.More.Minor)
	}
	for _, r := range out.Rates {
		for i, b := range list {
			if b.StepID == r.From && string(b.Outcome) == r.Outcome {
				list[i].From += r.Rate
			}
		}
	}
	for i := range list {
		list[i].To = min(1, list[i].From*1.1)
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].More.Minor.GreaterThan(list[j].More.Minor) })
	return list
}
