// Package forecast computes what a map of steps leads to: the chance of each end, pages seen, revenue per visitor, and which step is worth improving.
//
// The map is an absorbing Markov chain: a visitor on a step takes one of its routes with
// its rate, whatever came before, or leaves. With Q the rates among steps that are no ends
// and R those into ends, N = (I − Q)⁻¹ says how often each step is seen, N·R where visitors
// come to rest, and N·1 how many steps they take: Grinstead and Snell, "Introduction to
// Probability" (AMS 1997), chapter 11.2.
package forecast

import (
	"fmt"
	"math"
	"slices"

	"chrysagon/core/interval"
	"chrysagon/core/money"

	"github.com/shopspring/decimal"
	"gonum.org/v1/gonum/mat"
)

// Left is the end of those who take no route.
const Left = "left"

// Few is how many visitors a step must have seen for its rates to be shown as numbers;
// below that they are ranges.
const Few = 100

// Bounds of what is computed.
const (
	MostSteps  = 500
	MostRoutes = 5000
)

// Input is a map with what is known of it.
type Input struct {
	Currency string  `json:"currency"`
	Entrance string  `json:"entrance"`                      // the step at which visitors come in
	Steps    []Step  `json:"steps" jsonschema:"minItems=1"` // one without routes is an end
	Routes   []Route `json:"routes"`
	// What the store wants to keep of its revenue, once goods and clicks are paid.
	FloorPercent decimal.Decimal `json:"floor_percent,omitzero"`
}

// Step is a place where visitors are.
type Step struct {
	ID       string `json:"id"`
	Name     string `json:"name,omitempty"`
	Visitors int    `json:"visitors,omitempty" jsonschema:"minimum=0"` // who were seen there
}

// Route leads from a step on an outcome. Its rate is measured (taken, of the visitors of
// its step) or written by hand.
type Route struct {
	From    string           `json:"from"`
	Outcome string           `json:"outcome"`
	To      string           `json:"to"`
	Taken   int              `json:"taken,omitempty" jsonschema:"minimum=0"` // visitors who took it
	Percent *decimal.Decimal `json:"percent,omitempty"`                      // instead, 0 to 100
	Worth   money.Money      `json:"worth,omitzero"`                         // what each taking brings
	Margin  money.Money      `json:"margin,omitzero"`                        // of it, what is left after what the goods cost
}

// Output is what the map leads to, for a visitor who comes in at its entrance.
type Output struct {
	Ends      []End       `json:"ends"`               // where visitors come to rest, with those who leave
	Seen      []Seen      `json:"seen"`               // how often each other step is seen
	Pages     float64     `json:"pages"`              // steps seen by a visitor
	Orders    float64     `json:"orders_per_visitor"` // by the outcome “bought”
	Revenue   PerHead     `json:"revenue_per_visitor"`
	Low       PerHead     `json:"revenue_low"` // 95 per cent of where it can be, from the rates that were measured
	High      PerHead     `json:"revenue_high"`
	Margin    PerHead     `json:"margin_per_visitor"`
	Click     PerHead     `json:"click_may_cost"` // at most, for the visitors to leave what the store wants
	Rates     []Rate      `json:"rates"`
	Gains     []Gain      `json:"gains"`               // what a tenth more takers would bring, the most first
	Order     []string    `json:"order"`               // of the rows and columns of the matrix
	Matrix    [][]float64 `json:"fundamental_matrix"`  // visits to each step, by the step at which one begins
	Certainty string      `json:"certainty,omitempty"` // what to think of all this
}

// PerHead is an expected amount for one visitor, in minor units with four digits.
type PerHead struct {
	Minor    decimal.Decimal `json:"minor"`
	Currency string          `json:"currency"`
}

// End is where visitors come to rest.
type End struct {
	Step   string  `json:"step"`
	Chance float64 `json:"chance"`
}

// Seen is how often a step is seen by a visitor who comes in.
type Seen struct {
	Step  string  `json:"step"`
	Times float64 `json:"times"`
}

