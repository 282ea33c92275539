package offer

import (
	"cmp"
	"math/bits"
	"slices"
)

// MaxWeighed is how many offers are tried on and off in a cart of so many lines:
// all their sets are priced. It is measured (make bench, “hardest carts”): the
// answer to any cart of up to [MaxLines] stays under 50 ms.
func MaxWeighed(lines int) int {
	switch {
	case lines <= 10:
		return 10
	case lines <= 40:
		return 7
	}
	return 5
}

// begin makes a sheet ready to be searched: it says which of its offers are
// weighed against each other, and what the others are.
func (s *sheet) begin() {
	s.alternatives = map[Level][][]*prepared{}
	for _, level := range []Level{Order, Carry} {
		s.alternatives[level] = alternatives(s.levels[level])
	}
	s.groups = inTurn(s.levels[Group])
	s.pools = map[poolKey][]run{}
	s.bits = make([]int, len(s.all))
	s.weighed, s.more = nil, s.narrow()
	for i := range s.lines {
		s.lines[i].ways, s.lines[i].kept = waysOf(s.lines[i].offers), nil
	}
	if !s.entangled() {
		return // what is cheapest for each unit is cheapest for the order
	}
	var list []*prepared
	for _, o := range s.all {
		if o.Weighable() && slices.Contains(s.levels[o.rule.level], o) {
			list = append(list, o)
		}
	}
	if most := MaxWeighed(len(s.lines)); len(list) > most {
		s.more = true
		s.rank(list)
		list = list[:most]
	}
	s.weighed = list
	for i, o := range list {
		s.bits[o.age] = 1 << i
	}
	for i := range s.lines {
		s.lines[i].begin(s.bits, list)
	}
}

// begin makes a row ready: what is always on, and adds up with nothing that is
// weighed, is priced once.
func (r *row) begin(bits []int, weighed []*prepared) {
	var classes []string
	for _, o := range weighed {
		classes = append(classes, o.Class)
	}
	var always, tried []*prepared
	r.mask = 0
	for _, o := range r.offers {
		r.mask |= bits[o.age]
		if bits[o.age] != 0 || (!o.byItself() && slices.Contains(classes, o.Class)) {
			tried = append(tried, o)
		} else {
			always = append(always, o)
		}
	}
	r.tried, r.always = waysOf(tried), option{price: r.product.Price.Minor, settled: true}
	if len(always) > 0 {
		on := make([]bool, always[len(always)-1].age+1)
		for _, o := range always {
			on[o.age] = true
		}
		r.always = bestUnit(r, r.always, waysOf(always), on, false)
	}
	r.kept = make([]*option, r.mask+1)
}

// narrow leaves of every class as many offers on each line as add up: units are
// priced each for itself, so that offers on other lines take nobody's place. It
// tells whether there were more.
func (s *sheet) narrow() bool {
	more := false
	for i := range s.lines {
		classes := map[string][]*prepared{}
		for _, o := range s.lines[i].offers {
			if !o.byItself() {
				classes[o.Class] = append(classes[o.Class], o)
			}
		}
		out := map[*prepared]bool{}
		for _, list := range classes {
			if len(list) <= MaxTogether {
				continue
			}
			s.rank(list)
			for _, o := range list[MaxTogether:] {
				out[o] = true
			}
		}
		if len(out) > 0 {
			more = true
			s.lines[i].offers = slices.DeleteFunc(slices.Clone(s.lines[i].offers), func(o *prepared) bool { return out[o] })
		}
	}
	return more
}

// entangled tells whether the cheapest price of each unit may not make the
// cheapest order: groups claim units of several lines, offers that stand alone
// keep others away, and what looks at the goods after offers on units can be
// lost by a lower price. Tax that comes on top is rounded on the line after
// the order's reductions, so these are counted too.
func (s *sheet) entangled() bool {
	if len(s.levels[Group]) > 0 || len(s.levels[Order]) > 0 {
		return true
	}
	for _, o := range s.levels[Unit] {
		if o.Alone {
			return true
		}
	}
	for _, o := range s.levels[Carry] {
		if o.MinSubtotal.Minor > 0 || o.NotReduced {
			return true
		}
	}
	if s.in.Shipping == nil || s.in.Context.Country == "" {
		return false
	}
	z, ok := s.in.Shipping.Zone(s.in.Context.Country)
	return ok && z.Watches()
}

// rank puts offers in the order in which they are weighed: those on groups,
// those that stand alone, those on units; of each the ones first that take most
// off this cart by themselves, of equal ones the older.
func (s *sheet) rank(list []*prepared) {
	takes := make([]int64, len(s.all))
	for _, o := range list {
		if !o.ranked {
			o.takes, o.ranked = s.takes(o), true
		}
		takes[o.age] = o.takes
	}
	slices.SortStableFunc(list, func(a, b *prepared) int {
		return cmp.Or(a.turn()-b.turn(), cmp.Compare(takes[b.age], takes[a.age]), a.age-b.age)
	})
}

func (o *prepared) turn() int {
	switch {
	case o.rule.level == Group:
		return 0
	case o.Alone:
		return 1
	}
	return 2
}

// takes is how much an offer takes off this cart by itself.
func (s *sheet) takes(o *prepared) int64 {
	off := int64(0)
	if o.rule.level == Unit {
		if !o.gives {
			return 0
		}
		for _, i := range o.lines {
			list := s.lines[i].product.Price.Minor
			off += (list - single(list, o.does)) * int64(s.lines[i].item.Quantity)
		}
		return off
	}
	out := s.evaluate(unkept(s.only(o)))
	for _, i := range s.every {
		off += s.lines[i].product.Price.Minor * int64(s.lines[i].item.Quantity)
	}
	off -= out.goods
	for _, c := range out.cuts {
		if c.offer == o {
			off += c.off
		}
	}
	return off
}

// choose is the choice with these of the weighed offers on. Of those that are
// not weighed, offers on units are on, and all others that could be are off.
func (s *sheet) choose(mask int) choice {
	s.scratch.on = sized(s.scratch.on, len(s.all))
	on := s.scratch.on
	for _, o := range s.all {
		on[o.age] = !o.Weighable() || (o.rule.level == Unit && !o.Alone) || len(s.weighed) == 0
	}
	for i, o := range s.weighed {
		on[o.age] = mask&(1<<i) != 0
	}
	return choice{on: on, mask: mask}
}

// tight tells whether every weighed offer that is on is at work: then the mask
// says how many of them are.
func (s *sheet) tight(mask int, used []*prepared) bool {
	at := 0
	for _, o := range used {
		at |= s.bits[o.age]
	}
	return at == mask
}

// byCount sorts masks by how many offers they have on.
func byCount(masks []int) {
	slices.SortStableFunc(masks, func(a, b int) int {
		return cmp.Or(bits.OnesCount(uint(a))-bits.OnesCount(uint(b)), a-b)
	})
}
