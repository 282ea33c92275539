package routes

import (
	"slices"

	"chrysagon/app/drafts"
	"chrysagon/app/routes"
	"chrysagon/core/manuscript"
	"chrysagon/core/route"
)

// mark is one shape of a page's silhouette.
type mark struct {
	X, Y, W, H int
	Class      string
}

// silhouette draws a step as the outline of its real page: its bands in their tones,
// and in each what a glance would see.
func silhouette(m routes.Map, s route.Step, x, y int) []mark {
	i := slices.IndexFunc(m.Drafts, func(d drafts.Draft) bool { return d.ID == s.PageID && s.PageID != "" })
	if i < 0 {
		return nil
	}
	bands := m.Drafts[i].Tree.Bands
	if len(bands) > 5 {
		bands = bands[:5]
	}
	weight, sum := make([]int, len(bands)), 0
	for j, b := range bands {
		n := 0
		for _, c := range b.Columns {
			n = max(n, len(c.Pieces))
		}
		weight[j] = 2 + min(n, 4)
		sum += weight[j]
	}
	var out []mark
	top := y
	for j, b := range bands {
		h := stepHigh * weight[j] / max(sum, 1)
		if j == len(bands)-1 {
			h = y + stepHigh - top
		}
		out = append(out, mark{x, top, stepWide, h, "band tone-" + tone(b)})
		out = append(out, marks(m.Schema, b, x, top, h)...)
		top += h
	}
	return out
}

func tone(b manuscript.Band) string {
	if b.Tone == "" {
		return string(manuscript.Card)
	}
	return string(b.Tone)
}

// marks are the shapes of a band's pieces, from the top to the bottom of each column.
func marks(schema manuscript.Schema, b manuscript.Band, x, y, h int) []mark {
	var out []mark
	columns, left := len(b.Columns), x+6
	for _, c := range b.Columns {
		wide := (stepWide - 12 - 4*(columns-1)) / max(columns, 1)
		at := y + 5
		for i, p := range c.Pieces {
			if i > 4 || at+4 > y+h-3 {
				break
			}
			shape := shapeOf(schema[p.Kind].Traits, left, at, wide, y+h-at-4)
			if at+shape.H > y+h-2 {
				break
			}
			out = append(out, shape)
			at += shape.H + 4
			if shape.Class == "field" && at+7 < y+h-2 {
				out = append(out, mark{left, at, min(wide, 34), 7, "act"})
				at += 11
			}
		}
		left += wide + 4
	}
	return out
}

// shapeOf is what a glance sees of a piece of these traits, in what room there is.
func shapeOf(t manuscript.Traits, x, y, wide, room int) mark {
	shape := mark{X: x, Y: y, W: wide * 9 / 10, H: 3, Class: "line"}
	switch {
	case t.Heads:
		shape.H, shape.W, shape.Class = 4, wide*4/5, "head"
	case t.Asks || t.Books || t.Takes == manuscript.TakesOrder:
		shape.H, shape.W, shape.Class = 8, wide, "field"
	case t.Button || t.Takes == manuscript.TakesAnswer:
		shape.H, shape.W, shape.Class = 7, min(wide, 34), "act"
	case t.Prices || t.Counts || t.Left:
		shape.H, shape.W, shape.Class = 4, wide/2, "hot"
	case t.Pictured || t.Stands || t.Grouped || t.Shows:
		shape.H, shape.W, shape.Class = max(6, min(room, 26)), wide, "pic"
	case t.Legal || t.Menu:
		shape.H, shape.W = 2, wide*3/5
	}
	return shape
}

// planView is a plan, seen as a map.
type planView struct {
	route.Plan
	Map drawn
}

// plansAsMaps draws the plans as they would stand.
func plansAsMaps() []planView {
	var out []planView
	for _, p := range route.Plans() {
		out = append(out, planView{p, drawSmall(p.Funnel)})
	}
	return out
}