// Rate is how often a route is taken, and how sure that is.
type Rate struct {
	From     string             `json:"from"`
	Outcome  string             `json:"outcome"`
	To       string             `json:"to"`
	Rate     float64            `json:"rate"`
	Measured bool               `json:"measured"`
	Between  *interval.Interval `json:"between,omitempty"` // of a measured one, 95 per cent
	Few      bool               `json:"few,omitempty"`     // from too few visitors to be more than a range
}

// Gain is what a tenth more takers of a route would bring.
type Gain struct {
	From    string  `json:"from"`
	Outcome string  `json:"outcome"`
	More    PerHead `json:"more_per_visitor"`
}

// Compute answers what a map leads to.
func Compute(in Input) (Output, error) {
	c, err := read(in)
	if err != nil {
		return Output{}, err
	}
	n, err := c.fundamental()
	if err != nil {
		return Output{}, err
	}
	out := Output{Order: c.names(), Rates: c.rates(), Ends: []End{}, Seen: []Seen{}, Gains: []Gain{}, Matrix: rows(n)}
	at := c.index[in.Entrance]
	if c.ends(in.Entrance) {
		out.Ends, out.Revenue, out.Click = []End{{in.Entrance, 1}}, c.perHead(0), c.perHead(0)
		out.Low, out.High, out.Margin = out.Revenue, out.Revenue, out.Revenue
		return out, nil
	}
	for i, id := range out.Order {
		out.Seen = append(out.Seen, Seen{id, n.At(at, i)})
		out.Pages += n.At(at, i)
	}
	out.Ends = c.absorbed(n, at)
	worth := c.sum(n, func(r Route) float64 { return float64(r.Worth.Minor) })
	margin := worth[at]
	if slices.ContainsFunc(in.Routes, func(r Route) bool { return r.Margin.Currency != "" }) {
		margin = c.sum(n, func(r Route) float64 { return float64(r.Margin.Minor) })[at]
	}
	out.Orders = c.sum(n, func(r Route) float64 { return map[bool]float64{true: 1}[r.Outcome == "bought"] })[at]
	out.Revenue, out.Margin = c.perHead(worth[at]), c.perHead(margin)
	out.Click = c.perHead(max(0, margin-worth[at]*in.FloorPercent.Shift(-2).InexactFloat64()))
	off := interval.Z95 * c.error(n, at, worth)
	out.Low, out.High = c.perHead(max(0, worth[at]-off)), c.perHead(worth[at]+off)
	out.Gains = c.gains(n, at, worth)
	if slices.ContainsFunc(out.Rates, func(r Rate) bool { return r.Few }) {
		out.Certainty = fmt.Sprintf("Some rates come from fewer than %d visitors: take what follows from them as a range, not as a number.", Few)
	}
	return out, nil
}

// chain is a map that was read: rates of routes, and steps that are no ends by number.
type chain struct {
	in    Input
	rate  []float64          // of each route
	goes  map[string]float64 // of each step, those who take any
	index map[string]int
	known map[string]Step
}

func read(in Input) (chain, error) {
	c := chain{in: in, goes: map[string]float64{}, index: map[string]int{}, known: map[string]Step{}}
	if _, err := money.Digits(in.Currency); err != nil {
		return c, fmt.Errorf("currency: %w", err)
	}
	if len(in.Steps) > MostSteps || len(in.Routes) > MostRoutes {
		return c, fmt.Errorf("steps: %d, with %d routes; at most %d and %d are computed", len(in.Steps), len(in.Routes), MostSteps, MostRoutes)
	}
	for i, s := range in.Steps {
		if _, twice := c.known[s.ID]; twice || s.ID == "" || s.ID == Left {
			return c, fmt.Errorf("steps[%d].id: %q is empty, used twice, or the name of those who leave", i, s.ID)
		}
		c.known[s.ID] = s
	}
	if _, ok := c.known[in.Entrance]; !ok {
		return c, fmt.Errorf("entrance: there is no step %q", in.Entrance)
	}
	for i, r := range in.Routes {
		p, err := c.rateOf(r)
		if err != nil {
			return c, fmt.Errorf("routes[%d].%w", i, err)
		}
		c.rate = append(c.rate, p)
		if c.goes[r.From] += p; c.goes[r.From] > 1+1e-9 {
			return c, fmt.Errorf("routes[%d]: more visitors go on from %q than come there", i, r.From)
		}
		if _, ok := c.index[r.From]; !ok {
			c.index[r.From] = len(c.index)
		}
	}
	return c, nil
}

