package offer

import (
	"fmt"
	"strings"
)

// Combines says in words which other offers this one works beside.
func (o Offer) Combines(others []Offer) string {
	rule, known := kinds[o.Kind]
	if !known {
		return ""
	}
	switch {
	case o.Alone && rule.level == Order:
		return "It stands alone: no other offer on the order works beside it, and what another offer has reduced is left out. Delivery and gifts are not touched."
	case o.Alone:
		return "It stands alone: on what it touches no other offer works, and no offer on the order takes anything off that. Delivery and gifts are not touched."
	}
	var beside []string
	if o.Class != "" {
		for _, other := range others {
			if r := kinds[other.Kind]; r != nil && other.ID != o.ID && other.Class == o.Class && stage(r.level) == stage(rule.level) {
				beside = append(beside, "“"+other.Name+"”")
			}
		}
	}
	levels := map[Level]string{
		Unit: "Offers on the order, on delivery and gifts come on top.", Group: "Offers on the order, on delivery and gifts come on top.",
		Order: "It comes on top of offers on units and groups.", Carry: "It comes on top of all other offers.", Present: "It comes on top of all other offers.",
	}
	same := map[Level]string{
		Unit: "on the same units", Group: "on the same units", Order: "on the order", Carry: "on delivery", Present: "that gives something",
	}
	switch {
	case o.Class == "":
		return fmt.Sprintf("It is by itself: of it and other offers %s the one that is best for the buyer holds. %s", same[rule.level], levels[rule.level])
	case len(beside) == 0:
		return fmt.Sprintf("It adds up with offers %s of the class %s, of which there is no other. %s", same[rule.level], o.Class, levels[rule.level])
	}
	return fmt.Sprintf("It adds up with %s. %s", strings.Join(beside, ", "), levels[rule.level])
}

// stage puts offers on units and on groups together: those of one class add up
// with each other.
func stage(l Level) Level {
	if l == Group {
		return Unit
	}
	return l
}

// Weighable tells whether the offer is one of those of which at most
// [MaxWeighed] are weighed against each other in one cart.
func (o *Offer) Weighable() bool {
	level := o.Level()
	return level == Group || level == Unit || o.Alone
}
