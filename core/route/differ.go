package route

import (
	"fmt"
	"slices"
	"strings"
)

// Differences says in words how a draft's steps and routes differ from those that
// are live. Where steps are drawn is no difference.
func Differences(live, draft Funnel) []string {
	var out []string
	for _, s := range draft.Steps {
		was, had := live.Step(s.ID)
		switch {
		case !had:
			out = append(out, fmt.Sprintf("“%s” is new on the map", s.Name))
		case was.Address != s.Address || was.FileID != s.FileID || was.Aim != s.Aim || (was.Kind != s.Kind && (!was.Kind.Offers() || !s.Kind.Offers())):
			out = append(out, fmt.Sprintf("“%s” is another step", s.Name))
		}
		for _, o := range draft.OutcomesOf(s) {
			if had && !slices.EqualFunc(live.From(s.ID, o), draft.From(s.ID, o), sameRoute) {
				out = append(out, fmt.Sprintf("who %s on “%s” is led otherwise", o.Who(), s.Name))
			}
		}
		for _, o := range live.OutcomesOf(was) {
			if had && len(draft.From(s.ID, o)) == 0 && len(live.From(s.ID, o)) > 0 && !slices.Contains(draft.OutcomesOf(s), o) {
				out = append(out, fmt.Sprintf("who %s on “%s” is led nowhere", o.Who(), s.Name))
			}
		}
	}
	for _, s := range live.Steps {
		if _, has := draft.Step(s.ID); !has {
			out = append(out, fmt.Sprintf("“%s” is off the map", s.Name))
		}
	}
	return out
}

// sameRoute tells whether two routes lead alike, whatever they are called.
func sameRoute(a, b Route) bool {
	return a.To == b.To && slices.Equal(a.Fork, b.Fork) && slices.EqualFunc(a.When, b.When, func(c, d Condition) bool {
		return c.Kind == d.Kind && c.Not == d.Not && c.AtLeast == d.AtLeast && slices.Equal(c.Values, d.Values)
	})
}

// Said is where an outcome leads, in one sentence for each of its routes.
func (f Funnel) Said(from string, o Outcome, names func(Condition) string) []string {
	var out []string
	for _, r := range f.From(from, o) {
		var when []string
		for _, c := range r.When {
			when = append(when, names(c))
		}
		var to []string
		for _, t := range r.Fork {
			s, _ := f.Step(t.To)
			to = append(to, fmt.Sprintf("%s, %d", s.Name, t.Share))
		}
		if !r.Forks() {
			s, _ := f.Step(r.To)
			to = []string{s.Name}
		}
		said := "Who " + o.Who()
		if len(when) > 0 {
			said += " and " + strings.Join(when, " and ")
		}
		out = append(out, said+" goes to "+strings.Join(to, ", or ")+".")
	}
	return out
}
