package offer

// choice says which offers are on while a cart is priced.
type choice struct {
	on []bool // by age
	// mask has a bit for each weighed offer that is on: what a unit costs is
	// kept under it. Below zero: nothing is kept.
	mask int
	// known is what units cost while but is on too, which only lines on which it
	// is are priced without. It is filled as it is asked for.
	known []*option
	but   *prepared
}

// unkept is a choice made once.
func unkept(on []bool) choice { return choice{on: on, mask: -1} }

// option is one way to price a unit: under which offers, in the order of work.
type option struct {
	price int64
	uses  []use
	// settled tells that no fewer of these offers come to the same price.
	settled bool
	tied    bool // another way comes to the same price, and they were not compared
}

// alone tells whether an offer that stands alone is at work.
func (o *option) alone() bool { return len(o.uses) > 0 && o.uses[0].offer.Alone }

// settle leaves away the offers that change nothing in the end.
func (o *option) settle(list int64) {
	if !o.settled {
		*o = fewest(list, o.uses)
		o.settled = true
	}
}

// part is some units of one line at one price.
type part struct {
	line  int
	units int
	*option
	// barred is how many of the units an offer that stands alone touched: they
	// are in no order offer's base.
	barred int
}

// minor is what the units cost together.
func (p part) minor() int64 { return p.price * int64(p.units) }

// scratch is what is written on while sets of offers are tried, and again for
// the next one.
type scratch struct {
	parts   []part
	sorted  []part
	left    []int
	at      []int
	pool    []run
	onLine  []int64
	first   []int
	off     [2][]int64
	weights []int64
	on      []bool
	list    []alternative
}

// sized is a list of n zeros in the room of another.
func sized[T any](room []T, n int) []T {
	if cap(room) < n {
		return make([]T, n)
	}
	room = room[:n]
	clear(room)
	return room
}

// used lists the offers at work in an outcome, the older first.
func (s *sheet) used(o *outcome) []*prepared {
	on := make([]bool, len(s.all))
	for _, p := range o.parts {
		p.settle(s.lines[p.line].product.Price.Minor)
		for _, u := range p.uses {
			on[u.offer.age] = true
		}
	}
	for _, c := range o.cuts {
		on[c.offer.age] = true
	}
	for _, u := range o.carried {
		on[u.offer.age] = true
	}
	var used []*prepared
	for age, yes := range on {
		if yes {
			used = append(used, s.all[age])
		}
	}
	return used
}

// with is the sheet with some of its offers only.
func (s *sheet) with(keep func(*prepared) bool) *sheet {
	few := *s
	few.levels = make(map[Level][]*prepared, len(s.levels))
	for level, list := range s.levels {
		for _, o := range list {
			if keep(o) {
				few.levels[level] = append(few.levels[level], o)
			}
		}
	}
	few.lines = make([]row, len(s.lines))
	for i := range s.lines {
		few.lines[i] = s.lines[i]
		few.lines[i].offers = nil
		for _, o := range s.lines[i].offers {
			if keep(o) {
				few.lines[i].offers = append(few.lines[i].offers, o)
			}
		}
	}
	few.scratch = scratch{}
	few.begin()
	return &few
}
