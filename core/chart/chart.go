// Package chart lays a map of steps out: in layers from left to right, the same for the same map, and little moved when a step is added.
//
// It is the layered drawing of Sugiyama, Tagawa and Toda ("Methods for visual understanding
// of hierarchical system structures", IEEE Transactions on Systems, Man and Cybernetics 11,
// 1981): circles are broken, each step stands one layer behind the last that leads to it,
// and rows are ordered by the mean of their neighbours.
package chart

import (
	"cmp"
	"fmt"
	"slices"
)

// Node is a step to be drawn.
type Node struct {
	ID     string
	Last   bool // it stands in the last layer, where paths end
	DX, DY int  // how far its owner moved it
}

// Edge leads from one step to another; those of one fork share its name.
type Edge struct{ From, To, Key, Fork string }

// Size is what the drawing is made of, in its own units.
type Size struct {
	Wide, High int // of a step
	PitchX     int // from layer to layer
	Fork       int // what is added to it where a fork's bar stands between
	PitchY     int // from row to row
	Left, Top  int // before the first
	Right      int // behind the last
	Bottom     int
}

// Place is where a step stands: its upper left corner.
type Place struct {
	Node
	X, Y       int
	Layer, Row int
}

// Line is a way, drawn: an SVG path, and where its words stand.
type Line struct {
	Edge
	Path           string
	X1, Y1, X2, Y2 int
	WordX, WordY   int
	BendX, BendY   int  // where its first bend ends
	Back           bool // it leads back to the left
}

// Bar is a fork, drawn as a bar with its upper left corner and its height.
type Bar struct {
	Fork    string
	From    string
	X, Y, H int
	Stem    string // the path from the step to the bar
}

// Chart is a map, drawn.
type Chart struct {
	Wide, High int
	Places     []Place
	Lines      []Line
	Bars       []Bar
}

// BarWide is how wide a fork's bar is.
const BarWide = 14

// Place returns where a step stands.
func (c Chart) Place(id string) (Place, bool) {
	i := slices.IndexFunc(c.Places, func(p Place) bool { return p.ID == id })
	if i < 0 {
		return Place{}, false
	}
	return c.Places[i], true
}

// Draw lays a map out. Edges to steps that are not there are left out.
func Draw(nodes []Node, edges []Edge, size Size) Chart {
	d := drawing{size: size, nodes: nodes, at: map[string]int{}}
	for i, n := range nodes {
		d.at[n.ID] = i
	}
	for _, e := range edges {
		_, from := d.at[e.From]
		_, to := d.at[e.To]
		if from && to && e.From != e.To {
			d.edges = append(d.edges, e)
		}
	}
	d.straighten()
	d.layer()
	d.rows()
	d.left = d.lefts()
	return d.drawn()
}

// drawing is a map while it is laid out. Its items are the steps and, behind them,
// the places at which ways pass a layer in which they do not end.
type drawing struct {
	size  Size
	nodes []Node
	edges []Edge
	at    map[string]int
	down  [][2]int // edges without circles, by node
	level []int    // of each item
	via   [][]int  // of each edge, the items it passes, from its first layer to its last
	lanes [][]int  // the items of each layer, from top to bottom
	y     []int    // middle of each item, in quarters of a row
	left  []int    // where each layer begins
}

// straighten turns the edges that close a circle around.
func (d *drawing) straighten() {
	const (
		fresh = iota
		open
		done
	)
	state := make([]int, len(d.nodes))
	out := make([][]int, len(d.nodes))
	for i, e := range d.edges {
		out[d.at[e.From]] = append(out[d.at[e.From]], i)
	}
	d.down = make([][2]int, len(d.edges))
	var visit func(int)
	visit = func(n int) {
		state[n] = open
		for _, i := range out[n] {
			to := d.at[d.edges[i].To]
			if state[to] == open {
				d.down[i] = [2]int{to, n}
				continue
			}
			d.down[i] = [2]int{n, to}
			if state[to] == fresh {
				visit(to)
			}
		}
		state[n] = done
	}
	for n := range d.nodes {
		if state[n] == fresh {
			visit(n)
		}
	}
}

// layer gives each step the layer behind the last that leads to it, and each way a
// place in every layer that it passes.
func (d *drawing) layer() {
	d.level = make([]int, len(d.nodes))
	for range d.nodes { // as many rounds as the longest path can need
		moved := false
		for _, e := range d.down {
			if d.level[e[1]] < d.level[e[0]]+1 {
				d.level[e[1]], moved = d.level[e[0]]+1, true
			}
		}
		if !moved {
			break
		}
	}
	led := make([]bool, len(d.nodes))
	last := 0
	for _, e := range d.down {
		led[e[1]] = true
	}
	for _, l := range d.level {
		last = max(last, l)
	}
	for i, n := range d.nodes {
		if n.Last && led[i] {
			d.level[i] = last
		}
	}
	d.via = make([][]int, len(d.edges))
	for i, e := range d.down {
		for l := d.level[e[0]] + 1; l < d.level[e[1]]; l++ {
			d.via[i] = append(d.via[i], len(d.level))
			d.level = append(d.level, l)
		}
	}
	d.fill(last)
}

