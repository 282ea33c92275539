package scene

var coasts = []Scene{
	{Name: "north-mole", Title: "The lighthouse on the mole", Of: Coast, draw: func(f *frame) {
		f.night()
		f.stars(101, 34)
		f.sea(f.floor-30, "{late}", "{mist}")
		f.add(`<path d="M%.0f %.0fH%gV%.0fH%.0fz" fill="{ink}"/>`, f.x-190*f.s, f.floor-34, f.w, f.floor-4, f.x-210*f.s)
		f.lighthouse(f.x+60*f.s, f.floor-34, 1.7*f.s, true)
	}},
	{Name: "quiet-dunes", Title: "Dunes in the evening", Of: Coast, draw: func(f *frame) {
		f.sky("{night}", "{dusk}", "{late}")
		f.moon(f.x+120*f.s, f.y-120*f.s, 40*f.s, true)
		f.land(112, f.floor-90, 46, 360, "{late}")
		f.land(114, f.floor-20, 36, 300, "{dusk}")
		f.land(116, f.floor+50, 26, 420, "{night}")
		f.grass(118, f.floor+58, 1.1*f.s+.2, "{mist}")
	}},
	{Name: "sails-out", Title: "Sails going out", Of: Coast, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.sun(f.x+170*f.s, f.y-60*f.s, 52*f.s)
		f.sea(f.floor-90, "{sand}", "{quiet}")
		f.boat(f.x-60*f.s, f.floor-84, 1.7*f.s, "{urgent}")
		f.boat(f.x+180*f.s, f.floor-92, .9*f.s, "{good}")
		f.birds(f.x-200*f.s, f.y-60*f.s, f.s, 5, "{quiet}")
	}},
	{Name: "town-by-night", Title: "The town by night", Of: Coast, draw: func(f *frame) {
		f.night()
		f.stars(121, 40)
		f.kite("diamond", f.x, f.y-90*f.s, .7*f.s, 14, true, embers)
		f.roofs(124, f.floor+10, .95*f.s+.2, "{ink}", "{lamp}")
	}},
	{Name: "town-by-day", Title: "The town by day", Of: Coast, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.cloud(f.x-120*f.s, f.y-70*f.s, 1.1*f.s, "{sand}")
		f.kite("delta", f.x+60*f.s, f.y-60*f.s, .7*f.s, 8, false, brick)
		f.roofs(134, f.floor+10, .95*f.s+.2, "{glow}", "{paper}")
	}},
	{Name: "beach-walk", Title: "Two on the beach", Of: Coast, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.sea(f.floor-70, "{mist}", "{link}")
		f.land(142, f.floor-16, 10, 500, "{sand}")
		f.flown("delta", false, pine)
		f.child(f.x-172*f.s, f.floor+2, 0.9*f.s+.15, "{ink}")
	}},
	{Name: "harbour-lights", Title: "Lights over the water", Of: Coast, draw: func(f *frame) {
		f.night()
		f.roofs(151, f.floor-70, 1.2*f.s+.2, "{ink}", "{lamp}")
		f.sea(f.floor-70, "{night}", "{lamp}")
		f.boat(f.x-40*f.s, f.floor-10, 1.2*f.s, "{late}")
	}},
	{Name: "cliffs", Title: "Cliffs and gulls", Of: Coast, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.sea(f.floor-20, "{mist}", "{link}")
		f.add(`<path d="M%g %.0fC%.0f %.0f %.0f %.0f %.0f %.0fL%.0f %.0fL%.0f %.0fL%.0f %gH%gz" fill="{good}"/>`, f.w, f.y-30*f.s, f.w-90*f.s, f.y-40*f.s, f.w-160*f.s, f.y-20*f.s, f.x+60*f.s, f.y+10*f.s, f.x+20*f.s, f.y+90*f.s, f.x+30*f.s, f.floor-40, f.x-10*f.s, f.h, f.w)
		f.add(`<path d="M%.0f %.0fL%.0f %.0fL%.0f %.0fL%.0f %gH%.0fL%.0f %.0fz" fill="{glow}"/>`, f.x+60*f.s, f.y+10*f.s, f.x+20*f.s, f.y+90*f.s, f.x+30*f.s, f.floor-40, f.x-10*f.s, f.h, f.x+90*f.s, f.x+84*f.s, f.y+110*f.s)
		f.birds(f.x-220*f.s, f.y-50*f.s, 1.2*f.s, 9, "{quiet}")
		f.lighthouse(f.x+190*f.s, f.y-20*f.s, .8*f.s, false)
	}},
	{Name: "low-tide", Title: "Low tide", Of: Coast, Light: true, draw: func(f *frame) {
		f.sky("{paper}", "{sand}")
		f.sea(f.floor-110, "{mist}", "{link}")
		f.land(172, f.floor-60, 8, 460, "{sand}")
		f.land(174, f.floor, 10, 420, "{glow}")
		f.boat(f.x, f.floor-30, 1.5*f.s, "{paper}")
		f.flyer(f.x-130*f.s, f.floor-30, 1.1*f.s, "{ink}")
	}},
}
