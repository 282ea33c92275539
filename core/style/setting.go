package style

import "slices"

// Setting is one of the house's that is chosen from a list.
type Setting struct {
	Name    string // as it is stored
	Label   string // before its choices, as a sentence
	What    string // what it is
	Choices []Choice
	Default int // the choice of a house that makes none
	of      func(*House) *string
}

var (
	scale  = Setting{"scale", "Headings grow", "size of the headings", Scales, 1, func(h *House) *string { return &h.Scale }}
	corner = Setting{"corner", "corners are", "corners", Corners, 1, func(h *House) *string { return &h.Corner }}
	weight = Setting{"weight", "in a weight that is", "weight of the headings", Weights, 1, func(h *House) *string { return &h.Weight }}
	air    = Setting{"air", "things stand", "room", Airs, 1, func(h *House) *string { return &h.Air }}
	framed = Setting{"frame", "framed pictures", "framed pictures", Frames, 0, func(h *House) *string { return &h.Frame }}
	shadow = Setting{"shadow", "shadows", "shadows", Shadows, 0, func(h *House) *string { return &h.Shadow }}
	button = Setting{"button", "buttons are", "buttons", Buttons, 0, func(h *House) *string { return &h.Button }}
	mark   = Setting{"mark", "the logo is", "size of the logo", Marks, 1, func(h *House) *string { return &h.Mark }}
	hover  = Setting{"hover", "and under the pointer they", "buttons under the pointer", Hovers, 0, func(h *House) *string { return &h.Hover }}
)

// Settings are all of them, in the order in which they are asked. A new one is a field of
// House, its choices, a line above and its name here.
var Settings = []Setting{scale, corner, weight, air, framed, shadow, button, hover, mark}

// Chosen is what a house has chosen; empty: nothing.
func (s Setting) Chosen(h House) string { return *s.of(&h) }

// Put chooses for a house; empty: as it ships.
func (s Setting) Put(h *House, value string) { *s.of(h) = value }

// At is the place of the choice that holds in a house.
func (s Setting) At(h House) int {
	if i := s.index(s.Chosen(h)); i >= 0 {
		return i
	}
	return s.Default
}

// Of is the choice that holds in a house.
func (s Setting) Of(h House) Choice { return s.Choices[s.At(h)] }

func (s Setting) index(value string) int {
	return slices.IndexFunc(s.Choices, func(c Choice) bool { return c.Value == value })
}