// fill puts the items into their lanes: those that hang on the same step beside each
// other, in the order of its ways.
func (d *drawing) fill(last int) {
	d.lanes = make([][]int, last+1)
	placed := make([]bool, len(d.level))
	place := func(n int) {
		if !placed[n] {
			placed[n] = true
			d.lanes[d.level[n]] = append(d.lanes[d.level[n]], n)
		}
	}
	behind := d.hanging(false)
	for l := range d.lanes {
		if l > 0 {
			for _, n := range d.lanes[l-1] {
				for _, m := range behind[n] {
					place(m)
				}
			}
		}
		for n := range d.nodes {
			if d.level[n] == l {
				place(n)
			}
		}
	}
}

// chain are the items of an edge, from its first layer to its last.
func (d *drawing) chain(i int) []int {
	return append(append([]int{d.down[i][0]}, d.via[i]...), d.down[i][1])
}

// hanging are the items next to each on the left, or on the right.
func (d *drawing) hanging(left bool) [][]int {
	out := make([][]int, len(d.level))
	for i := range d.down {
		chain := d.chain(i)
		for j := 1; j < len(chain); j++ {
			a, b := chain[j-1], chain[j]
			if left {
				a, b = b, a
			}
			out[a] = append(out[a], b)
		}
	}
	return out
}

// high is how much room an item takes, in quarters of a row.
func (d *drawing) high(n int) int {
	if n < len(d.nodes) {
		return 4
	}
	return 2
}

// rows orders the items of each layer by the mean of their neighbours, and moves
// each as near to it as its own neighbours in the layer let it.
func (d *drawing) rows() {
	d.y = make([]int, len(d.level))
	for _, lane := range d.lanes {
		at := 0
		for _, n := range lane {
			d.y[n] = at + d.high(n)/2
			at += d.high(n)
		}
	}
	before, behind := d.hanging(true), d.hanging(false)
	for round := range 4 {
		if round%2 == 0 {
			for _, lane := range d.lanes {
				d.settle(lane, before)
			}
			continue
		}
		for _, lane := range slices.Backward(d.lanes) {
			d.settle(lane, behind)
		}
	}
	least := 1 << 30
	for n := range d.nodes {
		least = min(least, d.y[n])
	}
	for n, y := range d.y {
		d.y[n] = y - least
	}
}

// settle moves the items of a layer to the mean of those they hang on.
func (d *drawing) settle(lane []int, hang [][]int) {
	wish := map[int]int{}
	for _, n := range lane {
		wish[n] = d.y[n]
		if len(hang[n]) > 0 {
			sum := 0
			for _, m := range hang[n] {
				sum += d.y[m]
			}
			wish[n] = sum / len(hang[n])
		}
	}
	slices.SortStableFunc(lane, func(a, b int) int { return cmp.Compare(wish[a], wish[b]) })
	// First down, so that no two overlap; then each run of items that touch goes up
	// by the mean of what it was pushed.
	apart := func(a, b int) int { return (d.high(a) + d.high(b)) / 2 }
	for i, n := range lane {
		d.y[n] = wish[n]
		if i > 0 {
			d.y[n] = max(d.y[n], d.y[lane[i-1]]+apart(lane[i-1], n))
		}
	}
	for i := 0; i < len(lane); {
		j, sum := i, 0
		for j < len(lane) && (j == i || d.y[lane[j]] == d.y[lane[j-1]]+apart(lane[j-1], lane[j])) {
			sum += d.y[lane[j]] - wish[lane[j]]
			j++
		}
		shift := sum / (j - i)
		if i > 0 {
			shift = min(shift, d.y[lane[i]]-d.y[lane[i-1]]-apart(lane[i-1], lane[i]))
		}
		for _, n := range lane[i:j] {
			d.y[n] -= max(shift, 0)
		}
		i = j
	}
}

// lefts are where the layers begin.
func (d *drawing) lefts() []int {
	forks := make([]bool, len(d.lanes))
	for _, e := range d.edges {
		if e.Fork != "" {
			forks[d.level[d.at[e.From]]] = true
		}
	}
	out, x := make([]int, len(d.lanes)), d.size.Left
	for l := range out {
		out[l] = x
		if x += d.size.PitchX; forks[l] {
			x += d.size.Fork
		}
	}
	return out
}

// top is where a thing of a height stands whose middle is an item's.
func (d *drawing) top(n, high int) int {
	return d.size.Top + d.y[n]*d.size.PitchY/4 + (d.size.High-high)/2
}

