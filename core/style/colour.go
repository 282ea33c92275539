// Package style is how pages look: the house style, the local looks of bands
// and pieces that depart from it, their contrast, and their drift.
//
// Styles resolve house, page, band, piece; what a wider screen shows otherwise
// comes after what a phone shows.
package style

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Colour is an sRGB colour, each part from 0 to 255.
type Colour struct{ R, G, B uint8 }

// ParseColour reads #rrggbb or #rgb.
func ParseColour(text string) (Colour, error) {
	hex := strings.TrimPrefix(strings.TrimSpace(text), "#")
	if len(hex) == 3 {
		hex = string([]byte{hex[0], hex[0], hex[1], hex[1], hex[2], hex[2]})
	}
	n, err := strconv.ParseUint(hex, 16, 32)
	if len(hex) != 6 || err != nil {
		return Colour{}, fmt.Errorf("%q is not a colour; write one like #c8951a", text)
	}
	return Colour{uint8(n >> 16), uint8(n >> 8), uint8(n)}, nil
}

func (c Colour) String() string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

// linear undoes the encoding of a part of a colour (IEC 61966-2-1). It is asked
// for every pixel of a picture, so the 256 answers are worked out once.
func linear(part uint8) float64 { return linears[part] }

var linears = func() (all [256]float64) {
	for i := range all {
		v := float64(i) / 255
		if v <= 0.04045 {
			all[i] = v / 12.92
			continue
		}
		all[i] = math.Pow((v+0.055)/1.055, 2.4)
	}
	return all
}()

func encoded(v float64) uint8 {
	v = min(max(v, 0), 1)
	if v <= 0.0031308 {
		v *= 12.92
	} else {
		v = 1.055*math.Pow(v, 1/2.4) - 0.055
	}
	return uint8(math.Round(v * 255))
}

// Luminance is the relative luminance of WCAG 2.2, from 0 (black) to 1 (white).
func (c Colour) Luminance() float64 {
	return 0.2126*linear(c.R) + 0.7152*linear(c.G) + 0.0722*linear(c.B)
}

// Contrast is the contrast ratio of WCAG 2.2, from 1 to 21.
func Contrast(a, b Colour) float64 {
	light, dark := a.Luminance(), b.Luminance()
	if light < dark {
		light, dark = dark, light
	}
	return (light + 0.05) / (dark + 0.05)
}

// The least contrast that WCAG 2.2 asks for.
const (
	ForText  = 4.5 // 1.4.3, text below 24 px, or 18.66 px bold
	ForLarge = 3.0 // 1.4.3, larger text; 1.4.11, what is not text
)

// lab is a colour in OKLab (Ottosson 2020): lightness and two opponent axes,
// in which equal steps look equal.
type lab struct{ l, a, b float64 }

func (c Colour) lab() lab {
	r, g, b := linear(c.R), linear(c.G), linear(c.B)
	l := math.Cbrt(0.4122214708*r + 0.5363325363*g + 0.0514459929*b)
	m := math.Cbrt(0.2119034982*r + 0.6806995451*g + 0.1073969566*b)
	s := math.Cbrt(0.0883024619*r + 0.2817188376*g + 0.6299787005*b)
	return lab{
		0.2104542553*l + 0.7936177850*m - 0.0040720468*s,
		1.9779984951*l - 2.4285922050*m + 0.4505937099*s,
		0.0259040371*l + 0.7827717662*m - 0.8086757660*s,
	}
}

func (o lab) colour() Colour {
	l := o.l + 0.3963377774*o.a + 0.2158037573*o.b
	m := o.l - 0.1055613458*o.a - 0.0638541728*o.b
	s := o.l - 0.0894841775*o.a - 1.2914855480*o.b
	l, m, s = l*l*l, m*m*m, s*s*s
	return Colour{
		encoded(4.0767416621*l - 3.3077115913*m + 0.2309699292*s),
		encoded(-1.2684380046*l + 2.6097574011*m - 0.3413193965*s),
		encoded(-0.0041960863*l - 0.7034186147*m + 1.7076147010*s),
	}
}

// Mix goes from a towards b by share, in even steps to the eye.
func Mix(a, b Colour, share float64) Colour {
	x, y := a.lab(), b.lab()
	return lab{x.l + (y.l-x.l)*share, x.a + (y.a-x.a)*share, x.b + (y.b-x.b)*share}.colour()
}

// Apart is how far two colours are from each other to the eye: 0 is the same,
// 0.02 can just be told, 1 is black and white.
func Apart(a, b Colour) float64 {
	x, y := a.lab(), b.lab()
	return math.Sqrt((x.l-y.l)*(x.l-y.l) + (x.a-y.a)*(x.a-y.a) + (x.b-y.b)*(x.b-y.b))
}

// On is the better of near-black and white for text on a ground; on one of the
// few on which neither is read, black, which then is.
func On(ground Colour) Colour {
	dark, light := Colour{0x14, 0x20, 0x1d}, Colour{255, 255, 255}
	switch onDark, onLight := Contrast(dark, ground), Contrast(light, ground); {
	case max(onDark, onLight) < ForText:
		return Colour{}
	case onDark >= onLight:
		return dark
	}
	return light
}

// Readable is c, moved as little as needed towards black or white until it can
// be read on every ground; false when no such shade is, with black or white,
// whichever then stands out more.
func Readable(c Colour, least float64, grounds ...Colour) (Colour, bool) {
	for step := range 101 {
		for _, end := range []Colour{{}, {255, 255, 255}} {
			shade := Mix(c, end, float64(step)/100)
			if Worst(shade, grounds...) >= least {
				return shade, true
			}
		}
	}
	black, white := Colour{}, Colour{255, 255, 255}
	if Worst(white, grounds...) > Worst(black, grounds...) {
		return white, false
	}
	return black, false
}

// Worst is the least contrast that a colour has on any of the grounds.
func Worst(c Colour, grounds ...Colour) float64 {
	least := 21.0
	for _, g := range grounds {
		least = min(least, Contrast(c, g))
	}
	return least
}

// Over is what a colour comes to under a veil of another with that share
// (0 to 1), as browsers blend: in sRGB as it is encoded.
func Over(veil Colour, share float64, under Colour) Colour {
	blend := func(v, u uint8) uint8 {
		return uint8(math.Round(float64(v)*share + float64(u)*(1-share)))
	}
	return Colour{blend(veil.R, under.R), blend(veil.G, under.G), blend(veil.B, under.B)}
}
