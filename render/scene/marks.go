package scene

import (
	"fmt"
	"math"
	"strings"
)

// What scenes are made of. Places and sizes are in the drawing's units.

func write(b *strings.Builder, format string, args ...any) { fmt.Fprintf(b, format, args...) }

// chance is a stream of numbers from 0 to 1 that is the same for the same seed: a linear
// congruential generator (Numerical Recipes, 7.1, from memory).
func chance(seed uint32) func() float64 {
	return func() float64 {
		seed = seed*1664525 + 1013904223
		return float64(seed>>8) / float64(1<<24)
	}
}

// sky fills the frame from one colour above to another at the horizon.
func (f *frame) sky(stops ...string) {
	f.top = stops[0]
	f.add(`<linearGradient id="g" x2="0" y2="1">`)
	for i, c := range stops {
		f.add(`<stop offset="%.2f" stop-color="%s"/>`, float64(i)/math.Max(1, float64(len(stops)-1))*f.floor/f.h, c)
	}
	f.add(`</linearGradient><rect width="%g" height="%g" fill="url(#g)"/>`, f.w, f.h)
}

func (f *frame) plain(colour string) {
	f.top = colour
	f.add(`<rect width="%g" height="%g" fill="%s"/>`, f.w, f.h, colour)
}

func (f *frame) stars(seed uint32, n int) {
	next := chance(seed)
	var d strings.Builder
	for range n {
		x, y := next()*f.w, next()*f.floor*0.8
		if f.worded(x, y) { // a star is no full stop
			continue
		}
		sparkle(&d, x, y, 0.8+next()*1.3)
	}
	f.add(`<path d="%s" fill="{mist}"/>`, d.String())
}

// worded tells whether words stand at a place.
func (f *frame) worded(x, y float64) bool {
	if f.phone {
		return y > f.h*.03 && y < f.h*.5
	}
	return x < f.w*.5 && y > f.h*.1
}

func sparkle(d *strings.Builder, x, y, r float64) {
	write(d, "M%.0f %.1fa%.1f %.1f 0 1 0 .1 0z", x, y, r, r)
}

// moon is a crescent, or full.
func (f *frame) moon(x, y, r float64, full bool) {
	if full {
		f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="{lamp}" opacity=".16"/><circle cx="%.0f" cy="%.0f" r="%.0f" fill="{paper}"/>`, x, y, r*1.7, x, y, r)
		return
	}
	f.add(`<path d="M%.0f %.0fa%.0f %.0f 0 1 1 -%.0f -%.0fa%.0f %.0f 0 0 0 %.0f %.0fz" fill="{paper}"/>`, x+r*.6, y+r*.6, r, r, r*1.25, r*1.25, r*1.02, r*1.02, r*1.25, r*1.25)
}

func (f *frame) sun(x, y, r float64) {
	f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="{action}" opacity=".14"/><circle cx="%.0f" cy="%.0f" r="%.0f" fill="{action}" opacity=".22"/><circle cx="%.0f" cy="%.0f" r="%.0f" fill="{action}"/>`, x, y, r*2.1, x, y, r*1.5, x, y, r)
}

func (f *frame) cloud(x, y, s float64, fill string) {
	f.add(`<path transform="translate(%.0f %.0f)scale(%.2f)" d="M-90 20c-30 0-34-40-2-42 4-34 56-40 70-8 18-16 52-8 52 18 32-4 38 32 10 32z" fill="%s"/>`, x, y, s, fill)
}

// land is a line of hills that reaches from side to side: high, its unevenness; long, the
// length of its waves.
func (f *frame) land(seed uint32, y, high, long float64, fill string) {
	next := chance(seed)
	f.add(`<path d="M0 %.0f`, y)
	at, from := 0.0, y
	for at < f.w {
		to := y + (next()-.5)*high*2
		step := long * (0.7 + next()*0.6)
		f.add(`C%.0f %.0f %.0f %.0f %.0f %.0f`, at+step*.4, from, at+step*.6, to, at+step, to)
		at, from = at+step, to
	}
	f.add(`V%gH0z" fill="%s"/>`, f.h, fill)
}

// sea is water with crests on it.
func (f *frame) sea(y float64, fill, crest string) {
	f.add(`<path d="M0 %.0fH%gV%gH0z" fill="%s"/>`, y, f.w, f.h, fill)
	next := chance(uint32(y))
	var d strings.Builder
	for row := y + 14; row < f.h; row += 16 + (row-y)*.22 {
		for x := next() * 120; x < f.w; x += 90 + next()*150 {
			write(&d, "M%.0f %.0fq9-5 18 0t18 0", x, row)
		}
	}
	f.add(`<path d="%s" fill="none" stroke="%s" stroke-width="2" stroke-linecap="round" opacity=".5"/>`, d.String(), crest)
}

