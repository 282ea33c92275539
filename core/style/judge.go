package style

import (
	"fmt"
	"strings"
)

// The widths that a picture is judged by, in its own pixels: a phone shows it some 350 CSS
// pixels wide on a screen of two for each, a wide screen behind a band 1280 and more (common
// practice, no source).
const (
	phoneSharp = 700
	wideSharp  = 1280
)

// Judgement is one thing that is to be known of a picture; Mend: something is wrong with it,
// wherever it is shown.
type Judgement struct {
	Says string
	Mend bool
}

// Judged says in plain words what is wrong with a picture of so many pixels across, before
// anybody puts it on a page: too small, too dark, not to be written on, cut at an edge. A
// drawn one is as large as it has to be.
func (p Pixels) Judged(width int, drawn bool) []Judgement {
	var out []Judgement
	switch {
	case drawn:
	case width < phoneSharp:
		out = append(out, Judgement{fmt.Sprintf("Too small: %d pixels wide, and a phone wants %d. It will look soft; fetch the one it was made from.", width, phoneSharp), true})
	case width < wideSharp:
		out = append(out, Judgement{fmt.Sprintf("Sharp in a column; too small behind a band on a wide screen, which wants %d pixels and it has %d.", wideSharp, width), false})
	}
	if s := p.written(); s.Says != "" {
		out = append(out, s)
	}
	if edges := p.cutAt(); len(edges) > 0 {
		out = append(out, Judgement{"Cut at the " + strings.Join(edges, " and the ") + ": what is shown runs out of it. Take one with room around it, or cut another part.", true})
	}
	return out
}

// dim is the luminance under which little is seen of what is lightest in a picture.
const dim = 0.05

// written says how words are read on it.
func (p Pixels) written() Judgement {
	if p.Light.Luminance() < dim {
		return Judgement{"Very dark: little of it will be seen. White words are read on it.", true}
	}
	white, ink := Colour{255, 255, 255}, Colour{0x0b, 0x14, 0x12}
	if max(Worst(white, p.Dark, p.Light), Worst(ink, p.Dark, p.Light)) >= ForText {
		return Judgement{}
	}
	_, veil := Look{}.OverPicture("", white, p.Patch, ForText)
	if veil < 0 {
		return Judgement{"Too mixed for words: put none on it.", false}
	}
	return Judgement{fmt.Sprintf("Too mixed for words as it is; behind a band, white ones are read under a dark veil of %d %%.", veil), false}
}

// alike is how far two colours of a plain ground lie apart at most, by [Apart].
const alike = 0.08

// covered tells whether nothing of a plain ground is seen in a patch: what only comes near
// to an edge leaves some.
func covered(one Patch, ground Colour) bool {
	return Apart(one.Dark, ground) >= alike && Apart(one.Light, ground) >= alike
}

// cutAt names the edges at which what is shown runs out of a picture. It is known only of
// one with a plain ground: at least three of its corners are of one colour.
func (p Pixels) cutAt() []string {
	if len(p.Patches) != PatchColumns*PatchRows {
		return nil
	}
	at := func(x, y int) Patch { return p.Patches[y*PatchColumns+x] }
	plain := func(one Patch, ground Colour) bool {
		return Apart(one.Dark, ground) < alike && Apart(one.Light, ground) < alike
	}
	corners := []Patch{at(0, 0), at(PatchColumns-1, 0), at(0, PatchRows-1), at(PatchColumns-1, PatchRows-1)}
	var ground Colour
	most := 0
	for _, c := range corners {
		n := 0
		for _, other := range corners {
			if plain(other, c.Light) {
				n++
			}
		}
		if n > most {
			most, ground = n, c.Light
		}
	}
	if most < 3 {
		return nil
	}
	var out []string
	for _, edge := range []struct {
		name string
		many int
		at   func(i int) Patch
	}{
		{"top", PatchColumns, func(i int) Patch { return at(i, 0) }}, {"right", PatchRows, func(i int) Patch { return at(PatchColumns-1, i) }},
		{"bottom", PatchColumns, func(i int) Patch { return at(i, PatchRows-1) }}, {"left", PatchRows, func(i int) Patch { return at(0, i) }},
	} {
		other := 0
		for i := range edge.many {
			if covered(edge.at(i), ground) {
				other++
			}
		}
		// All of an edge is a ground of its own, such as a table under a cup.
		if other > 0 && other < edge.many*4/5 {
			out = append(out, edge.name)
		}
	}
	return out
}
