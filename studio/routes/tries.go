package routes

import (
	"fmt"
	"strconv"
	"strings"

	"chrysagon/app/routes"
	"chrysagon/core/forecast"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/rehearsal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
	"github.com/shopspring/decimal"
)

// try is one number that can be tried: a rate, a share or a price.
type try struct {
	Name, Says, Value, Is string
	By                    string // “measured”, “written by hand”, or nothing yet
}

// triesOf lists what can be tried on a map.
func triesOf(m routes.Map, w routes.WhatIf) []try {
	var out []try
	for _, s := range m.Funnel.Steps {
		done := m.Figures.Steps[s.ID]
		for _, o := range m.Funnel.OutcomesOf(s) {
			if !o.Leads() {
				continue
			}
			t := try{Name: "rate|" + routes.RateKey(s.ID, o), Says: s.Name + ": " + o.Did(), By: "measured"}
			if done.Visitors > 0 {
				t.Is = strconv.FormatFloat(100*float64(done.Outcomes[o])/float64(done.Visitors), 'f', 1, 64)
			} else {
				t.By = "nobody was there yet"
			}
			if p, tried := w.Rates[routes.RateKey(s.ID, o)]; tried {
				t.Value, t.By = p.String(), "written by hand"
			}
			out = append(out, t)
			for _, r := range m.Funnel.From(s.ID, o) {
				for _, f := range r.Fork {
					to, _ := m.Funnel.Step(f.To)
					sh := try{Name: "share|" + routes.ShareKey(r, f.To), Says: "share of " + to.Name, Is: strconv.Itoa(f.Share)}
					if n, tried := w.Shares[routes.ShareKey(r, f.To)]; tried {
						sh.Value = strconv.Itoa(n)
					}
					out = append(out, sh)
				}
			}
		}
		if price := m.About[s.ID].Price; price > 0 {
			t := try{Name: "price|" + s.ID, Says: s.Name + ": price", Is: plainMoney(price, m.Currency)}
			if n, tried := w.Prices[s.ID]; tried {
				t.Value = plainMoney(n, m.Currency)
			}
			out = append(out, t)
		}
	}
	return out
}

// plainMoney is an amount without its sign, as a field takes it.
func plainMoney(minor int64, currency string) string {
	return strings.TrimLeft(money.Of(minor, currency).String(), "€$£¥ ")
}

// tried reads what is tried.
func (p *Place) tried(c fiber.Ctx) (routes.WhatIf, error) {
	w := routes.WhatIf{Rates: map[string]decimal.Decimal{}, Prices: map[string]int64{}, Shares: map[string]int{}}
	for name, raw := range c.Request().PostArgs().All() {
		value := strings.TrimSpace(strings.ReplaceAll(string(raw), ",", "."))
		what, key, _ := strings.Cut(string(name), "|")
		if value == "" {
			continue
		}
		switch what {
		case "rate":
			n, err := decimal.NewFromString(strings.TrimSuffix(value, "%"))
			if err != nil || n.IsNegative() || n.GreaterThan(decimal.NewFromInt(100)) {
				return w, refusal.Of(refusal.ErrInvalid, "“%s” is no rate; write per cent from 0 to 100.", value)
			}
			w.Rates[key] = n
		case "share":
			n, err := strconv.Atoi(value)
			if err != nil || n < 0 || n > 1_000_000 {
				return w, refusal.Of(refusal.ErrInvalid, "“%s” is no share; write a whole number.", value)
			}
			w.Shares[key] = n
		case "price":
			m, err := money.Parse(value, p.Currency())
			if err != nil || m.Minor < 0 {
				return w, refusal.Of(refusal.ErrInvalid, "“%s” is no price; write it like 51.00.", value)
			}
			w.Prices[key] = m.Minor
		}
	}
	return w, nil
}

// trying is the map with what is tried on it.
func (p *Place) trying(c fiber.Ctx, l looking) (m routes.Map, w routes.WhatIf, err error) {
	if w, err = p.tried(c); err != nil {
		return m, w, err
	}
	m, err = p.Routes.Map(c, frame.AtHand(c), p.window(l))
	return m, w, err
}

