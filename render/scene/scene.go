// Package scene draws grounds and ornaments for pages: skies, coasts, workshops, paper, tinted by the house.
package scene

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"
	"sync"

	"chrysagon/core/manuscript"
	"chrysagon/core/style"
)

// Scene is one drawing. It is drawn twice: for a wide screen with its subject at the
// right, where no words are, and for a phone with its subject under them.
type Scene struct {
	Name, Title string
	Of          Subject
	Light       bool // it is for words in ink, on card or paper; else for words on night
	Flat        bool // it has no subject: words can stand anywhere on it
	draw        func(*frame)
}

// Subject is what a scene shows, by which it is found.
type Subject string

// The subjects.
const (
	Sky      Subject = "sky"
	Coast    Subject = "coast"
	Workshop Subject = "workshop"
	Hands    Subject = "hands"
	Seasons  Subject = "seasons"
	Weather  Subject = "weather"
	Paper    Subject = "paper"
	Ornament Subject = "ornament" // small, between other things
)

// Subjects lists all subjects.
var Subjects = []Subject{Sky, Coast, Workshop, Hands, Seasons, Weather, Paper, Ornament}

// All lists every scene, subject by subject. A new one is one line in its subject's file.
var All = slices.Concat(skies, coasts, workshops, hands, seasons, weathers, papers, ornaments)

// Of returns a scene by its name.
func Of(name string) (Scene, bool) {
	i := slices.IndexFunc(All, func(s Scene) bool { return s.Name == name })
	if i < 0 {
		return Scene{}, false
	}
	return All[i], true
}

// frame is the field on which a scene is drawn, in the drawing's own units, and what was
// drawn so far.
type frame struct {
	w, h  float64
	x, y  float64 // where its subject stands
	floor float64 // where land or sea begins
	s     float64 // size of its subject; 1: on a wide screen
	phone bool
	top   string // colour at its upper edge
	out   strings.Builder
}

func (f *frame) add(format string, args ...any) { fmt.Fprintf(&f.out, format, args...) }

// Draw draws a scene in the colours of a house, as an SVG document.
func (s Scene) Draw(h style.House, phone bool) []byte {
	svg, _ := s.drawing(phone)
	return []byte(tinted(svg, h))
}

// Top is the colour at its upper edge, which goes on above it where a band is taller.
func (s Scene) Top(h style.House) string { return tinted(s.known(false).top, h) }

// drawing is a scene before it is tinted, and the name of the colour at its upper edge.
func (s Scene) drawing(phone bool) (svg, top string) {
	f := &frame{w: 1440, h: 720, x: 1060, y: 290, floor: 590, s: 1}
	switch {
	case s.Of == Ornament:
		f = &frame{w: 240, h: 96, x: 120, y: 48, floor: 80, s: 1}
	case phone:
		f = &frame{w: 390, h: 780, x: 195, y: 555, floor: 715, s: 0.62, phone: true}
	}
	s.draw(f)
	fit := "xMaxYMax slice"
	if s.Of == Ornament {
		fit = "xMidYMid meet"
	} else if phone {
		fit = "xMidYMax slice"
	}
	open := fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" preserveAspectRatio="%s">`, f.w, f.h, fit)
	return open + f.out.String() + "</svg>", f.top
}

// tinted puts the colours of a house where a drawing names them, as in {night}.
func tinted(drawing string, h style.House) string {
	var pairs []string
	for _, t := range style.Tokens {
		pairs = append(pairs, "{"+t.Name+"}", h.Colour(t.Name).String())
	}
	for _, t := range h.Shades() {
		pairs = append(pairs, "{"+t.Name+"}", t.Colour.String())
	}
	return strings.NewReplacer(pairs...).Replace(drawing)
}

// Path is the address of a scene in the colours of a house. It holds all that the drawing
// depends on, so that what is found there can be kept for ever.
func (s Scene) Path(h style.House, phone bool) string {
	screen := "wide"
	if phone {
		screen = "phone"
	}
	var colours strings.Builder
	for _, t := range style.Tokens {
		colours.WriteString(strings.TrimPrefix(h.Colour(t.Name).String(), "#"))
	}
	return "/scenes/" + s.Name + "." + screen + "." + s.known(phone).edition + "." + colours.String() + ".svg"
}

// known is what need not be drawn again to be told of a drawing.
type known struct{ edition, top string }

// drawn keeps it by scene and screen.
var drawn sync.Map

// known tells the hash of a drawing before it is tinted, which changes with the drawing,
// and the name of the colour at its upper edge.
func (s Scene) known(phone bool) known {
	key := fmt.Sprint(s.Name, phone)
	if k, ok := drawn.Load(key); ok {
		return k.(known) //nolint:forcetypeassert // nothing else is kept there
	}
	svg, top := s.drawing(phone)
	sum := sha256.Sum256([]byte(svg))
	k := known{hex.EncodeToString(sum[:4]), top}
	drawn.Store(key, k)
	return k
}

// Find reads such an address: which scene, for which screen, in which colours.
func Find(path string) (s Scene, h style.House, phone, ok bool) {
	parts := strings.Split(strings.TrimPrefix(path, "/scenes/"), ".")
	if len(parts) != 5 || parts[4] != "svg" || len(parts[3]) != 6*len(style.Tokens) || (parts[1] != "wide" && parts[1] != "phone") {
		return s, h, false, false
	}
	s, ok = Of(parts[0])
	h.Palette = map[string]string{}
	for i, t := range style.Tokens {
		h.Palette[t.Name] = "#" + parts[3][6*i:6*i+6]
	}
	return s, h, parts[1] == "phone", ok && h.Validate() == nil
}

// Grounds are the colours on which words of a scene stand: those of its sky, or of its paper.
func (s Scene) Grounds(h style.House) []style.Colour { return h.UnderScene(s.Light) }

// Suits tells whether the words of a band of that tone can be read on a scene.
func (s Scene) Suits(tone manuscript.Tone) bool {
	return s.Of != Ornament && s.Light == (tone != manuscript.Night)
}
