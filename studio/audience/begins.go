package audience

import (
	"strings"

	"chrysagon/app/followups"
	"chrysagon/core/followup"
	"chrysagon/core/words"
)

// group is beginnings of one kind, as they are chosen from.
type group struct {
	Label   string
	Choices []choice
}

type choice struct{ Value, Label string }

// noEnd is chosen where no purchase ends a line.
const noEnd = "-"

// kindsOf are the kinds of what people do: under what they stand in a choice; what somebody does
// with whom a line begins, of anything and of one thing; what somebody has done, or not, on whom
// a letter hangs.
var kindsOf = map[followup.Happening]struct{ label, any, one, done, doneOne string }{
	followup.Joined:     {"A list", "joins it", "joins it", "joined any list", "joined the list “%s”"},
	followup.Submitted:  {"A form", "sends any form", "sends the form of “%s”", "sent any form", "sent the form of “%s”"},
	followup.Bought:     {"A purchase", "buys anything", "buys “%s”", "bought anything", "bought “%s”"},
	followup.Declined:   {"An offer after paying", "declines any offer after paying", "declines “%s”", "declined any offer after paying", "declined “%s”"},
	followup.Unfinished: {"A checkout", "leaves any checkout unfinished", "leaves the checkout of “%s” unfinished", "left any checkout unfinished", "left the checkout of “%s” unfinished"},
	followup.Clicked:    {"A letter", "follows a link of any letter", "follows a link of “%s”", "followed a link of a letter of this line", "followed a link of “%s”"},
	followup.Booked:     {"An appointment", "books an appointment", "books an appointment by “%s”", "booked an appointment", "booked an appointment by “%s”"},
	followup.Meets:      {label: "Before an appointment", any: "has an appointment, so many days before it", one: "has an appointment by “%s”, so many days before it"},
	followup.Nears:      {label: "Before a deadline", one: "is on the list so many days before “%s”"},
}

// does says what somebody does with whom a line begins.
func does(b followup.Begin, name string) string {
	k := kindsOf[b.What]
	says := k.any
	if b.Of != "" {
		if name == "" {
			name = "something that is gone"
		}
		says = strings.ReplaceAll(k.one, "%s", name)
	}
	if b.Ahead() {
		says = strings.ReplaceAll(says, "so many days", words.Count(b.Days, "day"))
	}
	return says
}

// grouped is what a line can begin with, by kind, and the goods that can end it.
func grouped(all followups.Beginnings) ([]group, followups.Beginnings) {
	var out []group
	var goods followups.Beginnings
	for _, b := range all {
		k := kindsOf[b.What]
		if b.What == followup.Joined && b.Of != "" { // its list is chosen beside it
			continue
		}
		if len(out) == 0 || out[len(out)-1].Label != k.label {
			out = append(out, group{Label: k.label})
		}
		says := k.any
		if b.Of != "" {
			says = strings.ReplaceAll(k.one, "%s", b.Name)
		}
		last := &out[len(out)-1]
		last.Choices = append(last.Choices, choice{chosenBegin(b.Begin), says})
		if b.What == followup.Bought && b.Of != "" {
			goods = append(goods, b)
		}
	}
	return out, goods
}

// chosenBegin is a beginning as its choice has it.
func chosenBegin(b followup.Begin) string {
	if b.What == followup.Joined || b.What == "" {
		return string(followup.Joined) // the list is chosen beside it
	}
	return string(b.What) + ":" + b.Of
}

func chosenEnd(f followup.Followup) string {
	if f.Stays {
		return noEnd
	}
	return f.Bought
}
