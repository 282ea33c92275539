package scene

// night fills the frame with an evening that grows lighter to its foot.
func (f *frame) night() { f.sky("{night}", "{night}", "{dusk}", "{late}") }

// flown puts a kite where the subject stands, with its line down to whoever flies it.
func (f *frame) flown(shape string, lit bool, colours [4]string) {
	x, y := f.x-110*f.s, f.floor-26*f.s
	f.line(f.x, f.y+60*f.s, x, y, "{mist}")
	f.kite(shape, f.x, f.y-20*f.s, 1.15*f.s, 12, lit, colours)
	f.flyer(x, y, 0.95*f.s+.15, "{ink}")
}

var skies = []Scene{
	{Name: "lantern-night", Title: "A lantern kite by night", Of: Sky, draw: func(f *frame) {
		f.night()
		f.stars(7, 46)
		f.moon(f.w*.87, f.y-150*f.s, 34*f.s, false)
		f.land(3, f.floor-30, 26, 300, "{late}")
		f.land(5, f.floor+20, 22, 380, "{dusk}")
		f.flown("diamond", true, embers)
		f.land(9, f.floor+64, 14, 420, "{ink}")
	}},
	{Name: "three-lanterns", Title: "Three lanterns in the air", Of: Sky, draw: func(f *frame) {
		f.night()
		f.stars(21, 40)
		f.kite("diamond", f.x+150*f.s, f.y-120*f.s, .6*f.s, 18, true, amber)
		f.kite("delta", f.x-130*f.s, f.y-60*f.s, .55*f.s, -8, true, embers)
		f.kite("diamond", f.x+30*f.s, f.y+90*f.s, .8*f.s, 8, true, embers)
		f.land(12, f.floor, 20, 340, "{late}")
		f.land(14, f.floor+56, 16, 420, "{ink}")
	}},
	{Name: "full-moon", Title: "A kite before the moon", Of: Sky, draw: func(f *frame) {
		f.night()
		f.stars(31, 30)
		f.moon(f.x, f.y, 120*f.s, true)
		f.kite("bird", f.x-10*f.s, f.y-4*f.s, .62*f.s, -10, false, [4]string{"{night}", "{dusk}", "{night}", "{dusk}"})
		f.land(33, f.floor+10, 30, 260, "{ink}")
	}},
	{Name: "first-stars", Title: "The first stars", Of: Sky, draw: func(f *frame) {
		f.sky("{night}", "{dusk}", "{late}", "{late}")
		f.stars(41, 60)
		f.land(43, f.floor-10, 18, 420, "{dusk}")
		f.land(44, f.floor+50, 20, 360, "{night}")
	}},
	{Name: "morning-flight", Title: "A kite in the morning", Of: Sky, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}", "{sand}")
		f.sun(f.x+190*f.s, f.y-110*f.s, 44*f.s)
		f.cloud(f.x-150*f.s, f.y-70*f.s, 1.1*f.s, "{card}")
		f.cloud(f.x+200*f.s, f.y+120*f.s, .8*f.s, "{card}")
		f.land(52, f.floor, 20, 360, "{glow}")
		f.flown("diamond", false, brick)
		f.land(54, f.floor+56, 14, 420, "{action}")
	}},
	{Name: "high-wind", Title: "High up, with birds", Of: Sky, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		f.cloud(f.x-210*f.s, f.y+40*f.s, 1.3*f.s, "{sand}")
		f.cloud(f.x+170*f.s, f.y-90*f.s, .9*f.s, "{sand}")
		f.birds(f.x-60*f.s, f.y-190*f.s, 1.1*f.s, 6, "{quiet}")
		f.kite("delta", f.x, f.y, 1.25*f.s, 6, false, pine)
		f.line(f.x, f.y+74*f.s, f.x-190*f.s, f.h+20, "{quiet}")
	}},
	{Name: "box-kites", Title: "Box kites in a row", Of: Sky, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}")
		for i, c := range [][4]string{brick, slate, pine} {
			at := float64(i - 1)
			f.kite("box", f.x+at*170*f.s, f.y+at*-60*f.s, .72*f.s, at*10, false, c)
			f.line(f.x+at*170*f.s, f.y+at*-60*f.s+58*f.s, f.x-120*f.s+at*20, f.h, "{quiet}")
		}
		f.land(64, f.floor+40, 20, 420, "{sand}")
	}},
	{Name: "evening-flock", Title: "Kites like a flock", Of: Sky, draw: func(f *frame) {
		f.sky("{night}", "{dusk}", "{late}")
		for i := range 5 {
			at := float64(i)
			f.kite("bird", f.x-210*f.s+at*105*f.s, f.y-40*f.s+at*at*14*f.s-at*34*f.s, (.34+at*.05)*f.s, -12+at*6, false, [][4]string{amber, embers, slate, amber, pine}[i])
		}
		f.land(72, f.floor+20, 26, 300, "{ink}")
	}},
	{Name: "long-train", Title: "Many on one line", Of: Sky, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{sand}")
		f.line(f.x+230*f.s, f.y-190*f.s, f.x-230*f.s, f.floor+10, "{quiet}")
		for i := range 6 {
			t := float64(i) / 5
			f.kite("diamond", f.x+(200-t*330)*f.s, f.y+(-180+t*230+t*t*60)*f.s, (.34-.02*t)*f.s, 34, false, [][4]string{brick, amber, pine, slate, embers, brick}[i])
		}
		f.land(82, f.floor+40, 18, 400, "{glow}")
	}},
}