// whatIf shows the map as it would be.
func (p *Place) whatIf(c fiber.Ctx) error {
	l := look(c)
	l.Mode = "forecast"
	m, w, err := p.trying(c, l)
	if err != nil {
		return err
	}
	values := p.valuesOf(l, m, w)
	if values["NoForecast"] != nil && w.Any() {
		return refusal.Of(refusal.ErrInvalid, "These rates cannot be: %v. Of one step, all together are at most 100 per cent.", values["NoForecast"])
	}
	return p.Fragment(c, "routes-body", values)
}

// rehearsed are the numbers of a rehearsal, beside what was to be expected.
type rehearsed struct {
	routes.Rehearsal
	Rows    []rehearsedRow
	Revenue string
	Margin  string
	Hoped   string
	Near    bool // within four standard errors of what was expected
}

type rehearsedRow struct {
	Name, Seen, Expected, Orders string
}

// rehearse lets invented visitors walk, and shows what they did.
func (p *Place) rehearse(c fiber.Ctx) error {
	l := look(c)
	m, w, err := p.trying(c, l)
	if err != nil {
		return err
	}
	seed, err := strconv.ParseUint(given(c, "seed"), 10, 64)
	if err != nil {
		seed = 1
	}
	values := p.valuesOf(l, m, w)
	const visitors = 100_000
	r, err := p.Routes.Rehearse(c, m, w, visitors, seed)
	if err != nil {
		return refusal.Of(refusal.ErrInvalid, "This cannot be rehearsed: %s.", err)
	}
	values["Rehearsed"] = rehearsedOf(m, r, visitors)
	return p.Fragment(c, "routes-body", values)
}

func rehearsedOf(m routes.Map, r routes.Rehearsal, visitors int) rehearsed {
	v := rehearsed{Rehearsal: r}
	n := float64(visitors)
	for i, s := range r.Steps {
		row := rehearsedRow{Name: m.Funnel.Steps[i].Name, Seen: thousands(int64(s.Seen)), Expected: thousands(int64(n*r.Expected.Seen[s.Step] + 0.5))}
		if s.Orders > 0 {
			row.Orders = thousands(int64(s.Orders))
		}
		v.Rows = append(v.Rows, row)
	}
	per := func(minor float64) string {
		return perHead(forecast.PerHead{Minor: decimal.NewFromFloat(minor), Currency: m.Currency})
	}
	mean := float64(r.Revenue) / n
	v.Revenue, v.Margin, v.Hoped = per(mean), per(float64(r.Margin)/n), per(r.Expected.Revenue)
	variance := r.Squares/n - mean*mean
	off := mean - r.Expected.Revenue
	v.Near = off*off <= 16*variance/n+1e-9
	return v
}

// perHead is an amount for each visitor, with two digits more than the currency has
// where it is small.
func perHead(p forecast.PerHead) string {
	digits, err := money.Digits(p.Currency)
	if err != nil {
		return p.Minor.String()
	}
	major := p.Minor.Shift(int32(-digits))
	text := major.StringFixed(int32(digits))
	if major.Abs().LessThan(decimal.NewFromInt(1)) {
		text = major.StringFixed(int32(digits) + 1)
	}
	sign := strings.TrimRight(strings.TrimSuffix(money.Of(0, p.Currency).String(), "0"), "0.,")
	return sign + text
}

// betterView is what a tenth more takers would bring, as a bar.
type betterView struct {
	Says, More string
	Wide       int
}

func bettersOf(m routes.Map, out forecast.Output) []betterView {
	var list []betterView
	most := decimal.Zero
	for i, b := range routes.Betters(out) {
		if i == 6 {
			break
		}
		if i == 0 {
			most = b.More.Minor
		}
		s, _ := m.Funnel.Step(b.StepID)
		list = append(list, betterView{
			Says: fmt.Sprintf("%s: %s %s → %s", s.Name, b.Outcome.Did(), strings.TrimSuffix(percents(b.From), "%"), percents(b.To)), More: "+" + perHead(b.More),
			Wide: int(b.More.Minor.Mul(decimal.NewFromInt(100)).Div(most).IntPart()),
		})
	}
	return list
}

// footfallsOf are the walks to be watched, for the script.
func footfallsOf(list []rehearsal.Footfall) [][4]string {
	var out [][4]string
	for _, f := range list {
		out = append(out, [4]string{strconv.Itoa(f.Visitor), f.From, string(f.Outcome), f.To})
	}
	return out
}
