package scene

import "strings"

// leaf draws leaves that fall or lie, each turned its own way.
func (f *frame) leaves(seed uint32, n int, from, to, s float64, colours ...string) {
	next := chance(seed)
	for range n {
		x, y, turn, c := next()*f.w, from+next()*(to-from), next()*360, colours[int(next()*float64(len(colours)))%len(colours)]
		f.add(`<path transform="translate(%.0f %.0f)rotate(%.0f)scale(%.2f)" d="M0-16q14 8 0 32q-14-24 0-32z" fill="%s"/>`, x, y, turn, s*(.7+next()*.7), c)
	}
}

func (f *frame) snow(seed uint32, n int, colour string) {
	next := chance(seed)
	var d strings.Builder
	for range n {
		if x, y := next()*f.w, next()*f.h; !f.worded(x, y) {
			sparkle(&d, x, y, 1.2+next()*2.6)
		}
	}
	f.add(`<path d="%s" fill="%s" opacity=".85"/>`, d.String(), colour)
}

func (f *frame) tree(x, y, s float64, crown string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-7 0-4-120h8L7 0z" fill="{ink}"/><path d="M-2-70-40-118M2-84 36-124M0-100v-50" stroke="{ink}" stroke-width="5" stroke-linecap="round" fill="none"/>`, x, y, s)
	if crown != "" {
		f.add(`<circle cx="-34" cy="-128" r="42" fill="%s"/><circle cx="34" cy="-134" r="46" fill="%s"/><circle cy="-172" r="50" fill="%s"/>`, crown, crown, crown)
	}
	f.add(`</g>`)
}

func (f *frame) twig(x, y, s, turn float64, blossom string) {
	f.add(`<g transform="translate(%.0f %.0f)rotate(%.0f)scale(%.2f)"><path d="M300 60C160 40 60-10-140-40M120 26C90-20 60-50 10-76M10-8C-20 20-50 40-100 46" fill="none" stroke="{ink}" stroke-width="7" stroke-linecap="round"/>`, x, y, turn, s)
	for _, p := range [][2]float64{{-140, -40}, {-96, 46}, {10, -76}, {60, -50}, {-40, -20}, {-60, 26}, {90, 6}} {
		f.add(`<g transform="translate(%.0f %.0f)" fill="%s"><circle cx="-10" r="10"/><circle cx="10" r="10"/><circle cy="-10" r="10"/><circle cy="10" r="10"/><circle r="5" fill="{action}"/></g>`, p[0], p[1], blossom)
	}
	f.add(`</g>`)
}

var seasons = []Scene{
	{Name: "spring-twig", Title: "A twig in spring", Of: Seasons, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.cloud(f.x-160*f.s, f.y+60*f.s, f.s, "{sand}")
		f.twig(f.x+80*f.s, f.y-20*f.s, 1.15*f.s, -12, "{glow}")
		f.kite("diamond", f.x-160*f.s, f.y-90*f.s, .42*f.s, 16, false, pine)
		f.land(304, f.floor+30, 16, 420, "{mist}")
	}},
	{Name: "summer-meadow", Title: "A meadow in summer", Of: Seasons, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}", "{sand}")
		f.sun(f.x+180*f.s, f.y-100*f.s, 56*f.s)
		f.land(312, f.floor-40, 20, 380, "{glow}")
		f.flown("delta", false, brick)
		f.land(314, f.floor+30, 14, 420, "{good}")
		f.grass(316, f.floor+34, 1.3*f.s+.3, "{good}")
	}},
	{Name: "autumn-hill", Title: "A hill in autumn", Of: Seasons, Light: true, draw: func(f *frame) {
		f.sky("{paper}", "{sand}")
		f.land(322, f.floor-10, 40, 460, "{glow}")
		f.tree(f.x+60*f.s, f.floor-6, 1.6*f.s, "{urgent}")
		f.tree(f.x+200*f.s, f.floor+6, 1.1*f.s, "{action}")
		f.leaves(324, 40, f.y, f.h, f.s+.2, "{urgent}", "{action}")
	}},
	{Name: "first-frost", Title: "The first frost", Of: Seasons, draw: func(f *frame) {
		f.night()
		f.stars(331, 30)
		f.tree(f.x+120*f.s, f.floor+10, 1.5*f.s, "")
		f.tree(f.x-60*f.s, f.floor+20, 1.1*f.s, "")
		f.land(334, f.floor+10, 18, 420, "{mist}")
		f.flown("diamond", true, embers)
	}},
	{Name: "snowfall", Title: "Snow on the town", Of: Seasons, draw: func(f *frame) {
		f.sky("{night}", "{dusk}", "{late}")
		f.roofs(341, f.floor+20, .95*f.s+.2, "{ink}", "{lamp}")
		f.land(343, f.floor+70, 10, 400, "{paper}")
		f.snow(345, 130, "{paper}")
	}},
	{Name: "winter-pines", Title: "Pines in winter", Of: Seasons, draw: func(f *frame) {
		f.night()
		f.moon(f.x, f.y-80*f.s, 60*f.s, true)
		f.pines(352, f.floor, 1.6*f.s+.2, "{dusk}")
		f.pines(354, f.floor+50, 2*f.s+.2, "{ink}")
		f.land(356, f.floor+62, 10, 420, "{paper}")
		f.snow(358, 60, "{paper}")
	}},
	{Name: "leaves-and-wind", Title: "Leaves in the wind", Of: Seasons, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.wind(f.x+60*f.s, f.y-40*f.s, 1.1*f.s, "{glow}")
		f.wind(f.x-20*f.s, f.y+150*f.s, .8*f.s, "{sand}")
		f.leaves(362, 46, f.y-200*f.s, f.h, f.s+.3, "{urgent}", "{action}", "{good}")
	}},
	{Name: "parcels", Title: "Parcels for the feast", Of: Seasons, draw: func(f *frame) {
		f.night()
		f.snow(371, 60, "{mist}")
		for i, p := range []struct {
			x, w, h  float64
			box, bow string
		}{{-170, 150, 120, "{urgent}", "{lamp}"}, {30, 190, 190, "{good}", "{paper}"}, {200, 120, 90, "{action}", "{ink}"}} {
			x, y := f.x+p.x*f.s, f.floor+20-float64(i%2)*6
			f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M%.0f 0V-%.0fh%.0fV0z" fill="%s"/><path d="M-12 0V-%.0fh24V0z" fill="%s"/><path d="M0-%.0fc-60-60-90-10 0 0c90-10 60-60 0 0" fill="%s"/></g>`, x, y, f.s, -p.w/2, p.h, p.w, p.box, p.h, p.bow, p.h, p.bow)
		}
		f.land(373, f.floor+60, 8, 420, "{paper}")
	}},
}