// kites, by their shape: four sails, drawn with their colours.
type kite struct {
	path    [4]string
	spars   string
	tail    string
	x, y, r float64 // where a lantern hangs, and its glow
}

var kites = map[string]kite{
	"diamond": {path: [4]string{"M0-92-66 0H0z", "M0-92 66 0H0z", "M-66 0 0 100V0z", "M66 0 0 100V0z"}, spars: "M0-92V100M-66 0H66", tail: "M0 100c-22 26 18 40-4 68s10 36-6 56", r: 14},
	"delta":   {path: [4]string{"M0-70-130 60 -40 34z", "M0-70-40 34 0 60z", "M0-70 130 60 40 34z", "M0-70 40 34 0 60z"}, spars: "M0-70V60M-86 14H86", tail: "M-40 36c-10 40-30 60-60 90M40 36c10 40 30 60 60 90", y: -6, r: 11},
	"long":    {path: [4]string{"M-34-90H0V0H-34z", "M34-90H0V0H34z", "M-34 0H0V90H-34z", "M34 0H0V90H34z"}, spars: "M0-90V90M-34-44H34M-34 44H34", tail: "M-20 90c-8 40 14 60-4 110M20 90c8 40-14 60 4 110", r: 12},
	"bird":    {path: [4]string{"M0-40C-50-70-110-50-150 0c50-16 90-14 120 14z", "M0-40-30 14 0 50z", "M0-40C50-70 110-50 150 0c-50-16-90-14-120 14z", "M0-40 30 14 0 50z"}, spars: "M0-40V50", tail: "M0 50c-12 22 14 34 0 60", y: 2, r: 10},
	"box":     {path: [4]string{"M-60-80 0-60V-20L-60-40z", "M60-80 0-60V-20L60-40z", "M-60 20 0 40V80L-60 60z", "M60 20 0 40V80L60 60z"}, spars: "M-60-80V60M0-60V80M60-80V60", tail: "", y: 10, r: 12},
}

// kite draws one, lit from the left; lit hangs its lantern in it.
func (f *frame) kite(shape string, x, y, s, turn float64, lit bool, colours [4]string) {
	k := kites[shape]
	if lit {
		f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="{lamp}" opacity=".13"/><circle cx="%.0f" cy="%.0f" r="%.0f" fill="{lamp}" opacity=".16"/>`, x, y, 128*s, x, y, 78*s)
	}
	f.add(`<g transform="translate(%.0f %.0f)rotate(%.0f)scale(%.2f)">`, x, y, turn, s)
	for i, p := range k.path {
		f.add(`<path d="%s" fill="%s"/>`, p, colours[i])
	}
	f.add(`<path d="%s" fill="none" stroke="{ink}" stroke-width="3" stroke-linecap="round" opacity=".8"/>`, k.spars)
	if k.tail != "" {
		f.add(`<path d="%s" fill="none" stroke="%s" stroke-width="3" stroke-linecap="round"/>`, k.tail, colours[0])
	}
	if lit {
		f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="{paper}"/>`, k.x, k.y, k.r)
	}
	f.add(`</g>`)
}

var (
	amber  = [4]string{"{lamp}", "{glow}", "{action}", "{glow}"}
	embers = [4]string{"{glow}", "{lamp}", "{action}", "{urgent}"}
	brick  = [4]string{"{urgent}", "{glow}", "{urgent}", "{action}"}
	pine   = [4]string{"{good}", "{lamp}", "{good}", "{action}"}
	slate  = [4]string{"{link}", "{mist}", "{link}", "{paper}"}
)

// line leads from a kite to a hand.
func (f *frame) line(x1, y1, x2, y2 float64, colour string) {
	f.add(`<path d="M%.0f %.0fQ%.0f %.0f %.0f %.0f" fill="none" stroke="%s" stroke-width="1.5" opacity=".85"/>`, x1, y1, x1-(x1-x2)*.15, y1+(y2-y1)*.72, x2, y2, colour)
}

// flyer is somebody who holds a line; the hand is at the place.
func (f *frame) flyer(x, y, s float64, colour string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)" fill="%s"><circle cx="-15" cy="-4" r="6.5"/><path d="M-22 4q7-4 14 0l8-5 2 3-9 8v14h-15z"/><path d="M-22 22h15l2 27h-6l-3-19-3 19h-6z"/></g>`, x, y, s, colour)
}

