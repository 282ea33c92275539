package scene

// bench is a table before a wall.
func (f *frame) bench(wall, top, leg string) {
	f.plain(wall)
	f.add(`<path d="M0 %.0fH%gV%gH0z" fill="%s"/><path d="M0 %.0fH%gv%.0fH0z" fill="%s"/>`, f.floor, f.w, f.h, leg, f.floor-14, f.w, 22.0, top)
}

func (f *frame) spool(x, y, s float64, thread string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-26-70h52v10h-52zM-26-10h52V0h-52z" fill="{glow}"/><path d="M-20-60h40v50h-40z" fill="%s"/><path d="M-20-50h40M-20-40h40M-20-30h40M-20-20h40" stroke="{ink}" stroke-width="1" opacity=".35"/></g>`, x, y, s, thread)
}

func (f *frame) bolt(x, y, s float64, cloth string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-120-40H110v40H-120z" fill="%s"/><ellipse cx="110" cy="-20" rx="12" ry="20" fill="{paper}"/><ellipse cx="110" cy="-20" rx="7" ry="12" fill="none" stroke="{ink}" stroke-width="1.5"/><path d="M-120-40Q-150 10-60 8H40q50-2 20-8H-120z" fill="%s" opacity=".75"/></g>`, x, y, s, cloth, cloth)
}

func (f *frame) machine(x, y, s float64) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-150 0H150v-22H-150z" fill="{ink}"/><path d="M150-22V-170q0-30-40-30H-90q-40 0-40 34v56h34v-36q0-14 16-14H70q20 0 20 20v118z" fill="{ink}"/><path d="M-113-110v70M-122-40h18" stroke="{mist}" stroke-width="5" stroke-linecap="round"/><circle cx="146" cy="-128" r="34" fill="{urgent}"/><circle cx="146" cy="-128" r="12" fill="{ink}"/><path d="M-20-200v-24h36v24z" fill="{action}"/><path d="M-4-224q-60 20-106 60" fill="none" stroke="{action}" stroke-width="2"/><path d="M-60-180H60" stroke="{action}" stroke-width="3"/></g>`, x, y, s)
}

func (f *frame) scissors(x, y, s, turn float64) {
	f.add(`<g transform="translate(%.0f %.0f)rotate(%.0f)scale(%.2f)"><path d="M-8-10 60-130q10 6 2 24L6 8z" fill="{quiet}"/><path d="M8-10-60-130q-10 6-2 24L-6 8z" fill="{mist}"/><g fill="none" stroke="{urgent}" stroke-width="11"><ellipse cx="-28" cy="40" rx="20" ry="28" transform="rotate(24-28 40)"/><ellipse cx="28" cy="40" rx="20" ry="28" transform="rotate(-24 28 40)"/></g><circle r="5" fill="{ink}"/></g>`, x, y, turn, s)
}

func (f *frame) lamp(x, y, s float64) {
	f.add(`<path d="M%.0f %.0fl%.0f %.0fh-%.0fz" fill="{lamp}" opacity=".16"/>`, x, y+20*s, 260*s, f.floor-y-20*s, 520*s)
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M0-400V-30" stroke="{ink}" stroke-width="4"/><path d="M-60 20q0-60 60-60t60 60z" fill="{urgent}"/><path d="M-24 20a24 18 0 0 0 48 0z" fill="{lamp}"/></g>`, x, y, s)
}

func (f *frame) window(x, y, s float64, pane string) {
	f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-110-150H110V150H-110z" fill="{paper}"/><path d="M-98-138H-6V-6H-98zM6-138H98V-6H6zM-98 6H-6V138H-98zM6 6H98V138H6z" fill="%s"/></g>`, x, y, s, pane)
}

