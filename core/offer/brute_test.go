package offer_test

import (
	"cmp"
	"fmt"
	"slices"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// What stands here is a second quote, written from docs/formats/quote.md alone:
// every unit by itself, every set of offers, every subset of a class, with
// decimals, and without any of the engine's shortcuts.

// bruteUnit is one unit of the cart.
type bruteUnit struct {
	line   int
	list   int64
	price  int64
	by     []string // offers at work on it, by age
	taken  bool     // claimed by a group
	barred bool     // touched by an offer that stands alone
}

type brute struct {
	in    offer.Input
	age   map[string]int
	holds []offer.Offer           // the older first
	gone  map[int]map[string]bool // by line: offers that no longer add up there
}

func (b *brute) product(line int) goods.Product {
	return b.in.Goods[slices.IndexFunc(b.in.Goods, func(p goods.Product) bool { return p.ID == b.in.Cart[line].ProductID })]
}

func (b *brute) covers(o offer.Offer, line int) bool {
	item := b.in.Cart[line]
	if o.Only != "" && o.Only != item.Via {
		return false
	}
	if o.Kind == offer.Set {
		return slices.ContainsFunc(o.Parts, func(p offer.Part) bool { return p.ProductID == item.ProductID })
	}
	return len(o.Products) == 0 || slices.Contains(o.Products, item.ProductID)
}

func isUnit(k offer.Kind) bool {
	return slices.Contains([]offer.Kind{offer.PercentOff, offer.AmountOff, offer.SetPrice, offer.Steps}, k)
}
func isGroup(k offer.Kind) bool { return k == offer.BuyGet || k == offer.Set }
func isOrder(k offer.Kind) bool { return k == offer.OrderPercent || k == offer.OrderAmount }
func isCarry(k offer.Kind) bool { return k == offer.Shipping || k == offer.ShippingPrice }

// meets asserts every condition that is the same whatever else holds.
func (b *brute) meets(o offer.Offer) bool {
	c := b.in.Context
	units, list := 0, int64(0)
	for i, item := range b.in.Cart {
		if b.covers(o, i) {
			units += item.Quantity
			list += b.product(i).Price.Minor * int64(item.Quantity)
		}
	}
	windows := o.Windows
	if len(windows) == 0 {
		windows = []offer.Window{{Starts: o.Starts, Ends: o.Ends}}
	}
	inOne := slices.ContainsFunc(windows, func(w offer.Window) bool {
		return !b.in.Moment.Before(w.Starts) && (w.Ends.IsZero() || b.in.Moment.Before(w.Ends))
	})
	coded := len(o.Codes) == 0 && !o.NeedsCode || slices.ContainsFunc(o.Codes, func(code offer.Code) bool {
		return (code.MaxUses == 0 || code.Used < code.MaxUses) && slices.ContainsFunc(b.in.Codes, func(t string) bool { return offer.Normal(t) == offer.Normal(code.Code) })
	})
	return inOne && coded && units > 0 && units >= o.MinQuantity &&
		((!isUnit(o.Kind) && !isGroup(o.Kind)) || list >= o.MinSubtotal.Minor) &&
		(o.Link == "" || o.Link == c.Link) && (o.PopUp == "" || o.PopUp == c.PopUp) && (o.Step == "" || o.Step == c.Step) &&
		(len(o.Countries) == 0 || slices.Contains(o.Countries, c.Country)) && (!o.FirstOrder || c.FirstOrder) &&
		(o.MaxUses == 0 || c.Uses[o.ID] < o.MaxUses) && (o.MaxUsesEach == 0 || c.BuyerUses[o.ID] < o.MaxUsesEach)
}

// effect is what an offer does to one unit: a set price, an amount or a percentage.
type effect struct {
	id              string
	set, amount     *int64
	percent         decimal.Decimal
	unitsOfItsGoods int
}

func (b *brute) effect(o offer.Offer) (effect, bool) {
	e := effect{id: o.ID, percent: o.Percent}
	for i, item := range b.in.Cart {
		if b.covers(o, i) {
			e.unitsOfItsGoods += item.Quantity
		}
	}
	switch o.Kind { //nolint:exhaustive // the others have no effect on one unit, or that of their percentage
	case offer.AmountOff:
		e.amount = &o.Amount.Minor
	case offer.SetPrice:
		e.set = &o.Amount.Minor
	case offer.Steps:
		found := false
		for _, s := range o.Steps {
			if e.unitsOfItsGoods >= s.From {
				e.percent, found = s.Percent, true
			}
		}
		return e, found
	}
	return e, true
}

// priceOf works effects off: set prices, amounts, percentages of what is left,
// rounded once.
func priceOf(list int64, effects []effect) int64 {
	price := decimal.NewFromInt(list)
	for _, e := range effects {
		if e.set != nil && decimal.NewFromInt(*e.set).LessThan(price) {
			price = decimal.NewFromInt(*e.set)
		}
	}
	for _, e := range effects {
		if e.amount != nil {
			price = decimal.Max(decimal.Zero, price.Sub(decimal.NewFromInt(*e.amount)))
		}
	}
	for _, e := range effects {
		if e.set == nil && e.amount == nil {
			price = price.Mul(decimal.NewFromInt(100).Sub(e.percent)).Div(decimal.NewFromInt(100))
		}
	}
	return price.Round(0).IntPart()
}

func (b *brute) ids(effects []effect) []string {
	var out []string
	for _, e := range effects {
		out = append(out, e.id)
	}
	slices.SortFunc(out, func(x, y string) int { return b.age[x] - b.age[y] })
	return out
}

func (b *brute) older(x, y []string) bool {
	return slices.CompareFunc(x, y, func(p, q string) int { return b.age[p] - b.age[q] }) < 0
}

// least is the fewest, then oldest, of these effects that come to a price.
func (b *brute) least(list, price int64, effects []effect) []string {
	var best []string
	for mask := range 1 << len(effects) {
		var some []effect
		for i, e := range effects {
			if mask&(1<<i) != 0 {
				some = append(some, e)
			}
		}
		ids := b.ids(some)
		if priceOf(list, some) == price && (best == nil || len(ids) < len(best) || (len(ids) == len(best) && b.older(ids, best))) {
			best = ids
			if best == nil {
				return nil
			}
		}
	}
	return best
}

// classed are the effects of a class on a line, with the best of its set
// prices or none.
func (b *brute) classed(line int, class string, on map[string]bool) []effect {
	var sets, rest []effect
	for _, o := range b.holds {
		if !on[o.ID] || !isUnit(o.Kind) || o.Class != class || o.NotReduced || !b.covers(o, line) || b.gone[line][o.ID] {
			continue
		}
		if e, ok := b.effect(o); ok && e.set != nil {
			sets = append(sets, e)
		} else if ok {
			rest = append(rest, e)
		}
	}
	list := b.product(line).Price.Minor
	best := rest
	for _, e := range sets {
		if with := append([]effect{e}, rest...); priceOf(list, with) < priceOf(list, best) {
			best = with
		}
	}
	return best
}

func (b *brute) price(on map[string]bool) []bruteUnit {
	var units []bruteUnit
	for i, item := range b.in.Cart {
		for range item.Quantity {
			units = append(units, bruteUnit{line: i, list: b.product(i).Price.Minor})
		}
	}
	groups := slices.Clone(b.holds)
	slices.SortStableFunc(groups, func(x, y offer.Offer) int {
		rank := func(o offer.Offer) int {
			if o.Kind == offer.Set {
				return 0
			}
			return 1
		}
		return rank(x) - rank(y)
	})
	for _, g := range groups {
		if !isGroup(g.Kind) || !on[g.ID] {
			continue
		}
		before := slices.Clone(units)
		b.claim(g, units, on)
		if !slices.ContainsFunc(units, func(u bruteUnit) bool { return slices.Contains(u.by, g.ID) }) {
			copy(units, before) // it makes nothing cheaper, so it claims nothing
		}
	}
	for i := range units {
		if u := &units[i]; !u.taken {
			b.priceAlone(u, on)
		}
	}
	return units
}

func (b *brute) priceAlone(u *bruteUnit, on map[string]bool) {
	u.price = u.list
	classes := map[string]bool{}
	try := func(price int64, by []string, alone bool) {
		if price < u.price || (price == u.price && u.price < u.list && (len(by) < len(u.by) || (len(by) == len(u.by) && b.older(by, u.by)))) {
			u.price, u.by, u.barred = price, by, alone
		}
	}
	for _, o := range b.holds {
		if !on[o.ID] || !isUnit(o.Kind) || !b.covers(o, u.line) {
			continue
		}
		if o.Class != "" && !o.NotReduced {
			classes[o.Class] = true
			continue
		}
		if e, ok := b.effect(o); ok {
			try(priceOf(u.list, []effect{e}), []string{o.ID}, o.Alone)
		}
	}
	for class := range classes {
		all := b.classed(u.line, class, on)
		price := priceOf(u.list, all)
		try(price, b.least(u.list, price, all), false)
	}
}

// claim lets a group take its units.
func (b *brute) claim(g offer.Offer, units []bruteUnit, on map[string]bool) {
	together := func(line int) []effect {
		if g.Class == "" || g.NotReduced {
			return nil
		}
		return b.classed(line, g.Class, on)
	}
	take := func(u *bruteUnit, more []effect) {
		var with []effect
		for _, e := range together(u.line) {
			if len(more) == 0 || more[0].set == nil || e.set == nil {
				with = append(with, e)
			}
		}
		with = append(with, more...)
		u.taken, u.barred, u.price = true, g.Alone, priceOf(u.list, with)
		u.by = b.least(u.list, u.price, with)
	}
	if g.Kind == offer.Set {
		b.claimSets(g, units, take)
		return
	}
	var pool []*bruteUnit
	for i := range units {
		if u := &units[i]; !u.taken && b.covers(g, u.line) {
			u.price = priceOf(u.list, together(u.line))
			pool = append(pool, u)
		}
	}
	slices.SortStableFunc(pool, func(x, y *bruteUnit) int { return cmp.Or(cmp.Compare(x.price, y.price), y.line-x.line) })
	n := len(pool) / (g.Buy + g.Get)
	percent := g.Percent
	if percent.IsZero() {
		percent = decimal.NewFromInt(100)
	}
	for i, u := range pool {
		switch {
		case i < n*g.Get:
			take(u, []effect{{id: g.ID, percent: percent}})
		case i < n*(g.Get+g.Buy):
			take(u, nil)
		}
	}
}

func (b *brute) claimSets(g offer.Offer, units []bruteUnit, take func(*bruteUnit, []effect)) {
	free := func(id string) []*bruteUnit {
		var out []*bruteUnit
		for i := range units {
			if u := &units[i]; !u.taken && b.covers(g, u.line) && b.in.Cart[u.line].ProductID == id {
				out = append(out, u)
			}
		}
		return out
	}
	sets := -1
	var lists []int64
	sum := int64(0)
	for _, p := range g.Parts {
		if n := len(free(p.ProductID)) / p.Quantity; sets < 0 || n < sets {
			sets = n
		}
		i := slices.IndexFunc(b.in.Goods, func(x goods.Product) bool { return x.ID == p.ProductID })
		for range p.Quantity {
			lists = append(lists, b.in.Goods[i].Price.Minor)
			sum += b.in.Goods[i].Price.Minor
		}
	}
	if sets <= 0 || sum <= g.Amount.Minor {
		return
	}
	shares, _ := g.Amount.Split(lists) // checked by itself in core/money
	at := 0
	for _, p := range g.Parts {
		list := free(p.ProductID)
		for _, share := range shares[at : at+p.Quantity] {
			for range sets {
				take(list[0], []effect{{id: g.ID, set: &share.Minor}})
				list = list[1:]
			}
		}
		at += p.Quantity
	}
}

// brutePart is units of one line with one price and one trail.
type brutePart struct {
	bruteUnit
	units, barredUnits int64
	off                int64
}

func joinUnits(units []bruteUnit) []*brutePart {
	var parts []*brutePart
	for _, u := range units {
		i := slices.IndexFunc(parts, func(p *brutePart) bool { return p.line == u.line && p.price == u.price && slices.Equal(p.by, u.by) })
		if i < 0 {
			parts, i = append(parts, &brutePart{bruteUnit: u}), len(parts)
		}
		parts[i].units++
		if u.barred {
			parts[i].barredUnits++
		}
	}
	slices.SortStableFunc(parts, func(a, b *brutePart) int { return cmp.Or(a.line-b.line, cmp.Compare(b.price, a.price)) })
	return parts
}

func (b *brute) sum(o offer.Offer, parts []*brutePart) (sum int64, reduced bool) {
	for _, p := range parts {
		if b.covers(o, p.line) {
			sum += p.price * p.units
			reduced = reduced || len(p.by) > 0
		}
	}
	return sum, reduced
}

// together lists the alternatives at one level: each offer without a class, and
// each class as one.
func (b *brute) together(on map[string]bool, of func(offer.Kind) bool) [][]offer.Offer {
	var out [][]offer.Offer
	classes := map[string]int{}
	for _, o := range b.holds {
		if !on[o.ID] || !of(o.Kind) {
			continue
		}
		if i, ok := classes[o.Class]; ok && o.Class != "" {
			out[i] = append(out[i], o)
			continue
		}
		classes[o.Class] = len(out)
		out = append(out, []offer.Offer{o})
	}
	return out
}

// total is what the cart comes to with these offers on.
func (b *brute) total(on map[string]bool) int64 {
	parts := joinUnits(b.price(on))
	sum := int64(0)
	for _, p := range parts {
		sum += p.price * p.units
	}
	best := sum + b.taxes(parts)
	for _, group := range b.together(on, isOrder) {
		slices.SortStableFunc(group, func(x, y offer.Offer) int { return cmp.Compare(y.Kind, x.Kind) * -1 }) // amounts first
		for _, p := range parts {
			p.off = 0
		}
		off := int64(0)
		for _, o := range group {
			if have, _ := b.sum(o, parts); have < o.MinSubtotal.Minor {
				continue
			}
			off += b.cut(o, parts)
		}
		best = min(best, sum-off+b.taxes(parts))
	}
	return best + b.sending(on, parts, sum)
}

func (b *brute) cut(o offer.Offer, parts []*brutePart) int64 {
	weights := make([]int64, len(parts))
	base := int64(0)
	for i, p := range parts {
		if b.covers(o, p.line) && ((!o.Alone && !o.NotReduced) || len(p.by) == 0) {
			weights[i] = min(p.price*(p.units-p.barredUnits), p.price*p.units-p.off)
		}
		base += weights[i]
	}
	reduction := min(base, o.Amount.Minor)
	if o.Kind == offer.OrderPercent {
		left := decimal.NewFromInt(base).Mul(decimal.NewFromInt(100).Sub(o.Percent)).Div(decimal.NewFromInt(100)).Round(0).IntPart()
		reduction = base - left
	}
	if reduction == 0 {
		return 0
	}
	shares, _ := money.Of(reduction, "EUR").Split(weights)
	for i, s := range shares {
		parts[i].off += s.Minor
	}
	return reduction
}

func (b *brute) taxes(parts []*brutePart) int64 {
	if b.in.Tax == nil || b.in.Tax.Included {
		return 0
	}
	sum := int64(0)
	for _, p := range parts {
		net := decimal.NewFromInt(p.price*p.units - p.off)
		sum += net.Mul(b.in.Tax.Rates[0].Percent).Div(decimal.NewFromInt(100)).Round(0).IntPart()
	}
	return sum
}

func (b *brute) sending(on map[string]bool, parts []*brutePart, sum int64) int64 {
	if b.in.Shipping == nil || len(parts) == 0 {
		return 0
	}
	weight := 0
	for i, item := range b.in.Cart {
		weight += b.product(i).Weight * item.Quantity
	}
	z := b.in.Shipping.Zones[0]
	cost := z.Steps[0].Price.Minor
	if int64(weight) >= z.Steps[1].From {
		cost = z.Steps[1].Price.Minor
	}
	if sum >= z.FreeFrom.Minor {
		cost = 0
	}
	best := cost
	for _, group := range b.together(on, isCarry) {
		left := cost
		for _, o := range group {
			if have, reduced := b.sum(o, parts); have >= o.MinSubtotal.Minor && (!o.NotReduced || !reduced) {
				if o.Kind == offer.ShippingPrice {
					left = min(left, o.Amount.Minor)
					continue
				}
				left = max(0, left-o.Amount.Minor)
			}
		}
		best = min(best, left)
	}
	return best
}

// weighed says which offers are tried on and off, and which others are on.
func (b *brute) weighed() (tried []offer.Offer, on map[string]bool) {
	on = map[string]bool{}
	turn := func(o offer.Offer) int {
		switch {
		case isGroup(o.Kind):
			return 0
		case o.Alone:
			return 1
		}
		return 2
	}
	takes := map[string]int64{}
	for _, o := range b.holds {
		if isUnit(o.Kind) || isGroup(o.Kind) || o.Alone {
			tried = append(tried, o)
			takes[o.ID] = b.takes(o)
		} else {
			on[o.ID] = true
		}
	}
	slices.SortStableFunc(tried, func(x, y offer.Offer) int {
		return cmp.Or(turn(x)-turn(y), cmp.Compare(takes[y.ID], takes[x.ID]))
	})
	if most := offer.MaxWeighed(len(b.in.Cart)); len(tried) > most {
		for _, o := range tried[most:] {
			on[o.ID] = isUnit(o.Kind) && !o.Alone
		}
		tried = tried[:most]
	}
	return tried, on
}

// narrow leaves of each class as many offers on a line as add up.
func (b *brute) narrow() {
	b.gone = map[int]map[string]bool{}
	out := map[int]map[string]bool{}
	for line := range b.in.Cart {
		classes := map[string][]offer.Offer{}
		for _, o := range b.holds {
			if isUnit(o.Kind) && o.Class != "" && !o.NotReduced && b.covers(o, line) {
				classes[o.Class] = append(classes[o.Class], o)
			}
		}
		out[line] = map[string]bool{}
		for _, list := range classes {
			if len(list) <= offer.MaxTogether {
				continue
			}
			slices.SortStableFunc(list, func(x, y offer.Offer) int { return cmp.Compare(b.takes(y), b.takes(x)) })
			for _, gone := range list[offer.MaxTogether:] {
				out[line][gone.ID] = true
			}
		}
	}
	b.gone = out
}

func (b *brute) takes(o offer.Offer) int64 {
	parts := joinUnits(b.price(map[string]bool{o.ID: true}))
	off := int64(0)
	for _, p := range parts {
		off += (p.list - p.price) * p.units
	}
	if isOrder(o.Kind) {
		if have, _ := b.sum(o, parts); have >= o.MinSubtotal.Minor {
			off += b.cut(o, parts)
		}
	}
	return off
}

// bruteTotal is the least total of all sets of the weighed offers; with codes,
// where not all are weighed, also of all carts that hand in fewer of them.
func bruteTotal(in offer.Input) int64 {
	b := &brute{in: in, age: map[string]int{}}
	offers := slices.Clone(in.Offers)
	slices.SortFunc(offers, func(x, y offer.Offer) int { return cmp.Or(x.Created.Compare(y.Created), cmp.Compare(x.ID, y.ID)) })
	for i, o := range offers {
		b.age[o.ID] = i
		if b.meets(o) {
			b.holds = append(b.holds, o)
		}
	}
	b.narrow()
	tried, on := b.weighed()
	least := int64(-1)
	for mask := range 1 << len(tried) {
		for i, o := range tried {
			on[o.ID] = mask&(1<<i) != 0
		}
		if total := b.total(on); least < 0 || total < least {
			least = total
		}
	}
	if len(in.Codes) > 0 && len(tried) == offer.MaxWeighed(len(in.Cart)) {
		fewer := in
		fewer.Codes = nil
		least = min(least, bruteTotal(fewer))
	}
	return least
}

// drawConditions gives an offer any number of conditions of every sort.
func drawConditions(t *rapid.T, o *offer.Offer) {
	one := func(name string, of int) bool { return rapid.IntRange(1, of).Draw(t, name) == 1 }
	if one("asks for a subtotal", 4) {
		o.MinSubtotal = eur(rapid.Int64Range(1, 9000).Draw(t, "subtotal"))
	}
	if one("asks for a quantity", 6) {
		o.MinQuantity = rapid.IntRange(1, 6).Draw(t, "at least")
	}
	if one("has codes", 6) {
		o.Codes = []offer.Code{{Code: "FROST-10", MaxUses: 3, Used: rapid.IntRange(1, 3).Draw(t, "used")}}
	}
	o.NotReduced = one("not reduced", 6)
	o.FirstOrder = one("first order", 10)
	if one("one way", 6) {
		o.Only = rapid.SampledFrom([]offer.Via{offer.Bump, offer.Upsell, offer.Page}).Draw(t, "only")
	}
	if one("a link", 12) {
		o.Link = rapid.SampledFrom([]string{"herald", "letter"}).Draw(t, "link")
	}
	if one("a pop-up", 12) {
		o.PopUp = rapid.SampledFrom([]string{"leaving", "arriving"}).Draw(t, "pop-up")
	}
	if one("a step", 12) {
		o.Step = rapid.SampledFrom([]string{"sales", "bag"}).Draw(t, "step")
	}
	if one("countries", 10) {
		o.Countries = []string{rapid.SampledFrom([]string{"PT", "ES"}).Draw(t, "country")}
	}
	if one("uses", 10) {
		o.MaxUses = 2
	}
	if one("uses each", 10) {
		o.MaxUsesEach = 1
	}
	if one("a window", 5) {
		o.Starts = noon.Add(time.Duration(rapid.IntRange(-3, 1).Draw(t, "starts")) * time.Hour)
		o.Ends = o.Starts.Add(time.Duration(rapid.IntRange(1, 4).Draw(t, "hours")) * time.Hour)
	}
}

func drawWhole(t *rapid.T, least, most int) offer.Input {
	in := offer.Input{Currency: "EUR", Moment: noon, Context: offer.Context{
		Country: "PT", Link: "herald", PopUp: "leaving", Step: "sales", FirstOrder: rapid.Bool().Draw(t, "first"),
		Uses: map[string]int{}, BuyerUses: map[string]int{},
	}}
	for _, id := range goodsIDs {
		p := kite(id, rapid.Int64Range(0, 4000).Draw(t, id))
		p.Weight = rapid.IntRange(0, 900).Draw(t, "grams")
		in.Goods = append(in.Goods, p)
	}
	for i := range rapid.IntRange(least, most).Draw(t, "offers") {
		o := drawOffer(t, fmt.Sprintf("o%02d", i))
		if o.Kind == offer.Shipping && !o.Percent.IsZero() {
			o.Percent = decimal.Zero
		}
		o.Conditions = offer.Conditions{}
		drawConditions(t, &o)
		if o.Class == "" && o.Kind.StandsAlone() {
			o.Alone = rapid.IntRange(1, 3).Draw(t, "alone") == 1
		}
		in.Context.Uses[o.ID], in.Context.BuyerUses[o.ID] = rapid.IntRange(0, 2).Draw(t, "uses"), rapid.IntRange(0, 1).Draw(t, "buyer's")
		in.Offers = append(in.Offers, o)
	}
	for range rapid.IntRange(0, 4).Draw(t, "lines") {
		in.Cart = append(in.Cart, offer.Item{
			ProductID: rapid.SampledFrom(goodsIDs).Draw(t, "product"), Quantity: rapid.IntRange(1, 4).Draw(t, "quantity"),
			Via: rapid.SampledFrom([]offer.Via{offer.Page, offer.Bump, offer.Upsell}).Draw(t, "via"),
		})
	}
	if rapid.Bool().Draw(t, "shipping") {
		free := eur(rapid.Int64Range(1, 9000).Draw(t, "free from"))
		in.Shipping = &shipping.Table{Zones: []shipping.Zone{{ID: "near", Countries: []string{"*"}, By: shipping.Weight, FreeFrom: &free, Steps: []shipping.Step{
			{From: 0, Price: eur(490)}, {From: 1000, Price: eur(890)},
		}}}}
	}
	if rapid.Bool().Draw(t, "tax") {
		in.Tax = &tax.Table{Included: rapid.Bool().Draw(t, "included"), Rates: []tax.Rate{{Country: "*", Percent: decimal.NewFromInt(23)}}}
	}
	if rapid.Bool().Draw(t, "typed") {
		in.Codes = []string{"frost 10"}
	}
	return in
}

// usedBy lists the offers at work in a quote; those that give something are
// apart, as they change no total.
func usedBy(q offer.Quote) (ids, gives []string) {
	for _, l := range q.Lines {
		for _, a := range l.Trail {
			if l.Gift {
				gives = append(gives, a.OfferID)
				continue
			}
			ids = append(ids, a.OfferID)
		}
	}
	for _, r := range q.Reductions {
		ids = append(ids, r.OfferID)
	}
	for _, a := range q.Shipping.Trail {
		ids = append(ids, a.OfferID)
	}
	slices.Sort(ids)
	return slices.Compact(ids), gives
}

func only(in offer.Input, ids []string) offer.Input {
	some := in
	some.Offers = nil
	for _, o := range in.Offers {
		if slices.Contains(ids, o.ID) {
			some.Offers = append(some.Offers, o)
		}
	}
	return some
}

// Every kind with every condition: the total is that of the second quote, every
// offer at work meets all its conditions, and none of them is idle.
func TestQuotesAgreeWithTheDescription(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawWhole(t, 0, 6)
		q, err := offer.Compute(in)
		require.NoError(t, err)
		require.Equal(t, bruteTotal(in), q.Total.Minor)

		b := &brute{in: in}
		used, gives := usedBy(q)
		for _, o := range in.Offers {
			if slices.Contains(used, o.ID) || slices.Contains(gives, o.ID) {
				require.True(t, b.meets(o), "%s holds", o.ID)
			}
		}
		again, err := offer.Compute(only(in, used))
		require.NoError(t, err)
		if !slices.ContainsFunc(in.Offers, func(o offer.Offer) bool { return o.Kind == offer.BuyGet && o.Class != "" }) {
			// Otherwise an offer of the group's class can decide which units are the
			// cheapest ones, and then be needed on none of them.
			require.Equal(t, q.Total, again.Total, "the offers at work come to the total by themselves")
		}
		for _, id := range used {
			without, err := offer.Compute(only(in, slices.DeleteFunc(slices.Clone(used), func(x string) bool { return x == id })))
			require.NoError(t, err)
			require.Greater(t, without.Total.Minor, q.Total.Minor, "%s is not idle", id)
		}
	})
}