// child is a smaller one beside.
func (f *frame) child(x, y, s float64, colour string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)" fill="%s"><circle cx="0" cy="0" r="6.5"/><path d="M-7 8h14l2 16h-18z"/><path d="M-6 24h5v14h-4zM1 24h5l-1 14H1z"/></g>`, x, y, s, colour)
}

func (f *frame) birds(x, y, s float64, n int, colour string) {
	var d strings.Builder
	next := chance(uint32(x + y))
	for range n {
		write(&d, "M%.0f %.0fq%.1f-%.1f %.1f 0q%.1f-%.1f %.1f 0", x+next()*220*s, y+next()*90*s, 6*s, 7*s, 12*s, 6*s, 7*s, 12*s)
	}
	f.add(`<path d="%s" fill="none" stroke="%s" stroke-width="2" stroke-linecap="round"/>`, d.String(), colour)
}

func (f *frame) lighthouse(x, y, s float64, lit bool) {
	if lit {
		f.add(`<path d="M%.0f %.0fL%.0f %.0fV%.0fz" fill="{lamp}" opacity=".14"/>`, x, y-150*s, x-520*s, y-220*s, y-60*s)
	}
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-22 0-15-132h30L22 0z" fill="{paper}"/><path d="M-20-34-18-68h36l2 34z" fill="{urgent}"/><path d="M-16-102-15-132h30l1 30z" fill="{urgent}"/><path d="M-19-132h38v-6h-38z" fill="{ink}"/><path d="M-11-138h22v-20h-22z" fill="{lamp}"/><path d="M-14-158 0-174 14-158z" fill="{ink}"/></g>`, x, y, s)
}

func (f *frame) boat(x, y, s float64, sail string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-46 0h92l-14 18h-62z" fill="{ink}"/><path d="M-2-96V-6h-42z" fill="%s"/><path d="M4-80V-6h34z" fill="{paper}"/></g>`, x, y, s, sail)
}

// roofs are a row of houses with their windows lit.
func (f *frame) roofs(seed uint32, y, s float64, wall, window string) {
	next := chance(seed)
	var houses, lights strings.Builder
	for x := 0.0; x < f.w; {
		w, h := (60+next()*60)*s, (50+next()*70)*s
		roof := (18 + next()*26) * s
		write(&houses, "M%.0f %.0fv-%.0fl%.0f-%.0f %.0f %.0fv%.0fz", x, y, h, w/2, roof, w/2, roof, h)
		if next() > .35 {
			write(&lights, "M%.0f %.0fh%.0fv%.0fh-%.0fz", x+w*.3, y-h*.7, 9*s, 12*s, 9*s)
		}
		if next() > .55 {
			write(&lights, "M%.0f %.0fh%.0fv%.0fh-%.0fz", x+w*.62, y-h*.45, 9*s, 12*s, 9*s)
		}
		x += w + next()*14*s
	}
	f.add(`<path d="%sM0 %.0fH%gV%gH0z" fill="%s"/><path d="%s" fill="%s"/>`, houses.String(), y, f.w, f.h, wall, lights.String(), window)
}

func (f *frame) pines(seed uint32, y, s float64, fill string) {
	next := chance(seed)
	var d strings.Builder
	for x := 0.0; x < f.w; x += (24 + next()*70) * s {
		h := (50 + next()*80) * s
		write(&d, "M%.0f %.0fl%.0f-%.0f %.0f %.0fz", x, y+8, h*.22, h, h*.22, h)
	}
	f.add(`<path d="%s" fill="%s"/>`, d.String(), fill)
}

func (f *frame) grass(seed uint32, y, s float64, colour string) {
	next := chance(seed)
	var d strings.Builder
	for x := 0.0; x < f.w; x += (7 + next()*16) * s {
		h := (14 + next()*30) * s
		write(&d, "M%.0f %.0fq%.0f-%.0f %.0f-%.0f", x, y+4, 2*s, h*.6, 10*s*(next()+.4), h)
	}
	f.add(`<path d="%s" fill="none" stroke="%s" stroke-width="2" stroke-linecap="round"/>`, d.String(), colour)
}

// wind is drawn as long strokes that curl at their end.
func (f *frame) wind(x, y, s float64, colour string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)" fill="none" stroke="%s" stroke-width="4" stroke-linecap="round"><path d="M-260 0H40c52 0 52-64 6-64-30 0-36 34-12 40"/><path d="M-180 34H120c56 0 56 70 6 70-32 0-38-36-12-42"/><path d="M-300 66H-60"/></g>`, x, y, s, colour)
}