// rateOf is how often a route is taken.
func (c chain) rateOf(r Route) (float64, error) {
	from, ok := c.known[r.From]
	if !ok {
		return 0, fmt.Errorf("from: there is no step %q", r.From)
	}
	if _, ok := c.known[r.To]; !ok {
		return 0, fmt.Errorf("to: there is no step %q", r.To)
	}
	if r.Worth.Currency != "" && r.Worth.Currency != c.in.Currency {
		return 0, fmt.Errorf("worth: is in %q, all else in %s: %w", r.Worth.Currency, c.in.Currency, money.ErrMixed)
	}
	if r.Worth.Minor < -money.Limit || r.Worth.Minor > money.Limit {
		return 0, fmt.Errorf("worth.minor: %d; it must be at most %d", r.Worth.Minor, money.Limit)
	}
	if r.Percent != nil {
		if r.Percent.IsNegative() || r.Percent.GreaterThan(decimal.NewFromInt(100)) {
			return 0, fmt.Errorf("percent: %s; it must be from 0 to 100", r.Percent)
		}
		return r.Percent.Shift(-2).InexactFloat64(), nil
	}
	if r.Taken < 0 || r.Taken > from.Visitors {
		return 0, fmt.Errorf("taken: %d of the %d visitors of %q", r.Taken, from.Visitors, r.From)
	}
	if from.Visitors == 0 {
		return 0, fmt.Errorf("percent: missing; nobody was seen on %q, so write how many will go on", r.From)
	}
	return float64(r.Taken) / float64(from.Visitors), nil
}

func (c chain) ends(step string) bool { _, goes := c.index[step]; return !goes }

// names are the steps that are no ends, by number.
func (c chain) names() []string {
	out := make([]string, len(c.index))
	for id, i := range c.index {
		out[i] = id
	}
	return out
}

// fundamental is N = (I − Q)⁻¹.
func (c chain) fundamental() (*mat.Dense, error) {
	size := len(c.index)
	if size == 0 {
		return &mat.Dense{}, nil
	}
	a := mat.NewDense(size, size, nil)
	for i := range size {
		a.Set(i, i, 1)
	}
	for k, r := range c.in.Routes {
		if to, goes := c.index[r.To]; goes {
			from := c.index[r.From]
			a.Set(from, to, a.At(from, to)-c.rate[k])
		}
	}
	var n mat.Dense
	if err := n.Inverse(a); err != nil {
		return nil, fmt.Errorf("routes: there is a circle that nobody leaves; give one of its steps a way out")
	}
	for i := range size {
		for j := range size {
			if v := n.At(i, j); v < -1e-6 || v > 1e9 || math.IsNaN(v) {
				return nil, fmt.Errorf("routes: there is a circle that hardly anybody leaves; give one of its steps a way out")
			}
		}
	}
	return &n, nil
}

func rows(n *mat.Dense) [][]float64 {
	r, width := n.Dims()
	out := make([][]float64, r)
	for i := range out {
		out[i] = make([]float64, width)
		for j := range out[i] {
			out[i][j] = n.At(i, j)
		}
	}
	return out
}