// With more offers than are weighed the description is followed all the same,
// and a code never raises a total.
func TestManyOffersAreWeighedAsDescribed(t *testing.T) {
	carts := rapid.Custom(func(t *rapid.T) offer.Input {
		in := drawWhole(t, 10, 18)
		for i := range in.Offers {
			if rapid.IntRange(1, 4).Draw(t, "conditions stay") != 1 {
				in.Offers[i].Conditions = offer.Conditions{Codes: in.Offers[i].Codes}
			}
		}
		return in
	})
	some := 0
	described := func(t require.TestingT, in offer.Input) {
		in.Codes = nil
		without, err := offer.Compute(in)
		require.NoError(t, err)
		require.LessOrEqual(t, without.Total.Minor, bruteTotal(in), "leaving idle offers away may only lower it")
		in.Codes = []string{"frost 10"}
		q, err := offer.Compute(in)
		require.NoError(t, err)
		require.LessOrEqual(t, q.Total.Minor, bruteTotal(in))
		require.LessOrEqual(t, q.Total.Minor, without.Total.Minor, "a code never raises the total")
		if q.Weighed == offer.WeighedSome {
			some++
		}
	}
	rapid.Check(t, func(t *rapid.T) { described(t, carts.Draw(t, "cart")) })
	// A round by chance may meet no such cart; the search goes on until it has.
	for seed := 0; some == 0 && seed < 2000; seed++ {
		described(t, carts.Example(seed))
	}
	require.Positive(t, some, "some carts met more offers than are weighed")
}
