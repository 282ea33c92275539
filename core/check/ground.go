package check

import (
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/style"
)

// screen is one of the two widths that pages are proofed at.
type screen struct {
	prefix string // of looks that hold there
	hides  string // the value of "seen" that keeps a thing from it
	width  float64
	name   string
}

var screens = []screen{
	{"", "wide", 390, "on a phone"},
	{style.Wide, "phone", 1280, "on a wider screen"},
}

// hidden tells whether a look keeps a thing from a screen.
func (s screen) hidden(l style.Look) bool { return l["seen"] == s.hides }

// Measures of the ground's style (web/styles/page.scss), in CSS pixels: the
// room beside a band's words, above and below them, between columns, and how
// wide the words get.
const (
	phoneSide, wideSide = 20, 32
	phoneRoom, wideRoom = 36, 64
	columnGap           = 48
	contained           = 1088
)

// place is where something is estimated to stand in its band, with the size of
// the band, in CSS pixels.
type place struct {
	box  style.Box
	band style.Size
}

// places estimates where the pieces of a band stand on a screen, from what is
// written in them.
func (s screen) places(p Page, b manuscript.Band) map[string]place {
	if s.prefix == "" {
		return s.stacked(p, b)
	}
	return s.beside(p, b)
}

// stacked is a phone's way: one piece below the other, over the whole width.
func (s screen) stacked(p Page, b manuscript.Band) map[string]place {
	tops, high := map[string][2]float64{}, float64(phoneRoom)
	for _, c := range b.Columns {
		for _, piece := range c.Pieces {
			if s.hidden(piece.Look) {
				continue
			}
			top := high
			high += float64(tall(p, piece))
			tops[piece.ID] = [2]float64{top, high}
		}
		high += 24
	}
	high += phoneRoom
	out := map[string]place{}
	slack := high / 10 // estimates are off by so much
	for id, at := range tops {
		out[id] = place{style.Box{Left: phoneSide / s.width, Top: max(at[0]-slack, 0) / high, Right: 1 - phoneSide/s.width, Bottom: min(at[1]+slack, high) / high}, style.Size{Width: s.width, Height: high}}
	}
	return out
}

// beside is a wider screen's way: columns beside each other, and of each the
// whole height, since how its words stand in it depends on its neighbours.
func (s screen) beside(p Page, b manuscript.Band) map[string]place {
	wide := min(s.width-2*wideSide, contained)
	switch b.Look.At(s.prefix, "width") {
	case "narrow":
		wide = min(wide, 672)
	case "full":
		wide = s.width - 2*wideSide
	}
	sum, high := 0, 0.0
	for _, c := range b.Columns {
		sum += c.Width
	}
	inner := wide - float64(len(b.Columns)-1)*columnGap
	out := map[string]place{}
	left := (s.width - wide) / 2
	for _, c := range b.Columns {
		share := inner * float64(c.Width) / float64(max(sum, 1))
		column := 0.0
		for _, piece := range c.Pieces {
			column += float64(tall(p, piece)) * min(1, phoneWidth/share*1.2)
			out[piece.ID] = place{box: style.Box{Left: left / s.width, Top: 0, Right: (left + share) / s.width, Bottom: 1}}
		}
		high, left = max(high, column), left+share+columnGap
	}
	for id, at := range out {
		at.band = style.Size{Width: s.width, Height: high + 2*wideRoom}
		out[id] = at
	}
	return out
}

// behind is what of a band's picture lies behind a piece, and whether all of
// the piece stands on it.
func (s screen) behind(b manuscript.Band, pic facts.Picture, at place) (style.Patch, bool) {
	box, covered := b.Look.Behind(s.prefix, style.Size{Width: float64(pic.Width), Height: float64(pic.Height)}, at.band, at.box, pic.Focus.X, pic.Focus.Y)
	return pic.Pixels.In(box), covered
}