// absorbed is where visitors who come in come to rest, in the order of the steps.
func (c chain) absorbed(n *mat.Dense, at int) []End {
	chance := map[string]float64{}
	for k, r := range c.in.Routes {
		if c.ends(r.To) {
			chance[r.To] += n.At(at, c.index[r.From]) * c.rate[k]
		}
	}
	var out []End
	for _, s := range c.in.Steps {
		if c.ends(s.ID) {
			out = append(out, End{s.ID, chance[s.ID]})
		}
	}
	left := 0.0
	for i, id := range c.names() {
		left += n.At(at, i) * c.leaves(id)
	}
	return append(out, End{Left, left})
}

// leaves is how many of a step's visitors take no route.
func (c chain) leaves(step string) float64 { return max(0, 1-c.goes[step]) }

// sum is what a visitor comes to who begins at each step: N times what each step
// brings at once.
func (c chain) sum(n *mat.Dense, of func(Route) float64) []float64 {
	out := make([]float64, len(c.index))
	for k, r := range c.in.Routes {
		brings := c.rate[k] * of(r)
		for i := range out {
			out[i] += n.At(i, c.index[r.From]) * brings
		}
	}
	return out
}

func (c chain) perHead(minor float64) PerHead {
	return PerHead{decimal.NewFromFloat(minor).Round(4), c.in.Currency}
}

// rates are those of the routes, with how sure they are.
func (c chain) rates() []Rate {
	out := make([]Rate, len(c.in.Routes))
	for k, r := range c.in.Routes {
		out[k] = Rate{From: r.From, Outcome: r.Outcome, To: r.To, Rate: c.rate[k], Measured: r.Percent == nil}
		if r.Percent == nil {
			of := c.known[r.From].Visitors
			between := interval.Wilson(r.Taken, of, interval.Z95)
			out[k].Between, out[k].Few = &between, of < Few
		}
	}
	return out
}

// error is the standard error of the revenue of who begins at a step, in minor units,
// from those of the rates that were measured (the delta method: how the revenue changes
// with a rate, times the rate's own error; the rates of one step are multinomial).
func (c chain) error(n *mat.Dense, at int, worth []float64) float64 {
	square, mean := map[string]float64{}, map[string]float64{}
	for k, r := range c.in.Routes {
		of := c.known[r.From].Visitors
		if r.Percent != nil || of == 0 {
			continue
		}
		after := float64(r.Worth.Minor)
		if j, goes := c.index[r.To]; goes {
			after += worth[j]
		}
		slope := n.At(at, c.index[r.From]) * after
		square[r.From] += slope * slope * c.rate[k]
		mean[r.From] += slope * c.rate[k]
	}
	sum := 0.0
	for _, s := range c.in.Steps { // in their order, so that the sum is always the same
		if of := c.known[s.ID].Visitors; of > 0 {
			sum += max(0, square[s.ID]-mean[s.ID]*mean[s.ID]) / float64(of)
		}
	}
	return math.Sqrt(sum)
}

// gains are what visitors would bring if a tenth more took a route, of those who leave
// its step; where fewer leave, if all of them took it.
//
// One rate of Q grows by d, from step i to j. By the formula of Sherman and Morrison
// (Annals of Mathematical Statistics 21, 1950) N then grows by d·NeᵢeⱼᵀN / (1 − d·Nⱼᵢ),
// so nothing is inverted again.
func (c chain) gains(n *mat.Dense, at int, worth []float64) []Gain {
	out := []Gain{}
	for k, r := range c.in.Routes {
		d := min(c.rate[k]/10, c.leaves(r.From))
		if d <= 0 {
			continue
		}
		i, brings := c.index[r.From], float64(r.Worth.Minor)
		after := brings // what one more who takes the route brings, from there on
		if j, goes := c.index[r.To]; goes {
			around := n.At(j, i) // how often they come back here
			if d*around >= 1 {
				continue // nobody would leave the circle
			}
			after += (worth[j] + d*brings*around) / (1 - d*around)
		}
		out = append(out, Gain{r.From, r.Outcome, c.perHead(d * n.At(at, i) * after)})
	}
	slices.SortStableFunc(out, func(a, b Gain) int { return b.More.Minor.Cmp(a.More.Minor) })
	return out
}
