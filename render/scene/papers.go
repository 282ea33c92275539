package scene

import "strings"

// What is flat of these is no louder than a rule: words stand anywhere on it.
var papers = []Scene{
	{Name: "plan-sheet", Title: "A plan, drawn", Of: Paper, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		var d strings.Builder
		for x := 0.0; x < f.w; x += 30 {
			write(&d, "M%.0f 0V%g", x, f.h)
		}
		for y := 0.0; y < f.h; y += 30 {
			write(&d, "M0 %.0fH%g", y, f.w)
		}
		f.add(`<path d="%s" stroke="{rule}" stroke-width="1" opacity=".5"/>`, d.String())
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)" fill="none" stroke="{link}" stroke-width="2.5"><path d="M0-200-140 0 0 230 140 0z"/><path d="M0-200V230M-140 0H140"/><path d="M-170-200v430M-178-200h16M-178 230h16M-140 260H140M-140 252v16M140 252v16" stroke-width="1.5"/><circle r="24" stroke-dasharray="6 5"/></g>`, f.x, f.y+20*f.s, f.s)
	}},
	{Name: "stitched", Title: "Stitched edges", Of: Paper, Flat: true, Light: true, draw: func(f *frame) {
		f.plain("{sand}")
		f.add(`<path d="M24 24H%gV%gH24z" fill="none" stroke="{urgent}" stroke-width="3" stroke-dasharray="18 11" stroke-linecap="round" opacity=".7"/>`, f.w-24, f.h-24)
	}},
	{Name: "ripstop", Title: "Ripstop", Of: Paper, Flat: true, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.add(`<pattern id="p" width="26" height="26" patternUnits="userSpaceOnUse"><path d="M0 .5H26M.5 0V26" stroke="{rule}" stroke-width="1.5" fill="none"/></pattern><rect width="%g" height="%g" fill="url(#p)"/>`, f.w, f.h)
	}},
	{Name: "night-ripstop", Title: "Ripstop, by night", Of: Paper, Flat: true, draw: func(f *frame) {
		f.plain("{night}")
		f.add(`<pattern id="p" width="26" height="26" patternUnits="userSpaceOnUse"><path d="M0 .5H26M.5 0V26" stroke="{late}" stroke-width="1.5" fill="none"/></pattern><rect width="%g" height="%g" fill="url(#p)"/>`, f.w, f.h)
	}},
	{Name: "waves-pattern", Title: "Waves", Of: Paper, Flat: true, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.add(`<pattern id="p" width="80" height="28" patternUnits="userSpaceOnUse"><path d="M0 14q20-20 40 0t40 0" stroke="{sand}" stroke-width="4" fill="none"/></pattern><rect width="%g" height="%g" fill="url(#p)"/>`, f.w, f.h)
	}},
	{Name: "little-kites", Title: "Little kites", Of: Paper, Flat: true, Light: true, draw: func(f *frame) {
		f.plain("{card}")
		f.add(`<pattern id="p" width="120" height="120" patternUnits="userSpaceOnUse"><path d="M30 8 14 30l16 28 16-28zM90 68 74 90l16 28 16-28z" fill="none" stroke="{sand}" stroke-width="3"/><path d="M30 8v50M14 30h32M90 68v50M74 90h32" stroke="{sand}" stroke-width="2"/></pattern><rect width="%g" height="%g" fill="url(#p)"/>`, f.w, f.h)
	}},
	{Name: "sailcloth", Title: "Strips of sailcloth", Of: Paper, Flat: true, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.add(`<pattern id="p" width="120" height="60" patternUnits="userSpaceOnUse" patternTransform="rotate(-18)"><path d="M0 0h120v30H0z" fill="{sand}"/></pattern><rect width="%g" height="%g" fill="url(#p)" opacity=".55"/>`, f.w, f.h)
	}},
	{Name: "star-chart", Title: "A chart of stars", Of: Paper, draw: func(f *frame) {
		f.plain("{night}")
		for i := range 6 {
			f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="none" stroke="{late}" stroke-width="1.5"/>`, f.x, f.y, (80+float64(i)*90)*f.s)
		}
		f.stars(508, 50)
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-150-90-40-140 70-60 150-110M70-60 20 60-90 110-150-90" fill="none" stroke="{mist}" stroke-width="2" stroke-dasharray="4 6"/><g fill="{lamp}"><circle cx="-150" cy="-90" r="5"/><circle cx="-40" cy="-140" r="6"/><circle cx="70" cy="-60" r="7"/><circle cx="150" cy="-110" r="5"/><circle cx="20" cy="60" r="6"/><circle cx="-90" cy="110" r="5"/></g></g>`, f.x, f.y, f.s)
	}},
}
