package scene

import "strings"

func (f *frame) rain(seed uint32, n int, colour string) {
	next := chance(seed)
	var d strings.Builder
	for range n {
		write(&d, "M%.0f %.0fl-8 26", next()*f.w, next()*f.h)
	}
	f.add(`<path d="%s" stroke="%s" stroke-width="2" stroke-linecap="round" opacity=".55"/>`, d.String(), colour)
}

var weathers = []Scene{
	{Name: "four-knots", Title: "Four knots", Of: Weather, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.wind(f.x+40*f.s, f.y-60*f.s, 1.2*f.s, "{good}")
		f.wind(f.x-60*f.s, f.y+120*f.s, .8*f.s, "{glow}")
		f.land(402, f.floor+30, 14, 420, "{sand}")
		f.grass(404, f.floor+36, 1.4*f.s+.3, "{good}")
	}},
	{Name: "before-the-rain", Title: "Before the rain", Of: Weather, draw: func(f *frame) {
		f.sky("{night}", "{dusk}", "{late}")
		f.cloud(f.x-90*f.s, f.y-120*f.s, 2.1*f.s, "{late}")
		f.cloud(f.x+150*f.s, f.y-60*f.s, 1.7*f.s, "{dusk}")
		f.rain(413, 70, "{mist}")
		f.land(415, f.floor+20, 20, 400, "{ink}")
		f.kite("delta", f.x-40*f.s, f.y+90*f.s, .6*f.s, 26, false, embers)
	}},
	{Name: "weather-vane", Title: "The weather vane", Of: Weather, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.cloud(f.x-180*f.s, f.y-20*f.s, f.s, "{sand}")
		f.cloud(f.x+190*f.s, f.y-130*f.s, 1.2*f.s, "{sand}")
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)" fill="{ink}"><path d="M-4-150h8V280h-8z"/><path d="M-90-60H90v6H-90z"/><circle cy="-57" r="12"/><path d="M-150-150H110l-26-26 8-8 42 37-42 37-8-8 26-26H-150l-22 22h-30l22-28-22-28h30z"/></g>`, f.x, f.y+20*f.s, f.s)
		f.roofs(424, f.h+20, 2.4*f.s, "{urgent}", "{urgent}")
	}},
	{Name: "fog-bank", Title: "Fog over the bay", Of: Weather, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.lighthouse(f.x+60*f.s, f.floor-60, 1.4*f.s, false)
		for i := range 5 {
			f.land(uint32(432+i), f.floor-110+float64(i)*42, 16, 420, []string{"{sand}", "{card}", "{sand}", "{paper}", "{sand}"}[i])
		}
	}},
	{Name: "rainbow", Title: "After the rain", Of: Weather, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		for i, c := range []string{"{urgent}", "{action}", "{good}", "{link}"} {
			f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="none" stroke="%s" stroke-width="%.0f" opacity=".75"/>`, f.x, f.floor+40, (330-float64(i)*26)*f.s, c, 20*f.s)
		}
		f.land(442, f.floor+10, 22, 420, "{good}")
		f.flown("diamond", false, brick)
	}},
	{Name: "isobars", Title: "The weather map", Of: Weather, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		for i := range 7 {
			r := (60 + float64(i)*58) * f.s
			f.add(`<ellipse cx="%.0f" cy="%.0f" rx="%.0f" ry="%.0f" transform="rotate(-18 %.0f %.0f)" fill="none" stroke="{link}" stroke-width="2" opacity=".55"/>`, f.x, f.y, r*1.25, r, f.x, f.y)
		}
		f.add(`<path d="M%.0f %.0fq%.0f-%.0f %.0f-%.0f" fill="none" stroke="{urgent}" stroke-width="4"/>`, f.x-330*f.s, f.y+240*f.s, 240*f.s, 120*f.s, 560*f.s, 420*f.s)
		f.kite("diamond", f.x, f.y, .5*f.s, 12, false, brick)
	}},
	{Name: "storm-sea", Title: "A sea in storm", Of: Weather, draw: func(f *frame) {
		f.sky("{night}", "{dusk}")
		f.rain(461, 50, "{mist}")
		f.lighthouse(f.x+130*f.s, f.floor-20, 1.3*f.s, true)
		f.land(463, f.floor-30, 40, 200, "{late}")
		f.land(465, f.floor+20, 34, 220, "{dusk}")
		f.land(467, f.floor+66, 24, 260, "{night}")
	}},
}
