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
	return d.drawn()
}

type drawing struct {
	size  Size
	nodes []Node
	edges []Edge
	at    map[string]int
	down  [][2]int // edges without circles, by node
	level []int
	lanes [][]int // the nodes of each layer, from top to bottom
	y     []int   // of each node, in half rows
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
	for _, e := range d.edges {
		out[d.at[e.From]] = append(out[d.at[e.From]], d.at[e.To])
	}
	var visit func(int)
	visit = func(n int) {
		state[n] = open
		for _, to := range out[n] {
			if state[to] == open {
				d.down = append(d.down, [2]int{to, n})
				continue
			}
			d.down = append(d.down, [2]int{n, to})
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

// layer gives each step the layer behind the last that leads to it.
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
	d.lanes = make([][]int, last+1)
	for i := range d.nodes {
		d.lanes[d.level[i]] = append(d.lanes[d.level[i]], i)
	}
}

// rows orders the steps of each layer by the mean of their neighbours, and
// moves each as near to it as its own neighbours in the layer let it.
func (d *drawing) rows() {
	d.y = make([]int, len(d.nodes))
	for _, lane := range d.lanes {
		for row, n := range lane {
			d.y[n] = 2 * row
		}
	}
	before, behind := make([][]int, len(d.nodes)), make([][]int, len(d.nodes))
	for _, e := range d.down {
		before[e[1]], behind[e[0]] = append(before[e[1]], e[0]), append(behind[e[0]], e[1])
	}
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
	least := 0
	for _, y := range d.y {
		least = min(least, y)
	}
	for i := range d.y {
		d.y[i] -= least
	}
}

// settle moves the steps of a layer to the mean of those they hang on.
func (d *drawing) settle(lane []int, hang [][]int) {
	wish := map[int]int{}
	for _, n := range lane {
		wish[n] = 2 * d.y[n] // in quarters, so that a mean of two is exact
		if len(hang[n]) > 0 {
			sum := 0
			for _, m := range hang[n] {
				sum += 2 * d.y[m]
			}
			wish[n] = sum / len(hang[n])
		}
	}
	slices.SortStableFunc(lane, func(a, b int) int { return cmp.Compare(wish[a], wish[b]) })
	// First down, so that no two overlap, then up as far as each may go: those
	// that wish for the same row share the shift.
	floor := 0
	for i, n := range lane {
		y := wish[n] / 2
		if i > 0 {
			y = max(y, floor)
		}
		d.y[n], floor = y, y+2
	}
	for i := 0; i < len(lane); {
		j, sum := i, 0
		for j < len(lane) && (j == i || d.y[lane[j]] == d.y[lane[j-1]]+2) {
			sum += d.y[lane[j]] - wish[lane[j]]/2
			j++
		}
		shift := sum / (j - i)
		if i > 0 {
			shift = min(shift, d.y[lane[i]]-d.y[lane[i-1]]-2)
		}
		for _, n := range lane[i:j] {
			d.y[n] -= max(shift, 0)
		}
		i = j
	}
}

func (d *drawing) drawn() Chart {
	var c Chart
	row := make([]int, len(d.nodes))
	for _, lane := range d.lanes {
		for i, n := range lane {
			row[n] = i
		}
	}
	for i, n := range d.nodes {
		p := Place{Node: n, Layer: d.level[i], Row: row[i], X: max(0, d.size.Left+d.level[i]*d.size.PitchX+n.DX), Y: max(0, d.size.Top+d.y[i]*d.size.PitchY/2+n.DY)}
		c.Wide, c.High = max(c.Wide, p.X+d.size.Wide+d.size.Right), max(c.High, p.Y+d.size.High+d.size.Bottom)
		c.Places = append(c.Places, p)
	}
	d.lines(&c)
	return c
}

// lines draws the ways: they leave a step on its right and come in on the left,
// each at a place of its own, in the order of what they lead to.
func (d *drawing) lines(c *Chart) {
	middle := func(n int) int { return c.Places[n].Y + d.size.High/2 }
	sorted := slices.Clone(d.edges)
	slices.SortStableFunc(sorted, func(a, b Edge) int { return cmp.Compare(middle(d.at[a.To]), middle(d.at[b.To])) })
	outs, ins := map[string][]string{}, map[string][]Edge{}
	for _, e := range sorted { // a fork leaves once
		port := cmp.Or(e.Fork, e.Key)
		if !slices.Contains(outs[e.From], port) {
			outs[e.From] = append(outs[e.From], port)
		}
		ins[e.To] = append(ins[e.To], e)
	}
	for _, list := range ins {
		slices.SortStableFunc(list, func(a, b Edge) int { return cmp.Compare(middle(d.at[a.From]), middle(d.at[b.From])) })
	}
	port := func(i, of int) int { return d.size.High * (i + 1) / (of + 1) }
	forks := map[string]int{} // of each fork, how many of its edges were drawn
	for _, e := range d.edges {
		from, to := c.Places[d.at[e.From]], c.Places[d.at[e.To]]
		mine := outs[e.From]
		x1, y1 := from.X+d.size.Wide, from.Y+port(slices.Index(mine, cmp.Or(e.Fork, e.Key)), len(mine))
		x2, y2 := to.X, to.Y+port(slices.Index(ins[e.To], e), len(ins[e.To]))
		if e.Fork != "" {
			bar := d.bar(c, e, x1, y1)
			x1, y1 = bar.X+BarWide, bar.Y+bar.H*(2*forks[e.Fork]+1)/(2*d.count(e.Fork))
			forks[e.Fork]++
		}
		l := Line{Edge: e, X1: x1, Y1: y1, X2: x2, Y2: y2, Back: x2 < x1+20}
		if l.Back {
			low := max(from.Y, to.Y) + d.size.High + 34
			l.Path = fmt.Sprintf("M%d %d C%d %d %d %d %d %d S%d %d %d %d", x1, y1, x1+70, y1, x1+50, low, (x1+x2)/2, low, x2-70, y2, x2, y2)
			l.WordX, l.WordY = (x1+x2)/2, low
			c.High = max(c.High, low+30)
		} else {
			half := (x2 - x1) / 2
			l.Path = fmt.Sprintf("M%d %d C%d %d %d %d %d %d", x1, y1, x1+half, y1, x2-half, y2, x2, y2)
			l.WordX, l.WordY = (x1+x2)/2, (y1+y2)/2
		}
		c.Lines = append(c.Lines, l)
	}
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

// bar is a fork's bar, drawn once.
func (d *drawing) bar(c *Chart, e Edge, x, y int) Bar {
	if i := slices.IndexFunc(c.Bars, func(b Bar) bool { return b.Fork == e.Fork }); i >= 0 {
		return c.Bars[i]
	}
	high := max(60, 34*d.count(e.Fork))
	b := Bar{Fork: e.Fork, From: e.From, X: x + (d.size.PitchX-d.size.Wide)*2/3 - BarWide/2, Y: y - high/2, H: high}
	b.Stem = fmt.Sprintf("M%d %d H%d", x, y, b.X)
	c.Bars = append(c.Bars, b)
	return b
}