var workshops = []Scene{
	{Name: "night-shift", Title: "The machine under its lamp", Of: Workshop, draw: func(f *frame) {
		f.bench("{night}", "{glow}", "{dusk}")
		f.lamp(f.x+20*f.s, f.y-110*f.s, f.s)
		f.machine(f.x, f.floor-14, 1.25*f.s)
		f.bolt(f.x-260*f.s, f.floor-14, .8*f.s, "{urgent}")
	}},
	{Name: "bench-by-day", Title: "The bench by the window", Of: Workshop, Light: true, draw: func(f *frame) {
		f.bench("{paper}", "{glow}", "{sand}")
		f.window(f.x+60*f.s, f.y-60*f.s, 1.05*f.s, "{mist}")
		f.machine(f.x-40*f.s, f.floor-14, f.s)
		f.spool(f.x+200*f.s, f.floor-14, f.s, "{good}")
		f.spool(f.x+262*f.s, f.floor-14, f.s, "{urgent}")
	}},
	{Name: "shelf-of-thread", Title: "Thread on its shelves", Of: Workshop, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		for row := range 3 {
			y := f.floor - 20 - float64(row)*170*f.s
			f.add(`<path d="M%.0f %.0fH%gv%.0fH%.0fz" fill="{glow}"/>`, f.x-250*f.s, y, f.w, 10*f.s, f.x-250*f.s)
			for i := range 8 {
				f.spool(f.x+(-210+float64(i)*76)*f.s, y, (.9+.14*float64((i*7+row*3)%4))*f.s, []string{"{urgent}", "{good}", "{action}", "{link}", "{ink}"}[(i+row*2)%5])
			}
		}
	}},
	{Name: "bolts-of-ripstop", Title: "Ripstop in bolts", Of: Workshop, Light: true, draw: func(f *frame) {
		f.bench("{card}", "{glow}", "{sand}")
		for i, c := range []string{"{link}", "{action}", "{good}", "{urgent}"} {
			f.bolt(f.x+float64(i%2*60-20)*f.s, f.floor-14-float64(i)*50*f.s, 1.25*f.s, c)
		}
	}},
	{Name: "hung-to-dry", Title: "Kites under the roof", Of: Workshop, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.add(`<path d="M0 %.0fL%g %.0f" stroke="{quiet}" stroke-width="3"/>`, f.y-210*f.s, f.w, f.y-180*f.s)
		f.kite("diamond", f.x-170*f.s, f.y-70*f.s, 1.05*f.s, 4, false, brick)
		f.kite("delta", f.x+40*f.s, f.y-90*f.s, .95*f.s, -3, false, pine)
		f.kite("long", f.x+220*f.s, f.y-80*f.s, .95*f.s, 3, false, slate)
		f.add(`<path d="M0 %.0fH%gV%gH0z" fill="{sand}"/>`, f.floor, f.w, f.h)
	}},
	{Name: "cutting-table", Title: "Cut from the cloth", Of: Workshop, Light: true, draw: func(f *frame) {
		f.plain("{sand}")
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)rotate(-8)"><path d="M-240-190H260V200H-240z" fill="{urgent}"/><path d="M-240-190H260V200H-240z" fill="none" stroke="{paper}" stroke-width="2" stroke-dasharray="2 10" opacity=".6"/><path d="M10-150-110 10 10 170 130 10z" fill="{paper}" opacity=".92"/><path d="M10-150V170M-110 10H130" stroke="{ink}" stroke-width="2" stroke-dasharray="8 6"/></g>`, f.x, f.y+20*f.s, f.s)
		f.scissors(f.x-210*f.s, f.y+150*f.s, 1.1*f.s, 52)
	}},
	{Name: "lantern-bench", Title: "Lanterns, before they fly", Of: Workshop, draw: func(f *frame) {
		f.bench("{night}", "{late}", "{dusk}")
		for i := range 5 {
			x, y := f.x+(-220+float64(i)*112)*f.s, f.floor-14-float64(i%2)*4
			f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="{lamp}" opacity=".14"/>`, x, y-46*f.s, 92*f.s)
			f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-26 0h52l8-70h-68z" fill="{lamp}"/><path d="M-34-70h68l-12-16h-44zM-28 0h56v8h-56z" fill="{ink}"/><circle cy="-34" r="13" fill="{paper}"/><path d="M0-86v-16a10 10 0 1 1 0 .1" fill="none" stroke="{mist}" stroke-width="3"/></g>`, x, y, f.s)
		}
	}},
	{Name: "tools-on-the-wall", Title: "Tools on the wall", Of: Workshop, Light: true, draw: func(f *frame) {
		f.bench("{paper}", "{glow}", "{sand}")
		f.add(`<path d="M%.0f %.0fH%g" stroke="{quiet}" stroke-width="6"/>`, f.x-260*f.s, f.y-150*f.s, f.w)
		f.scissors(f.x-170*f.s, f.y-30*f.s, .9*f.s, 180)
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-14-90h28v250h-28z" fill="{action}"/><path d="M-14-70h10M-14-50h16M-14-30h10M-14-10h16M-14 10h10M-14 30h16M-14 50h10M-14 70h16M-14 90h10M-14 110h16" stroke="{ink}" stroke-width="2"/></g>`, f.x-20*f.s, f.y-40*f.s, f.s)
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-12-80h24v70h-24z" fill="{glow}"/><path d="M-40-118h80q14 0 14 18t-14 18h-80z" fill="{ink}"/><path d="M-12-10h24v130q-12 16-24 0z" fill="{glow}"/></g>`, f.x+110*f.s, f.y-20*f.s, f.s)
		f.spool(f.x+230*f.s, f.floor-14, 1.1*f.s, "{good}")
	}},
}
