package compose

import (
	"fmt"
	"strings"
)

// SketchWidth and SketchHeight are the field on which manners are sketched.
const (
	SketchWidth  = 24
	SketchHeight = 16
)

// Box is a part of a manner's sketch.
type Box struct {
	Is                  Mark
	X, Y, Width, Height int
}

// Mark is what a box of a sketch stands for.
type Mark byte

// The marks.
const (
	MarkHead   Mark = 'h' // a heading, or anything large
	MarkText   Mark = 't' // lines of words
	MarkFigure Mark = 'p' // a picture
	MarkPress  Mark = 'b' // a button
	MarkCard   Mark = 'c' // a card
	MarkNight  Mark = 'n' // a dark ground
	MarkLight  Mark = 'l' // words on a dark ground
	MarkRule   Mark = 'r' // a rule across
	MarkUpward Mark = 'v' // a rule from above to below
	MarkDashed Mark = 'd' // a torn edge
)

// Boxes reads the sketch of a manner.
func (m Manner) Boxes() []Box {
	var out []Box
	for part := range strings.FieldsSeq(m.Sketch) {
		b := Box{Is: Mark(part[0])}
		if _, err := fmt.Sscanf(part[1:], "%d,%d,%d,%d", &b.X, &b.Y, &b.Width, &b.Height); err == nil {
			out = append(out, b)
		}
	}
	return out
}
