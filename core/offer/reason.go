package offer

import (
	"fmt"
	"slices"
	"sort"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// addGifts adds what is given with the order: the one gift that is worth most,
// of those that are by themselves, or all of a class, whichever is worth more.
func (s *sheet) addGifts(q *Quote, o outcome) []*prepared {
	var best []*prepared
	worth := int64(-1)
	for _, group := range giftGroups(s.levels[Present]) {
		sum := int64(0)
		var given []*prepared
		for _, g := range group {
			if s.giftRefused(g, &o) == "" {
				given = append(given, g)
				sum += s.byID[g.GiftID].Price.Minor
			}
		}
		if len(given) > 0 && sum > worth {
			best, worth = given, sum
		}
	}
	zero := money.Of(0, s.in.Currency)
	for _, g := range best {
		p := s.byID[g.GiftID]
		q.Lines = append(q.Lines, Line{
			Item: -1, ProductID: p.ID, Name: p.Name, Quantity: 1, List: p.Price, Price: zero, Total: zero, Off: zero, Net: zero, Gift: true,
			Trail: []Adjustment{{OfferID: g.ID, Name: g.Name, Off: p.Price, Why: g.Describe()}},
		})
	}
	return best
}

func giftGroups(list []*prepared) [][]*prepared {
	var out [][]*prepared
	classes := map[string]int{}
	for _, g := range list {
		i, ok := classes[g.Class]
		if g.byItself() || !ok {
			classes[g.Class] = len(out)
			out = append(out, []*prepared{g})
			continue
		}
		out[i] = append(out[i], g)
	}
	return out
}

func (s *sheet) giftRefused(g *prepared, o *outcome) string {
	p := s.byID[g.GiftID]
	switch {
	case p == nil:
		return "Its gift is not among the goods."
	case p.SoldOut():
		return "Its gift is sold out."
	}
	if sum, ok := g.reaches(o); !ok {
		return s.short(g, sum)
	}
	if g.NotReduced && g.meetsReduced(o) {
		return "It is not given where another offer has reduced some of its goods."
	}
	return ""
}

func (s *sheet) short(o *prepared, sum int64) string {
	return fmt.Sprintf("It needs goods for %s; the cart has %s of them, after other offers.", o.MinSubtotal, money.Of(sum, s.in.Currency))
}

// refusals name every offer that gave nothing, with the reason.
func (s *sheet) refusals(used []*prepared, o outcome) []Refusal {
	var list []Refusal
	for _, p := range s.all {
		if !slices.Contains(used, p) {
			list = append(list, Refusal{OfferID: p.ID, Name: p.Name, Reason: s.reason(p, used, o)})
		}
	}
	sort.Slice(list, func(i, j int) bool { return list[i].OfferID < list[j].OfferID })
	return list
}

// reason says in words why an offer gave nothing to a cart.
func (s *sheet) reason(p *prepared, used []*prepared, o outcome) string {
	if p.why != "" {
		return p.why
	}
	sum, reached := p.reaches(&o)
	switch p.rule.level {
	case Present:
		if say := s.giftRefused(p, &o); say != "" {
			return say
		}
		return "Another gift is worth more."
	case Group:
		return s.groupReason(p, used)
	case Carry:
		switch {
		case s.in.Shipping == nil || o.sending.Price.Minor == 0:
			return "Nothing is charged for shipping."
		case s.sendRefused(p, &o) != "":
			return s.sendRefused(p, &o)
		}
	case Order:
		if !reached {
			return s.short(p, sum)
		}
		if p.Alone && s.more && s.bits[p.age] == 0 {
			return s.unweighed()
		}
		if p.NotReduced || p.Alone {
			return "All of its goods are reduced already, or another offer is cheaper for the buyer."
		}
	case Unit:
		return s.unitReason(p, used)
	}
	return rival(p, used)
}

func (s *sheet) unweighed() string {
	return fmt.Sprintf("More than %d offers hold for this cart, and this one was not weighed against the others.", MaxWeighed(len(s.lines)))
}

func (s *sheet) groupReason(p *prepared, used []*prepared) string {
	if s.more && s.bits[p.age] == 0 {
		return s.unweighed()
	}
	if need := p.rule.least(*p.Offer); p.units < need {
		return fmt.Sprintf("It needs %d of its goods; the cart has %d.", need, p.units)
	}
	if !slices.ContainsFunc(s.priceUnits(unkept(s.only(p))), func(x part) bool { return len(x.uses) > 0 }) {
		return "The cart has no complete set, or the set is not cheaper than its parts."
	}
	return rival(p, used)
}

func (s *sheet) unitReason(p *prepared, used []*prepared) string {
	if !p.gives {
		return fmt.Sprintf("Its first step is from %d; the cart has %d.", p.rule.least(*p.Offer), p.units)
	}
	if p.Alone && s.more && s.bits[p.age] == 0 {
		return s.unweighed()
	}
	if !slices.ContainsFunc(p.lines, func(i int) bool {
		list := s.lines[i].product.Price.Minor
		return single(list, p.does) < list
	}) {
		return "It would not make the price lower."
	}
	return rival(p, used)
}

// only turns one offer on and all others off.
func (s *sheet) only(p *prepared) []bool {
	if s.one == nil {
		s.one = make([]bool, len(s.all))
	}
	clear(s.one)
	s.one[p.age] = true
	return s.one
}

func rival(p *prepared, used []*prepared) string {
	for _, o := range used {
		if o.rule.level != p.rule.level && (o.rule.level != Group || p.rule.level != Unit) {
			continue
		}
		if slices.ContainsFunc(p.lines, func(i int) bool { return slices.Contains(o.lines, i) }) {
			return fmt.Sprintf("“%s” is cheaper for the buyer, and the two are not combined.", o.Name)
		}
	}
	return "Without it the order is cheaper for the buyer: it would lose another offer or free shipping."
}

// codes says what became of every code that was typed.
func (s *sheet) codes(used []*prepared, refused []Refusal) []CodeAnswer {
	var out []CodeAnswer
	for _, typed := range s.in.Codes {
		answer := CodeAnswer{Code: typed, Say: "There is no such code. Look at it once more, letter by letter."}
		for _, o := range s.all {
			if !slices.ContainsFunc(o.Codes, func(c Code) bool { return Normal(c.Code) == Normal(typed) }) {
				continue
			}
			answer.OfferID = o.ID
			if slices.Contains(used, o) {
				answer.Applied, answer.Say = true, o.Describe()+"."
				break
			}
			for _, r := range refused {
				if r.OfferID == o.ID {
					answer.Say = r.Reason
				}
			}
		}
		out = append(out, answer)
	}
	return out
}

// margins computes what the store keeps, where it knows the cost, and warns.
func (s *sheet) margins(q *Quote) {
	whole := Margin{Kept: money.Of(0, s.in.Currency)}
	revenue, known := int64(0), false
	for i := range q.Lines {
		l := &q.Lines[i]
		p := s.byID[l.ProductID]
		if p.Cost == nil {
			whole.Partial = true
			continue
		}
		known = true
		net := l.Net.Minor
		if q.TaxIncluded && l.Tax != nil {
			net -= l.Tax.Minor
		}
		kept := net - p.Cost.Minor*int64(l.Quantity)
		l.Margin = &Margin{Kept: money.Of(kept, s.in.Currency), Percent: percentOf(kept, net)}
		whole.Kept.Minor += kept
		revenue += net
		switch {
		case kept < 0:
			q.Warnings = append(q.Warnings, fmt.Sprintf("%s is sold under cost: %s short.", l.Name, money.Of(-kept, s.in.Currency)))
		case s.in.Floor.IsPositive() && !l.Gift && decimal.NewFromInt(kept).Mul(decimal.NewFromInt(100)).LessThan(s.in.Floor.Mul(decimal.NewFromInt(net))):
			q.Warnings = append(q.Warnings, fmt.Sprintf("%s leaves %d%%, under the store’s floor of %s%%.", l.Name, l.Margin.Percent, s.in.Floor))
		}
	}
	if known {
		whole.Percent = percentOf(whole.Kept.Minor, revenue)
		q.Margin = &whole
	}
}

// percentOf is part in whole percent of all, rounded down, also below zero.
func percentOf(part, all int64) int {
	if all == 0 {
		return 0
	}
	return int(decimal.NewFromInt(part).Mul(decimal.NewFromInt(100)).Div(decimal.NewFromInt(all)).Floor().IntPart())
}
