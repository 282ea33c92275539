package scene

// hand is one that holds something between thumb and fingers, seen from the side; it comes
// from the right.
func (f *frame) hand(x, y, s, turn float64, sleeve string) {
	f.add(`<g transform="translate(%.0f %.0f)rotate(%.0f)scale(%.2f)"><path d="M150-46 520-80V110L150 58z" fill="%s"/><path d="M150-46q22 50 0 104l-18 2V-44z" fill="{paper}" opacity=".5"/><path d="M140-40C80-58 30-52-10-34c-20 9-14 28 6 26 24-4 40-6 52 0-40-2-74 6-96 22-14 11-4 26 12 20 22-9 46-14 70-14-30 4-50 14-64 26-11 10 0 24 14 18 26-12 50-16 72-16 30 2 58 6 84 4z" fill="{glow}"/><path d="M48-8q22 4 34 22M50 20q18 2 30 16" fill="none" stroke="{ink}" stroke-width="2" stroke-linecap="round" opacity=".4"/></g>`, x, y, turn, s, sleeve)
}

// reel is what line is wound on.
func (f *frame) reel(x, y, s, turn float64, thread string) {
	f.add(`<g transform="translate(%.0f %.0f)rotate(%.0f)scale(%.2f)"><path d="M-92-34h184v14h-184zM-92 20h184v14h-184z" fill="{glow}"/><path d="M-64-60h24v120h-24zM40-60h24v120h-24z" fill="{action}"/><path d="M-40-44h80v88h-80z" fill="%s"/><path d="M-40-30h80M-40-16h80M-40-2h80M-40 12h80M-40 26h80" stroke="{ink}" stroke-width="1.5" opacity=".35"/></g>`, x, y, turn, s, thread)
}

var hands = []Scene{
	{Name: "hand-on-the-line", Title: "A hand on the line", Of: Hands, draw: func(f *frame) {
		f.night()
		f.stars(201, 36)
		f.kite("diamond", f.x-200*f.s, f.y-160*f.s, .5*f.s, -12, true, embers)
		f.line(f.x-196*f.s, f.y-120*f.s, f.x-6*f.s, f.y+130*f.s, "{lamp}")
		f.hand(f.x, f.y+130*f.s, f.s, 12, "{urgent}")
	}},
	{Name: "hand-and-reel", Title: "Line, let out", Of: Hands, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{paper}", "{sand}")
		f.reel(f.x-60*f.s, f.y+90*f.s, 1.1*f.s, -18, "{urgent}")
		f.line(f.x-80*f.s, f.y+50*f.s, f.x-260*f.s, f.y-260*f.s, "{quiet}")
		f.hand(f.x+10*f.s, f.y+100*f.s, 1.05*f.s, 6, "{good}")
	}},
	{Name: "threading", Title: "The needle is threaded", Of: Hands, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.add(`<path d="M%.0f %.0fl%.0f %.0f" stroke="{ink}" stroke-width="%.1f" stroke-linecap="round"/>`, f.x-40*f.s, f.y-110*f.s, -60*f.s, 210*f.s, 5*f.s)
		f.add(`<path d="M%.0f %.0fc%.0f %.0f %.0f %.0f %.0f %.0f" fill="none" stroke="{urgent}" stroke-width="3"/>`, f.x-40*f.s, f.y-100*f.s, -130*f.s, -120*f.s, -220*f.s, 20*f.s, -300*f.s, -60*f.s)
		f.hand(f.x-30*f.s, f.y+20*f.s, 1.1*f.s, -10, "{link}")
	}},
	{Name: "handed-over", Title: "Handed over", Of: Hands, Light: true, draw: func(f *frame) {
		f.sky("{card}", "{sand}")
		f.kite("diamond", f.x-70*f.s, f.y-10*f.s, 1.2*f.s, 20, false, brick)
		f.hand(f.x+10*f.s, f.y+80*f.s, f.s, 4, "{good}")
	}},
	{Name: "sewn-again", Title: "Sewn again", Of: Hands, Light: true, draw: func(f *frame) {
		f.plain("{sand}")
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-330-120 60-220 120 210-300 240z" fill="{good}"/><path d="M-90-180q-40 180 20 400" fill="none" stroke="{paper}" stroke-width="5" stroke-dasharray="16 12" stroke-linecap="round"/><path d="M-190-30h110v120h-110z" fill="{action}"/><path d="M-190-30h110v120h-110z" fill="none" stroke="{paper}" stroke-width="4" stroke-dasharray="9 8"/></g>`, f.x+20*f.s, f.y+20*f.s, f.s)
		f.hand(f.x-30*f.s, f.y+80*f.s, f.s, -6, "{urgent}")
	}},
	{Name: "knot", Title: "One knot", Of: Hands, Light: true, draw: func(f *frame) {
		f.plain("{paper}")
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)" fill="none" stroke-linecap="round" stroke-width="22"><path d="M-330 60C-180 60-120-120 0-120S140 60 20 90-150 0-40-40 180-60 330-30" stroke="{urgent}"/><path d="M-330 60C-180 60-120-120 0-120" stroke="{ink}" stroke-width="2" stroke-dasharray="10 12" opacity=".4"/><path d="M-8-48q60-20 120-26" stroke="{urgent}"/></g>`, f.x-20*f.s, f.y+20*f.s, f.s)
	}},
	{Name: "lantern-in-hand", Title: "The lantern, in one hand", Of: Hands, draw: func(f *frame) {
		f.night()
		f.add(`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="{lamp}" opacity=".12"/><circle cx="%.0f" cy="%.0f" r="%.0f" fill="{lamp}" opacity=".14"/>`, f.x-70*f.s, f.y+20*f.s, 250*f.s, f.x-70*f.s, f.y+20*f.s, 150*f.s)
		f.add(`<g transform="translate(%.0f %.0f)scale(%.2f)"><path d="M-26 0h52l8-70h-68z" fill="{lamp}"/><path d="M-34-70h68l-12-16h-44zM-28 0h56v8h-56z" fill="{ink}"/><circle cy="-34" r="13" fill="{paper}"/></g>`, f.x-70*f.s, f.y+60*f.s, 1.8*f.s)
		f.hand(f.x-30*f.s, f.y+90*f.s, f.s, 0, "{late}")
	}},
}
