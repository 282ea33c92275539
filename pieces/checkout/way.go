package checkout

import (
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/order"
	"chrysagon/core/words"
	"chrysagon/pieces"
)

// beside are the ways to pay that a checkout can offer beside the card, each by a field of
// its name.
var beside = []order.Way{order.ByAccount, order.ByTransfer, order.OnCollection}

// pays are the ways to pay that a checkout's fields offer beside the card.
func pays(f m.Fields) []order.Way {
	return slices.DeleteFunc(slices.Clone(beside), func(w order.Way) bool { return f.Text(string(w)) != "yes" })
}

// Ways are those by which a checkout can be paid: what it offers and the store has set up.
func Ways(s facts.Store, f m.Fields) []order.Way {
	var out []order.Way
	if !s.Unpaid {
		out = append(out, order.ByCard)
	}
	for _, w := range pays(f) {
		if s.Ways.Has(w) {
			out = append(out, w)
		}
	}
	return out
}

// chosenWay is the way that a form names among those that there are; else the first.
func chosenWay(ways []order.Way, values map[string]string) order.Way {
	if w := order.Way(values["way"]); slices.Contains(ways, w) {
		return w
	}
	if len(ways) > 0 {
		return ways[0]
	}
	return order.ByCard
}

// collects tells whether what is ordered is fetched, as the form stands.
func collects(c *pieces.Context, p m.Piece) bool {
	return chosenWay(Ways(c.Facts.Store, p.Fields), c.Form.Values) == order.OnCollection
}

// way is a way to pay, as it is drawn.
type way struct {
	Name   order.Way
	Words  string
	Why    []string
	Chosen bool
}

func (s *Shown) drawWays(c *pieces.Context, chosen Chosen) {
	at := c.Facts.Store.Ways
	for _, w := range s.Ways {
		one := way{Name: w, Words: w.Words(), Chosen: w == chosen.Way}
		switch w {
		case order.ByCard:
		case order.ByAccount:
			one.Why = []string{"You say yes on the till’s own page, and come back here."}
		case order.ByTransfer:
			one.Why = []string{fmt.Sprintf("You get the account and what to write on the transfer. We hold your order for %s.", words.Count(at.TransferDays, "day"))}
		case order.OnCollection:
			one.Why = append(strings.Split(at.Collect, "\n"), fmt.Sprintf("Nothing is sent, and you pay there. We hold your order for %s.", words.Count(at.CollectDays, "day")))
		}
		s.Pay = append(s.Pay, one)
	}
}
