package scene

// Ornaments stand between other things, on any light ground.
var ornaments = []Scene{
	{Name: "kite-rule", Title: "A kite between rules", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<path d="M8 48H92M148 48H232" stroke="{rule}" stroke-width="2"/><path d="M120 18 102 46 120 80z" fill="{action}"/><path d="M120 18 138 46 120 80z" fill="{glow}"/>`)
	}},
	{Name: "wave-rule", Title: "A wave", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<path d="M12 48q18-22 36 0t36 0 36 0 36 0 36 0 36 0" fill="none" stroke="{link}" stroke-width="4" stroke-linecap="round"/>`)
	}},
	{Name: "star-rule", Title: "Three stars", Of: Ornament, Light: true, draw: func(f *frame) {
		for _, x := range []float64{70, 120, 170} {
			f.add(`<path transform="translate(%.0f 48)" d="M0-18 5-5 18 0 5 5 0 18-5 5-18 0-5-5z" fill="{action}"/>`, x)
		}
	}},
	{Name: "spool-mark", Title: "A spool", Of: Ornament, Light: true, draw: func(f *frame) { f.spool(120, 84, 1, "{urgent}") }},
	{Name: "scissors-mark", Title: "Scissors", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<path d="M10 48H230" stroke="{quiet}" stroke-width="2" stroke-dasharray="8 8"/>`)
		f.scissors(60, 48, .42, 90)
	}},
	{Name: "lantern-mark", Title: "A lantern", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<g transform="translate(120 84)"><circle cy="-38" r="44" fill="{glow}" opacity=".35"/><path d="M-22 0h44l6-56h-56z" fill="{action}"/><path d="M-28-56h56l-10-14h-36zM-24 0h48v6h-48z" fill="{ink}"/><circle cy="-28" r="10" fill="{paper}"/></g>`)
	}},
	{Name: "gulls-mark", Title: "Gulls", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<g fill="none" stroke="{ink}" stroke-width="3.5" stroke-linecap="round"><path d="M86 46q12-16 24 0q12-16 24 0"/><path d="M140 30q8-11 16 0q8-11 16 0"/><path d="M60 70q7-9 14 0q7-9 14 0"/></g>`)
	}},
	{Name: "knot-rule", Title: "A knot in the line", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<path d="M8 52C80 52 96 16 122 16S156 62 118 66 84 40 112 36 160 48 232 48" fill="none" stroke="{urgent}" stroke-width="5" stroke-linecap="round"/>`)
	}},
	{Name: "bunting", Title: "Pennants", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<path d="M6 22Q120 52 234 22" fill="none" stroke="{ink}" stroke-width="2"/>`)
		for i, c := range []string{"{urgent}", "{action}", "{good}", "{link}", "{urgent}", "{action}", "{good}"} {
			x := 24 + float64(i)*32
			y := 26 + 11*(1-(x-120)*(x-120)/13000)
			f.add(`<path d="M%.0f %.0fh22l-11 34z" fill="%s"/>`, x-11, y, c)
		}
	}},
	{Name: "sun-mark", Title: "The sun", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<circle cx="120" cy="48" r="17" fill="{action}"/><path d="M120 8v14M120 74v14M80 48h14M146 48h14M92 20l10 10M138 66l10 10M148 20 138 30M102 66 92 76" stroke="{action}" stroke-width="4" stroke-linecap="round"/>`)
	}},
	{Name: "needle-rule", Title: "Needle and thread", Of: Ornament, Light: true, draw: func(f *frame) {
		f.add(`<path d="M10 60q50-50 90 0t90-8" fill="none" stroke="{urgent}" stroke-width="3" stroke-linecap="round"/><path d="M186 54 232 36" stroke="{ink}" stroke-width="4" stroke-linecap="round"/>`)
	}},
	{Name: "snow-mark", Title: "A flake", Of: Ornament, Light: true, draw: func(f *frame) {
		for i := range 3 {
			f.add(`<path transform="rotate(%d 120 48)" d="M120 12V84M120 26l-8-8M120 26l8-8M120 70l-8 8M120 70l8 8" stroke="{link}" stroke-width="3.5" stroke-linecap="round" fill="none"/>`, i*60)
		}
	}},
}
