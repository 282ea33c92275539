package chart_test

import (
	"fmt"
	"testing"

	"chrysagon/core/chart"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

var size = chart.Size{Wide: 76, High: 96, PitchX: 180, PitchY: 180, Left: 100, Top: 60, Right: 60, Bottom: 60}

func Example() {
	c := chart.Draw(
		[]chart.Node{{ID: "seven-knots"}, {ID: "first-gust"}, {ID: "ask-the-wind"}, {ID: "thanks", Last: true}},
		[]chart.Edge{
			{From: "seven-knots", To: "first-gust", Key: "a", Fork: "f"}, {From: "seven-knots", To: "ask-the-wind", Key: "b", Fork: "f"},
			{From: "first-gust", To: "thanks", Key: "c"}, {From: "ask-the-wind", To: "thanks", Key: "d"},
		}, size)
	for _, p := range c.Places {
		fmt.Println(p.ID, p.Layer, p.Row)
	}
	// Output:
	// seven-knots 0 0
	// first-gust 1 0
	// ask-the-wind 1 1
	// thanks 2 0
}

// drawn draws a map of some steps, and some ways among them.
func drawn(t *rapid.T) ([]chart.Node, []chart.Edge) {
	n := rapid.IntRange(1, 25).Draw(t, "steps")
	var nodes []chart.Node
	for i := range n {
		nodes = append(nodes, chart.Node{ID: fmt.Sprint("s", i), Last: rapid.IntRange(0, 8).Draw(t, "last") == 0})
	}
	var edges []chart.Edge
	for i := range rapid.IntRange(0, 40).Draw(t, "ways") {
		edges = append(edges, chart.Edge{From: fmt.Sprint("s", rapid.IntRange(0, n-1).Draw(t, "from")), To: fmt.Sprint("s", rapid.IntRange(0, n).Draw(t, "to")), Key: fmt.Sprint(i)})
	}
	return nodes, edges
}

// The same map is drawn alike; no two steps overlap; all of it lies on the sheet;
// and a way leads to the right unless it closes a circle.
func TestAMapIsDrawnWithoutOverlaps(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		nodes, edges := drawn(t)
		c := chart.Draw(nodes, edges, size)
		assert.Equal(t, c, chart.Draw(nodes, edges, size))
		for i, p := range c.Places {
			assert.GreaterOrEqual(t, p.X, 0)
			assert.GreaterOrEqual(t, p.Y, 0)
			assert.LessOrEqual(t, p.X+size.Wide, c.Wide)
			assert.LessOrEqual(t, p.Y+size.High, c.High)
			for _, q := range c.Places[:i] {
				assert.False(t, p.X == q.X && max(p.Y, q.Y)-min(p.Y, q.Y) < size.PitchY, "%s and %s stand at %d and %d", p.ID, q.ID, p.Y, q.Y)
			}
		}
	})
}

// A step that is added behind another moves no step to another layer, and none
// within its layer by more than a row.
func TestAddingAStepMovesLittle(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 12).Draw(t, "steps")
		var nodes []chart.Node
		var edges []chart.Edge
		for i := range n { // a tree, as funnels are drawn
			nodes = append(nodes, chart.Node{ID: fmt.Sprint("s", i)})
			if i > 0 {
				edges = append(edges, chart.Edge{From: fmt.Sprint("s", rapid.IntRange(max(0, i-3), i-1).Draw(t, "from")), To: fmt.Sprint("s", i), Key: fmt.Sprint(i)})
			}
		}
		before := chart.Draw(nodes, edges, size)
		after := chart.Draw(append(nodes, chart.Node{ID: "new"}), append(edges, chart.Edge{From: fmt.Sprint("s", rapid.IntRange(0, n-1).Draw(t, "behind")), To: "new", Key: "new"}), size)
		moved := 0
		for i, p := range before.Places {
			assert.Equal(t, p.X, after.Places[i].X)
			moved = max(moved, after.Places[i].Y-p.Y, p.Y-after.Places[i].Y)
		}
		assert.LessOrEqual(t, moved, 2*size.PitchY)
	})
}

// A step that somebody moved stands where they put it, as far as the sheet goes.
func TestANudgeIsRemembered(t *testing.T) {
	c := chart.Draw([]chart.Node{{ID: "a"}, {ID: "b", DX: 12, DY: 30}, {ID: "c", DY: -5000}}, nil, size)
	b, _ := c.Place("b")
	assert.Equal(t, []int{size.Left + 12, size.Top + size.PitchY + 30}, []int{b.X, b.Y})
	assert.Zero(t, c.Places[2].Y)
	_, known := c.Place("nobody")
	assert.False(t, known)
}
