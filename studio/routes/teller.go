package routes

import (
	"strconv"
	"strings"

	"chrysagon/app/routes"
	"chrysagon/core/forecast"
	"chrysagon/core/interval"
	"chrysagon/core/money"
	"chrysagon/core/route"
)

// teller says the numbers of a map: those of its walks, or those that are foretold of
// a thousand visitors.
type teller struct {
	m        routes.Map
	out      forecast.Output
	foretold bool
	seen     map[string]float64
}

// of is how many visitors a forecast is told for.
const of = 1000

func tellerOf(m routes.Map, l looking, out forecast.Output) teller {
	t := teller{m: m, out: out, foretold: l.Mode == "forecast", seen: map[string]float64{}}
	for _, s := range out.Seen {
		t.seen[s.Step] = s.Times
	}
	for _, e := range out.Ends {
		t.seen[e.Step] = e.Chance
	}
	return t
}

// count is how many came to a step, or what they brought there.
func (t teller) count(s route.Step) (string, string) {
	done := t.m.Figures.Steps[s.ID]
	if t.foretold {
		return thousands(int64(of*t.seen[s.ID] + 0.5)), "of a thousand"
	}
	switch {
	case s.Kind == route.ThankYou:
		return thousands(done.Visitors), money.Of(t.m.Figures.Revenue, t.m.Currency).String()
	case done.Minor > 0:
		return thousands(done.Visitors), "came · " + money.Of(done.Minor, t.m.Currency).String()
	case s.Kind.Offers():
		return thousands(done.Visitors), "orders"
	}
	return thousands(done.Visitors), "visitors"
}

// falls is how many left at a step.
func (t teller) falls(s route.Step) string {
	if len(t.m.Funnel.OutcomesOf(s)) == 0 {
		return ""
	}
	n := t.m.Figures.Steps[s.ID].Left()
	if t.foretold {
		left := t.seen[s.ID]
		for _, r := range t.out.Rates {
			if r.From == s.ID {
				left -= t.seen[s.ID] * r.Rate
			}
		}
		n = int64(of*max(left, 0) + 0.5)
	}
	if n == 0 {
		return ""
	}
	return thousands(n) + " leave"
}

// way is how many went a way.
func (t teller) way(r route.Route, to string) float64 {
	if !t.foretold {
		return float64(t.m.Figures.Ways[routes.Way{From: r.From, Outcome: r.Outcome, To: to}])
	}
	return of * t.seen[r.From] * t.rateOf(r, to)
}

// rateOf is how often a way is taken, as it is foretold; to "" is any.
func (t teller) rateOf(r route.Route, to string) float64 {
	sum := 0.0
	for _, f := range t.out.Rates {
		if f.From == r.From && f.Outcome == string(r.Outcome) && (to == "" || f.To == to) {
			sum += f.Rate
		}
	}
	return sum
}

func (t teller) most() float64 {
	if t.foretold {
		return of
	}
	most := int64(1)
	for _, s := range t.m.Figures.Steps {
		most = max(most, s.Visitors)
	}
	return float64(most)
}

func (t teller) said(n float64) string {
	if t.foretold {
		return thousands(int64(n+0.5)) + " of a thousand"
	}
	return thousands(int64(n)) + " so far"
}

// rate is an outcome's share of its step's visitors, n of them or, below zero, all
// whom it came of. Of fewer than a hundred visitors it is a range.
func (t teller) rate(r route.Route, n float64) string {
	if t.foretold {
		if n < 0 {
			return percents(t.rateOf(r, ""))
		}
		return percents(n / of / max(t.seen[r.From], 1e-9))
	}
	done := t.m.Figures.Steps[r.From]
	count := done.Outcomes[r.Outcome]
	if n >= 0 {
		count = int64(n)
	}
	if done.Visitors > 0 && done.Visitors < forecast.Few {
		between := interval.Wilson(int(min(count, done.Visitors)), int(done.Visitors), interval.Z95)
		return strings.TrimSuffix(percents(between.Low), "%") + "–" + percents(between.High)
	}
	return per(count, done.Visitors)
}

// part is what of a fork's visitors really went a way.
func (t teller) part(n, all float64) string {
	if all <= 0 {
		return ""
	}
	return strconv.FormatFloat(100*n/all, 'f', 1, 64) + "%"
}

func percents(p float64) string {
	if p < 0.1 && p > 0 {
		return strconv.FormatFloat(100*p, 'f', 1, 64) + "%"
	}
	return strconv.FormatFloat(100*p, 'f', 0, 64) + "%"
}