func (d *drawing) drawn() Chart {
	var c Chart
	row := make([]int, len(d.level))
	for _, lane := range d.lanes {
		i := 0
		for _, n := range lane {
			if n < len(d.nodes) {
				row[n] = i
				i++
			}
		}
	}
	for i, n := range d.nodes {
		p := Place{Node: n, Layer: d.level[i], Row: row[i], X: max(0, d.left[d.level[i]]+n.DX), Y: max(0, d.top(i, d.size.High)+n.DY)}
		c.Wide, c.High = max(c.Wide, p.X+d.size.Wide+d.size.Right), max(c.High, p.Y+d.size.High+d.size.Bottom)
		c.Places = append(c.Places, p)
	}
	d.lines(&c)
	return c
}

// lines draws the ways: they leave a step on its right and come in on the left,
// each at a place of its own, in the order in which they come from it.
func (d *drawing) lines(c *Chart) {
	middle := func(n int) int {
		if n < len(d.nodes) {
			return c.Places[n].Y + d.size.High/2
		}
		return d.top(n, 0)
	}
	// The first and the last item that an edge meets on its way.
	ends := make([][2]int, len(d.edges))
	order := make([]int, len(d.edges))
	for i, e := range d.edges {
		order[i] = i
		chain := d.chain(i)
		if chain[0] != d.at[e.From] {
			slices.Reverse(chain)
		}
		ends[i] = [2]int{chain[1], chain[len(chain)-2]}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(middle(ends[a][0]), middle(ends[b][0])) })
	outs, ins := map[string][]string{}, map[string][]int{}
	for _, i := range order { // a fork leaves once
		e := d.edges[i]
		if port := cmp.Or(e.Fork, e.Key); !slices.Contains(outs[e.From], port) {
			outs[e.From] = append(outs[e.From], port)
		}
		ins[e.To] = append(ins[e.To], i)
	}
	for _, list := range ins {
		slices.SortStableFunc(list, func(a, b int) int { return cmp.Compare(middle(ends[a][1]), middle(ends[b][1])) })
	}
	port := func(i, of int) int { return d.size.High * (i + 1) / (of + 1) }
	forks := map[string]int{} // of each fork, how many of its edges were drawn
	for i, e := range d.edges {
		from, to := c.Places[d.at[e.From]], c.Places[d.at[e.To]]
		mine := outs[e.From]
		x1, y1 := from.X+d.size.Wide, from.Y+port(slices.Index(mine, cmp.Or(e.Fork, e.Key)), len(mine))
		x2, y2 := to.X, to.Y+port(slices.Index(ins[e.To], i), len(ins[e.To]))
		if e.Fork != "" {
			bar := d.bar(c, e, x1, y1)
			x1, y1 = bar.X+BarWide, bar.Y+bar.H*(2*forks[e.Fork]+1)/(2*d.count(e.Fork))
			forks[e.Fork]++
		}
		l := Line{Edge: e, X1: x1, Y1: y1, X2: x2, Y2: y2, Back: x2 < x1+20}
		if l.Back {
			low := max(from.Y, to.Y) + d.size.High + 44
			l.Path = fmt.Sprintf("M%d %d C%d %d %d %d %d %d S%d %d %d %d", x1, y1, x1+70, y1, x1+50, low, (x1+x2)/2, low, x2-70, y2, x2, y2)
			l.WordX, l.WordY, l.BendX, l.BendY = (x1+x2)/2, low, x2, y2
			c.High = max(c.High, low+30)
		} else {
			d.pass(&l, d.via[i])
		}
		c.Lines = append(c.Lines, l)
	}
}

// pass draws a way to the right, along the places at which it passes layers. Its
// words stand before the first.
func (d *drawing) pass(l *Line, via []int) {
	x, y := l.X1, l.Y1
	l.Path = fmt.Sprintf("M%d %d", x, y)
	bend := func(tx, ty int) {
		half := (tx - x) / 2
		l.Path += fmt.Sprintf(" C%d %d %d %d %d %d", x+half, y, tx-half, ty, tx, ty)
		if l.WordX == 0 {
			l.WordX, l.WordY, l.BendX, l.BendY = (x+tx)/2, (y+ty)/2, tx, ty
		}
		x, y = tx, ty
	}
	for _, n := range via {
		if left := d.left[d.level[n]]; left > x {
			bend(left, d.top(n, 0))
			x += d.size.Wide
			l.Path += fmt.Sprintf(" H%d", x)
		}
	}
	bend(l.X2, l.Y2)
}

func (d *drawing) count(fork string) int {
	n := 0
	for _, e := range d.edges {
		if e.Fork == fork {
			n++
		}
	}
	return n
}

// bar is a fork's bar, drawn once, midway to the next layer.
func (d *drawing) bar(c *Chart, e Edge, x, y int) Bar {
	if i := slices.IndexFunc(c.Bars, func(b Bar) bool { return b.Fork == e.Fork }); i >= 0 {
		return c.Bars[i]
	}
	high := max(64, 38*d.count(e.Fork))
	b := Bar{Fork: e.Fork, From: e.From, X: x + (d.size.PitchX+d.size.Fork-d.size.Wide)*5/8 - BarWide/2, Y: y - high/2, H: high}
	b.Stem = fmt.Sprintf("M%d %d H%d", x, y, b.X)
	c.Bars = append(c.Bars, b)
	return b
}
