package routes

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/routes"
	"chrysagon/core/address"
	"chrysagon/core/fork"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// chosen is the step under the map, as fillable sentences.
type chosen struct {
	route.Step
	Kind     string
	Outcomes []outcomeView
	Others   []route.Step // to which it can lead
	Goods    []option
	Sources  []string
	Places   []option
	Upsells  []route.Step
	Faults   []fault.Fault
	Aims     bool
	Own      bool     // its page is of this campaign
	More     []option // outcomes that could be led and are not
	Posts    []string // follow-ups that begin with it, as sentences
	Begun    int      // to whom the outcome [route.Unfinished] came
}

type option struct{ Value, Label string }

type outcomeView struct {
	Outcome route.Outcome
	Who     string
	Ways    []wayView
	Must    bool
}

type wayView struct {
	route.Route
	Targets []fork.Share
}

// Unfinished is the outcome of who began the checkout and did not finish it.
func (chosen) Unfinished() route.Outcome { return route.Unfinished }

// sentencesOf is a step with its ways.
func sentencesOf(m routes.Map, id string) chosen {
	s, ok := m.Funnel.Step(id)
	if !ok {
		return chosen{}
	}
	v := chosen{Step: s, Kind: routeKind(s, m), Sources: sources(m), Aims: s.Kind == route.DownsellAt, Begun: int(m.Figures.Steps[id].Begun)}
	for _, o := range m.Funnel.Steps {
		if o.ID != id {
			v.Others = append(v.Others, o)
		}
		if o.Kind == route.UpsellAt {
			v.Upsells = append(v.Upsells, o)
		}
	}
	for _, p := range m.Posts {
		if p.From == id {
			v.Posts = append(v.Posts, saysOf(p))
		}
	}
	for goods, name := range m.Goods {
		v.Goods = append(v.Goods, option{goods, name})
	}
	slices.SortFunc(v.Goods, func(a, b option) int { return strings.Compare(a.Label, b.Label) })
	for _, f := range m.Faults {
		if f.StepID == id {
			v.Faults = append(v.Faults, f)
		}
	}
	for _, d := range m.Drafts {
		v.Own = v.Own || d.ID == s.PageID
	}
	outcomes := m.Funnel.OutcomesOf(s)
	for _, name := range m.About[id].Buttons {
		if o := route.Clicked(name); o.Leads() && !slices.Contains(outcomes, o) {
			outcomes = append(outcomes, o)
		}
	}
	for _, o := range outcomes {
		if !o.Leads() {
			continue
		}
		out := outcomeView{Outcome: o, Who: o.Who(), Must: slices.Contains(s.Kind.Must(), o)}
		for _, r := range m.Funnel.From(id, o) {
			w := wayView{Route: r, Targets: r.Fork}
			if !r.Forks() {
				w.Targets = []fork.Share{{To: r.To, Share: 1}}
			}
			out.Ways = append(out.Ways, w)
		}
		if len(out.Ways) == 0 {
			out.Ways = []wayView{{Targets: []fork.Share{{}}}}
		}
		v.Outcomes = append(v.Outcomes, out)
	}
	if !s.Kind.Ends() && !s.Kind.AfterPayment() && s.Kind != route.Sales {
		for _, o := range []route.Outcome{route.Clicked(route.Yes), route.Clicked(route.No)} {
			if !slices.Contains(outcomes, o) {
				v.More = append(v.More, option{string(o), o.Who()})
			}
		}
	}
	return v
}

// conditionWords are the words of a condition's kind.
func conditionWords() []option {
	var out []option
	for _, k := range route.ConditionKinds {
		out = append(out, option{k.Name, k.Says}, option{"-" + k.Name, k.Never})
	}
	return out
}

// asked is what a condition asks for, in its sentence.
func asked(c route.Condition) string {
	k, _ := route.ConditionOf(c.Kind)
	return string(k.Asks)
}

// kindOf is a condition's kind as it is chosen: with a minus where it must not hold.
func kindOf(c route.Condition) string {
	if c.Not {
		return "-" + c.Kind
	}
	return c.Kind
}

// rowView is a step in the list that a phone shows.
type rowView struct {
	ID, Name, Kind, Count, Unit, Falls string
	Wide                               int
	Says                               []string
}

// rows are the steps as sentences with small bars.
func rows(m routes.Map, told teller) []rowView {
	var out []rowView
	most := told.most()
	for _, s := range m.Funnel.Steps {
		v := rowView{ID: s.ID, Name: s.Name, Kind: routeKind(s, m), Falls: told.falls(s), Wide: int(100 * float64(m.Figures.Steps[s.ID].Visitors) / most)}
		v.Count, v.Unit = told.count(s)
		for _, o := range m.Funnel.OutcomesOf(s) {
			said := m.Funnel.Said(s.ID, o, func(c route.Condition) string {
				k, _ := route.ConditionOf(c.Kind)
				if c.Not {
					return k.Never
				}
				return k.Says
			})
			list := m.Funnel.From(s.ID, o)
			for i, r := range list {
				n := 0.0
				for _, to := range r.Targets() {
					n += told.way(r, to)
				}
				if len(list) == 1 {
					n = -1
				}
				said[i] += " " + told.rate(r, n)
			}
			v.Says = append(v.Says, said...)
		}
		for _, p := range m.Posts {
			if p.From == s.ID {
				v.Says = append(v.Says, saysOf(p))
			}
		}
		out = append(out, v)
	}
	return out
}

