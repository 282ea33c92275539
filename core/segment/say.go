package segment

import (
	"fmt"
	"strings"
)

// Say writes a rule as a sentence. name gives what something is called, by what a clause
// looks at and its ID; money writes an amount in minor units.
func (r Rule) Say(name func(Deed, string) string, money func(int64) string) string {
	if len(r.All) == 0 {
		return "everybody"
	}
	parts := make([]string, len(r.All))
	for i, c := range r.All {
		parts[i] = c.say(name, money)
	}
	return "who " + strings.Join(parts, ", and who ")
}

func (c Clause) say(name func(Deed, string) string, money func(int64) string) string {
	of := func(any, some string) string {
		if c.Of == "" {
			return any
		}
		return some + "“" + name(c.Did, c.Of) + "”"
	}
	says := map[Deed][2]string{ // that they did, and that they did not
		OnList:  {"is on " + of("a list", "the list "), "is not on " + of("any list", "the list ")},
		Bought:  {"bought " + of("something", ""), "did not buy " + of("anything", "")},
		Clicked: {"clicked " + of("in a letter", "in "), "clicked " + of("nothing", "nothing in ")},
		Sent:    {"was sent " + of("a letter", ""), "was not sent " + of("a letter", "")},
		Ordered: {fmt.Sprintf("ordered at least %d times", c.Least()), fmt.Sprintf("ordered fewer than %d times", c.Least())},
		Spent:   {"spent at least " + money(c.Least()), "spent less than " + money(c.Least())},
		CameBy:  {"came by " + of("a link", "the link "), "did not come by " + of("a link", "the link ")},
		Known:   {"is known", "is not known"},
	}[c.Did]
	text := says[0]
	if c.Not {
		text = says[1]
	}
	switch {
	case c.Days > 0 && c.Not:
		return fmt.Sprintf("%s for %d days", text, c.Days)
	case c.Days > 0:
		return fmt.Sprintf("%s in the last %d days", text, c.Days)
	case c.Since != "":
		return text + " since " + c.Since
	}
	return text
}
