package routes

import (
	"fmt"
	"hash/fnv"
	"strconv"
	"strings"

	"chrysagon/app/routes"
	"chrysagon/core/pass"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// looking is what the owner looks at: whose walks, which step, and in which way.
type looking struct {
	Days   int // 0: the whole season
	Source string
	Step   string
	Mode   string // "", forecast
}

func look(c fiber.Ctx) looking {
	days, err := strconv.Atoi(given(c, "days"))
	if err != nil || days < 0 || days > 366 {
		days = 7
	}
	return looking{Days: days, Source: given(c, "source"), Step: given(c, "step"), Mode: given(c, "mode")}
}

// given is a value of the form, or of the address.
func given(c fiber.Ctx, name string) string {
	if v := frame.Typed(c, name); v != "" {
		return v
	}
	return strings.TrimSpace(strings.Clone(c.Query(name)))
}

func (p *Place) window(l looking) routes.Window {
	w := routes.Window{Source: l.Source}
	if l.Days > 0 {
		w.Since = p.Store.Now().AddDate(0, 0, -l.Days)
	}
	return w
}

// values are all that the place shows.
func (p *Place) values(c fiber.Ctx, l looking) (map[string]any, error) {
	m, err := p.Routes.Map(c, frame.AtHand(c), p.window(l))
	if err != nil {
		return nil, err
	}
	return p.valuesOf(l, m, routes.WhatIf{}), nil
}

func (p *Place) valuesOf(l looking, m routes.Map, w routes.WhatIf) map[string]any {
	values := map[string]any{"Title": "Routes", "M": m, "L": l, "State": m.State, "Sources": sources(m), "Kinds": route.Kinds(), "Shop": p.Origins.Shop, "Campaign": m.Campaign.Name}
	if len(m.Funnel.Steps) == 0 {
		values["Plans"] = plansAsMaps()
		return values
	}
	if _, there := m.Funnel.Step(l.Step); !there {
		l.Step = chosenFirst(m)
	}
	out, unknown, err := m.Forecast(w)
	if err != nil {
		values["NoForecast"] = refusal.Sentence(err)
		if values["NoForecast"] == "" {
			values["NoForecast"] = err.Error()
		}
	}
	d := draw(m, l, out, w)
	values["L"], values["Map"], values["Step"] = l, d, sentencesOf(m, l.Step)
	values["Forecast"], values["Unknown"], values["Betters"] = out, strings.Join(unknown, ", "), bettersOf(m, out)
	values["Rows"], values["Places"], values["NoCondition"] = rows(m, tellerOf(m, l, out)), places(m.Countries), route.Condition{}
	values["Proved"] = fault.Proved(m.Faults)
	values["Seen"] = seenOf(m)
	values["Tries"] = triesOf(m, w)
	values["Tried"], values["Known"] = w.Any(), m.Figures.Walks > 0
	if w.Any() {
		if now, _, err := m.Forecast(routes.WhatIf{}); err == nil {
			values["Now"] = now
		}
	}
	return values
}

// chosenFirst is the step that is open where none was chosen: the first with a fault,
// else the first that sells, else the first.
func chosenFirst(m routes.Map) string {
	for _, f := range m.Faults {
		if _, there := m.Funnel.Step(f.StepID); there {
			return f.StepID
		}
	}
	for _, s := range m.Funnel.Steps {
		if s.Kind == route.Sales {
			return s.ID
		}
	}
	return m.Funnel.Steps[0].ID
}

func (p *Place) place(c fiber.Ctx) error {
	values, err := p.values(c, look(c))
	if err != nil {
		return err
	}
	return p.Show(c, "routes", "Routes", values)
}

// body is the place without its frame. Who has seen these figures already is told
// that nothing changed.
func (p *Place) body(c fiber.Ctx) error {
	l := look(c)
	m, err := p.Routes.Map(c, frame.AtHand(c), p.window(l))
	if err != nil {
		return err
	}
	if seen := c.Query("seen"); seen != "" && seen == seenOf(m) {
		return c.SendStatus(fiber.StatusNoContent)
	}
	return p.Fragment(c, "routes-body", p.valuesOf(l, m, routes.WhatIf{}))
}

// seenOf names a state of the map and its figures.
func seenOf(m routes.Map) string {
	h := fnv.New64a()
	_, _ = fmt.Fprint(h, m.Funnel, m.Figures.Came, m.Figures.Steps, m.Figures.Ways)
	return strconv.FormatUint(h.Sum64(), 36)
}

// redraw answers a change with the place as it is then.
func (p *Place) redraw(c fiber.Ctx, l looking, say string) error {
	values, err := p.values(c, l)
	if err != nil {
		return err
	}
	values["Said"] = say
	return p.Fragment(c, "routes-body", values)
}

// changed carries a command out and redraws; what is refused is said, and what was
// typed stays.
func (p *Place) changed(c fiber.Ctx, cmd route.Command) error {
	if err := p.Routes.Change(c, frame.AtHand(c), frame.Who(c).User.ID, cmd); err != nil {
		return err
	}
	return p.redraw(c, look(c), "")
}

func (p *Place) begin(c fiber.Ctx) error {
	names := map[string]string{}
	plan, _ := route.PlanOf(frame.Typed(c, "plan"))
	for _, s := range plan.Funnel.Steps {
		names[s.ID] = frame.Typed(c, "name_"+s.ID)
	}
	if err := p.Routes.Begin(c, frame.AtHand(c), frame.Who(c).User.ID, plan.Name, names); err != nil {
		return err
	}
	return p.redraw(c, looking{Days: 7}, "The map stands, with a page for each step. Open a step’s page to write it.")
}

func (p *Place) add(c fiber.Ctx) error {
	n := routes.New{
		Kind: route.Kind(frame.Typed(c, "kind")), Name: frame.Typed(c, "name"), PageID: frame.Typed(c, "page"), Address: frame.Typed(c, "address"), FileID: frame.Typed(c, "file"),
		From: frame.Typed(c, "from"), Outcome: route.Outcome(frame.Typed(c, "outcome")),
	}
	if n.PageID != "" {
		n.Kind = route.Bridge // its page says which it is
	}
	if !n.Kind.Known() {
		return refusal.Of(refusal.ErrInvalid, "Choose what kind of step it is.")
	}
	id, faults, err := p.Routes.Add(c, frame.AtHand(c), frame.Who(c).User.ID, n)
	if err != nil {
		return err
	}
	for _, f := range faults {
		return refusal.Of(refusal.ErrInvalid, "%s", f)
	}
	l := look(c)
	l.Step = id
	return p.redraw(c, l, "")
}

func (p *Place) remove(c fiber.Ctx) error {
	return p.changed(c, route.Command{Do: route.RemoveStep, Step: route.Step{ID: frame.Typed(c, "step")}})
}

// step changes what a step is called, where it is and to which upsell it belongs.
func (p *Place) step(c fiber.Ctx) error {
	m, err := p.Routes.Drafts.DraftFunnel(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	s, ok := m.Step(frame.Typed(c, "step"))
	if !ok {
		return refusal.Of(refusal.ErrNotFound, "This step is not on the map any more.")
	}
	if name := frame.Typed(c, "name"); name != "" {
		s.Name = name
	}
	if s.Kind == route.Outside {
		s.Address = frame.Typed(c, "address")
	}
	if s.Kind == route.DownsellAt {
		s.Aim = frame.Typed(c, "aim")
	}
	return p.changed(c, route.Command{Do: route.ChangeStep, Step: s})
}

func (p *Place) move(c fiber.Ctx) error {
	dx, _ := strconv.Atoi(frame.Typed(c, "dx"))
	dy, _ := strconv.Atoi(frame.Typed(c, "dy"))
	return p.changed(c, route.Command{Do: route.MoveStep, Step: route.Step{ID: frame.Typed(c, "step"), DX: dx, DY: dy}})
}

// turn leads one target of a route to another step: the end of a line was pulled there.
func (p *Place) turn(c fiber.Ctx) error {
	f, err := p.Routes.Drafts.DraftFunnel(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	from, o, key, was, to := frame.Typed(c, "from"), route.Outcome(frame.Typed(c, "outcome")), frame.Typed(c, "route"), frame.Typed(c, "was"), frame.Typed(c, "to")
	list := f.From(from, o)
	for i, r := range list {
		if r.Key() == key {
			list[i] = r.Turned(was, to)
		}
	}
	return p.changed(c, route.Command{Do: route.LeadTo, From: from, Outcome: o, Routes: list})
}

// mend carries out the remedy of a fault, as it is found now.
func (p *Place) mend(c fiber.Ctx) error {
	state, err := p.Publishing.State(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	for _, f := range state.Faults {
		if f.Mend != nil && f.Rule == frame.Typed(c, "rule") && f.StepID == frame.Typed(c, "at") && f.What == frame.Typed(c, "what") {
			return p.changed(c, *f.Mend)
		}
	}
	return p.redraw(c, look(c), "That is mended already.")
}

func (p *Place) undo(c fiber.Ctx) error {
	if err := p.Routes.Undo(c, frame.AtHand(c), frame.Typed(c, "again") != ""); err != nil {
		return err
	}
	return p.redraw(c, look(c), "")
}

func (p *Place) settings(c fiber.Ctx) error {
	minutes, err := strconv.Atoi(frame.Typed(c, "minutes"))
	if err != nil || minutes < 5 || minutes > 1440 {
		return refusal.Of(refusal.ErrInvalid, "Who does nothing has left after 5 to 1440 minutes. Write a whole number of them.")
	}
	hosts, wrong := pass.Hosts(frame.Typed(c, "hosts"))
	if wrong != "" {
		return refusal.Of(refusal.ErrInvalid, "“%s” is no host. Write one a line, such as lamps.example.", wrong)
	}
	if err := p.Routes.Set(c, routes.Settings{Minutes: minutes, Hosts: hosts}); err != nil {
		return err
	}
	return p.redraw(c, look(c), "Kept for the whole store.")
}