// lead reads the sentences of one outcome and leads it as they say.
func (p *Place) lead(c fiber.Ctx) error {
	cmd := route.Command{Do: route.LeadTo, From: frame.Typed(c, "from"), Outcome: route.Outcome(frame.Typed(c, "outcome"))}
	n, err := strconv.Atoi(frame.Typed(c, "ways"))
	if err != nil || n < 0 || n > 20 {
		return refusal.Of(refusal.ErrInvalid, "Load the page again; these sentences are not whole.")
	}
	for i := range n {
		r, err := p.wayTyped(c, i)
		if err != nil {
			return err
		}
		if len(r.Fork) > 0 && frame.Typed(c, "drop") != strconv.Itoa(i) {
			cmd.Routes = append(cmd.Routes, r)
		}
	}
	if frame.Typed(c, "another") != "" && len(cmd.Routes) > 0 {
		last := cmd.Routes[len(cmd.Routes)-1]
		some := route.Route{When: []route.Condition{{Kind: route.IfSource, Values: []string{"direct"}}}, To: last.Targets()[0]}
		if from, err := p.stepOf(c, cmd.From); err == nil && (from.Kind == route.Sales || from.Kind.AfterPayment()) {
			some.When = []route.Condition{{Kind: route.IfAgain}}
		}
		cmd.Routes = slices.Insert(cmd.Routes, len(cmd.Routes)-1, some)
	}
	return p.changed(c, cmd)
}

func (p *Place) stepOf(c fiber.Ctx, id string) (route.Step, error) {
	f, err := p.Routes.Drafts.DraftFunnel(c, frame.AtHand(c))
	if err != nil {
		return route.Step{}, err
	}
	s, _ := f.Step(id)
	return s, nil
}

// wayTyped reads the i-th way: its targets with their shares, and for whom it is.
func (p *Place) wayTyped(c fiber.Ctx, i int) (route.Route, error) {
	name := func(part string) string { return fmt.Sprintf("w%d_%s", i, part) }
	r := route.Route{ID: frame.Typed(c, name("id"))}
	to, shares := frame.AllTyped(c, name("to")), frame.AllTyped(c, name("share"))
	for j, id := range to {
		if id == "" {
			continue
		}
		share := 1
		if j < len(shares) && strings.TrimSpace(shares[j]) != "" {
			var err error
			if share, err = strconv.Atoi(strings.TrimSpace(shares[j])); err != nil {
				return r, refusal.Of(refusal.ErrInvalid, "A share is a whole number, such as 10 against 5, and not “%s”.", shares[j])
			}
		}
		r.Fork = append(r.Fork, fork.Share{To: id, Share: share})
	}
	for j := range 10 {
		kind := frame.Typed(c, fmt.Sprintf("w%d_c%d", i, j))
		if kind == "" {
			continue
		}
		when := route.Condition{Kind: strings.TrimPrefix(kind, "-"), Not: strings.HasPrefix(kind, "-")}
		for _, v := range frame.AllTyped(c, fmt.Sprintf("w%d_c%d_value", i, j)) {
			if v = strings.TrimSpace(v); v != "" && !slices.Contains(when.Values, v) {
				when.Values = append(when.Values, v)
			}
		}
		k, known := route.ConditionOf(when.Kind)
		if known && k.Asks == route.AsksAmount {
			if err := p.amount(c, fmt.Sprintf("w%d_c%d_amount", i, j), &when); err != nil {
				return r, err
			}
		}
		if known && len(when.Values) == 0 && (k.Asks == route.AsksGoods || k.Asks == route.AsksCountries || k.Asks == route.AsksSources) {
			// Just chosen: the first there is stands, to be changed.
			first, err := p.firstOf(c, k.Asks)
			if err != nil {
				return r, err
			}
			when.Values = []string{first}
		}
		if known && k.Asks == route.AsksNothing {
			when.Values = nil
		}
		r.When = append(r.When, when)
	}
	return r, nil
}

func (p *Place) amount(c fiber.Ctx, name string, when *route.Condition) error {
	text := frame.Typed(c, name)
	if text == "" {
		when.AtLeast = 5000
		return nil
	}
	m, err := money.Parse(text, p.Currency())
	if err != nil {
		return refusal.Of(refusal.ErrInvalid, "“%s” is no amount; write it like 50.00.", text)
	}
	when.AtLeast = m.Minor
	return nil
}

// firstOf is the first thing that a condition of a kind could name.
func (p *Place) firstOf(c fiber.Ctx, asks route.Asks) (string, error) {
	if asks == route.AsksSources {
		return "direct", nil
	}
	if asks == route.AsksCountries {
		shop, err := p.Store.Shop(c)
		return shop.Country, err
	}
	state, err := p.Publishing.State(c, frame.AtHand(c))
	if err != nil {
		return "", err
	}
	var ids []string
	for id := range state.Goods {
		ids = append(ids, id)
	}
	if len(ids) == 0 {
		return "", refusal.Of(refusal.ErrInvalid, "No page of this campaign sells anything yet.")
	}
	return slices.Min(ids), nil
}

// places are the countries that the store sends to.
func places(codes []string) []option {
	var out []option
	for _, code := range codes {
		out = append(out, option{code, address.NameOf(code)})
	}
	return out
}
