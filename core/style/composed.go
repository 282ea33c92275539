package style

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// The second composition's type scale. Sizes are powers of the house's ratio, in the
// manner of a modular scale (Robert Bringhurst, The Elements of Typographic Style, 8.2,
// from memory); which powers is taste and ours. A headline that would not leave room for
// a long word on its screen is held back.
var steps = []struct {
	name         string
	phone, wide  float64 // powers of the ratio on a screen of 390 and of 1280 px
	most, mostBy float64 // in rem, on a phone and on a wide screen
}{
	{"h3", 0.8, 1.1, 1.45, 1.6},
	{"h2", 2.2, 3.3, 2.1, 3},
	{"h1", 3.7, 5.5, 2.75, 5},
	{"display", 4.4, 6.4, 3.3, 6.5}, // for figures and posters
}

// Composed writes what the present composition asks of a house beside its style sheet:
// sizes that grow with the screen.
func (h House) Composed() string {
	ratio, _ := strconv.ParseFloat(scale.Of(h).CSS, 64) // our own list
	var b strings.Builder
	b.WriteString(":root{")
	for i, s := range steps {
		if i > 0 {
			b.WriteString(";")
		}
		phone, wide := min(math.Pow(ratio, s.phone), s.most), min(math.Pow(ratio, s.wide), s.mostBy)
		b.WriteString("--" + s.name + ":" + between(phone, wide))
	}
	// What is written on night, and what lies on a sheet there, take the inks of each.
	night, late := h.Colour("night"), h.Shade("late")
	for _, name := range []string{"urgent", "good", "link"} {
		c := h.ink(name)
		shade, ok := Readable(c, ForText, night, late)
		if !ok {
			shade = h.Shade("on-night")
		}
		b.WriteString(";--day-" + name + ":" + c.String() + ";--night-" + name + ":" + shade.String())
	}
	b.WriteString(";--day-quiet:" + h.Shade("quiet").String() + ";--day-rule:" + h.Shade("rule").String())
	b.WriteString(";--heavy:" + weight.Of(h).CSS + ";--airy:" + air.Of(h).CSS + ";--logo:" + mark.Of(h).CSS + "}")
	return b.String()
}

// Finish writes what a house says of single things, framed pictures and buttons; it comes
// after the styles of pieces, which would have the last word otherwise.
func (h House) Finish() string { return framed.Of(h).CSS + h.buttons() }

// between is a size that grows evenly from one on a screen of 390 px to one at 1280 px,
// in rem of 16 px, and holds outside of them.
func between(phone, wide float64) string {
	slope := (wide - phone) * 16 / (1280 - 390)
	return fmt.Sprintf("clamp(%.3frem,%.3frem + %.2fvw,%.3frem)", phone, phone-slope*390/16, slope*100, wide)
}
