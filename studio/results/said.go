package results

import (
	"fmt"

	"chrysagon/app/results"
	"chrysagon/core/money"
	"chrysagon/core/route"
	"chrysagon/core/words"
	"chrysagon/studio/frame"
)

// sentence is one thing that the figures say, with what weighs in it.
type sentence struct{ Before, Strong, After string }

// said is what the figures come to, before they are shown: how many buy, where most turn
// away, what upsells add, and the best day. Only what there is to say is said.
func said(r results.Results) []sentence {
	switch {
	case r.Visitors == 0 && r.Orders == 0:
		return []sentence{{"", "Nobody has come by in this time.", " Once the pages are live and a link to them is out, this place says what comes of it."}}
	case r.Orders == 0:
		return append([]sentence{{"", words.Count(int(r.Visitors), "visitor") + " came, and nobody has bought yet.", ""}}, turnedAway(r)...)
	}
	out := []sentence{{"", bought(r), " " + words.Count(int(r.Orders), "order") + " for " + r.Revenue.String() + "."}}
	if added, ok := upsold(r); ok {
		out = append(out, added)
	}
	out = append(out, turnedAway(r)...)
	return append(out, bestDay(r)...)
}

func bought(r results.Results) string {
	if r.Visitors <= r.Orders {
		return "Every visitor bought:"
	}
	one := (2*r.Visitors + r.Orders) / (2 * r.Orders)
	if one <= 1 {
		return "Nearly every visitor bought:"
	}
	return fmt.Sprintf("One visitor in %d bought:", one)
}

// turnedAway names the sales page on which most came and did not buy.
func turnedAway(r results.Results) []sentence {
	var most int64
	var at results.Stair
	for _, s := range r.Stairs {
		if lost := s.Reached - s.Passed; s.Step.Kind == route.Sales && lost > most {
			most, at = lost, s
		}
	}
	if most == 0 {
		return nil
	}
	return []sentence{{"Most turn away at ", at.Step.Name + ",", fmt.Sprintf(" where %d of %s did not order.", most, words.Count(int(at.Reached), "visitor"))}}
}

// upsold is what upsells brought of the revenue.
func upsold(r results.Results) (sentence, bool) {
	sum := money.Of(0, r.Revenue.Currency)
	for _, s := range r.Stairs {
		if s.Step.Kind.Offers() {
			sum.Minor += s.Revenue.Minor
		}
	}
	if sum.Minor <= 0 || r.Revenue.Minor <= 0 {
		return sentence{}, false
	}
	return sentence{"Of that, ", sum.String(), fmt.Sprintf(" came from upsells, %s.", frame.Percent(sum.Minor, r.Revenue.Minor))}, true
}

// bestDay names the day that brought most, where there are several.
func bestDay(r results.Results) []sentence {
	var best results.Day
	days := 0
	for _, d := range r.Daily {
		if d.Orders > 0 {
			days++
		}
		if d.Revenue.Minor > best.Revenue.Minor {
			best = d
		}
	}
	if days < 2 || best.Revenue.Minor == 0 {
		return nil
	}
	return []sentence{{"The best day was ", best.Date.Format("Monday, 2 January,"), " with " + best.Revenue.String() + "."}}
}
