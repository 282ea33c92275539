package audience

import (
	"slices"
	"strings"

	"chrysagon/app/followups"
	"chrysagon/core/followup"
)

// What is chosen of whom a letter is for, beside everybody.
const (
	whoHas = "has"
	hasNot = "has_not"
)

// forks are what a letter can hang on, by kind.
func forks(all followups.Beginnings) []group {
	var out []group
	for _, what := range followup.Forks {
		of := kindsOf[what]
		g := group{Label: of.label}
		if what == followup.Clicked {
			g.Choices = append(g.Choices, choice{string(what), of.done})
		}
		for _, b := range all {
			if b.What != what {
				continue
			}
			switch {
			case b.Of != "":
				g.Choices = append(g.Choices, choice{hangs(what, b.Of), strings.ReplaceAll(of.doneOne, "%s", b.Name)})
			case what != followup.Clicked && what != followup.Joined: // whoever is on the line is on a list
				g.Choices = append(g.Choices, choice{string(what), of.done})
			}
		}
		if len(g.Choices) > 0 {
			out = append(out, g)
		}
	}
	return out
}

// hangs is what a letter hangs on, as its choice has it.
func hangs(what followup.Happening, of string) string {
	return followup.Only{Did: what, Of: of}.String()
}

// onlyForm is to whom a letter is sent, as it is typed.
func onlyForm(o followup.Only) (whom, did string) {
	switch {
	case o.Did == "":
		return "", ""
	case o.Not:
		return hasNot, hangs(o.Did, o.Of)
	}
	return whoHas, hangs(o.Did, o.Of)
}

// only is to whom a letter is sent, by what was typed.
func (s stepForm) only() followup.Only {
	if s.Whom == "" {
		return followup.Only{}
	}
	o := followup.ParseOnly(s.Did)
	o.Not = s.Whom == hasNot
	return o
}

// Gone tells whether a letter hangs on something that can be chosen no more.
func (s stepForm) Gone(all []group) bool {
	return s.Did != "" && !slices.ContainsFunc(all, func(g group) bool {
		return slices.ContainsFunc(g.Choices, func(c choice) bool { return c.Value == s.Did })
	})
}

// forWhom says for whom a letter is that is not for everybody.
func forWhom(o followup.Only, all followups.Beginnings) string {
	of := kindsOf[o.Did]
	says := of.done
	if o.Of != "" {
		name := all.Name(followup.Begin{What: o.Did, Of: o.Of})
		if name == "" {
			name = "something that is gone"
		}
		says = strings.ReplaceAll(of.doneOne, "%s", name)
	}
	if o.Not {
		return "for who has not " + says
	}
	return "for who has " + says
}
