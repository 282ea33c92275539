// Package figure draws what choices of look do: a little picture for each, so that one
// chooses by sight what one would otherwise have to read.
package figure

import (
	"fmt"
	"html/template"
	"strings"

	"chrysagon/core/style"
)

// The field of a figure, in the units of its drawing.
const wide, high = 44, 30

// Of is the figure of a value of a property of looks, or of a setting of the house; nothing,
// where there is none.
func Of(name, value string) template.HTML {
	draw, ok := figures[name]
	if !ok {
		return ""
	}
	inner := draw(value)
	if inner == "" {
		return ""
	}
	return template.HTML(fmt.Sprintf(`<svg class="figure" viewBox="0 0 %d %d" width="%d" height="%d" aria-hidden="true">%s</svg>`, wide, high, wide, high, inner)) //nolint:gosec // drawn here, from numbers
}

// figures draw the values of each property; one more is one entry. Where a figure shows
// words, they are Aa.
var figures = map[string]func(value string) string{
	"align": func(v string) string {
		from := map[string]func(w float64) float64{"start": func(float64) float64 { return 6 }, "center": func(w float64) float64 { return (wide - w) / 2 }, "end": func(w float64) float64 { return wide - 6 - w }}[v]
		var out string
		for i, w := range []float64{30, 20, 26} {
			out += bar(from(w), 7+float64(i)*7, w, 3)
		}
		return out
	},
	"effect": func(v string) string {
		return map[string]string{
			"none": words("Aa", 15, ""), "lift": words("Aa", 15, ` opacity=".3" transform="translate(1.4 1.8)"`) + words("Aa", 15, ""),
			"glow": `<rect width="44" height="30" fill="currentColor" opacity=".55"/>` + words("Aa", 15, ` fill="#fff" stroke="#fff" stroke-width="3" opacity=".45"`) + words("Aa", 15, ` fill="#fff"`),
			"caps": words("A A", 13, ""), "italic": words("Aa", 15, ` font-style="italic"`),
		}[v]
	},
	"fit": func(v string) string {
		if v == "contain" {
			return field() + `<g transform="translate(12 6) scale(.46 .6)">` + hills + `</g>`
		}
		return hills + field()
	},
	"veil_of": func(v string) string {
		return hills + fmt.Sprintf(`<rect width="44" height="30" fill="%s" opacity=".6"/>`, map[string]string{"dark": "#0b1412", "light": "#fff"}[v]) + field()
	},
	"width": func(v string) string {
		w := map[string]float64{"narrow": 16, "contained": 28, "full": 44}[v]
		return field() + box((wide-w)/2, 7, w, 16, 0, ".35")
	},
	"corner": func(v string) string {
		return box(6, 6, 32, 18, map[string]float64{"none": 0, "small": 3, "round": 7, "pill": 9}[v], ".35")
	},
	"shadow": func(v string) string {
		under := map[string]string{"soft": box(9, 8, 30, 18, 1, ".16"), "firm": box(11, 11, 30, 18, 1, ".38")}[v]
		return under + `<rect x="7" y="5" width="30" height="18" rx="1" fill="#fff" stroke="currentColor"/>`
	},
	"seen": func(v string) string {
		phone, screen := box(33, 7, 8, 16, 1.5, "1"), box(4, 5, 25, 17, 1, "1")
		faint := func(s string) string { return strings.ReplaceAll(s, `opacity="1"`, `opacity=".16"`) }
		return map[string]string{"all": screen + phone, "phone": faint(screen) + phone, "wide": screen + faint(phone)}[v]
	},
	"cut": func(v string) string {
		shape := map[string]string{
			"none": `<rect x="8" y="3" width="28" height="24"/>`, "round": `<circle cx="22" cy="15" r="12"/>`, "arch": `<path d="M10 27V14a12 11 0 0 1 24 0v13z"/>`,
			"leaf": `<path d="M8 3h18a10 10 0 0 1 10 10v14H18A10 10 0 0 1 8 17z"/>`, "slant": `<path d="M12 3h26l-6 24H6z"/>`, "torn": `<path d="M8 3h28v21l-4 2-4-3-4 3-5-2-4 3-4-3-3 2z"/>`,
		}[v]
		return `<g fill="#3f7d6b">` + shape + `</g>`
	},
	"tint":  tint,
	"hover": func(v string) string { return pressed(v, box(5, 6, 30, 13, 2, ".75")) },
	"rim": func(v string) string {
		depth := style.RimDepth(v)
		if depth == nil {
			depth = func(float64) float64 { return 0 }
		}
		d := "M0 30"
		for i := range wide + 1 {
			d += fmt.Sprintf("L%d %.1f", i, 9+9*depth(float64(i)/wide))
		}
		return box(0, 0, wide, high, 0, ".12") + `<path d="` + d + `V30z" fill="currentColor" opacity=".75"/>`
	},
	"scale": func(v string) string {
		by := map[string]float64{"quiet": 1.2, "even": 1.3, "loud": 1.42}[v]
		return words("A", 9*by*by*by, ` text-anchor="end" x="25"`) + words("A", 9, ` text-anchor="start" x="28"`)
	},
	"weight": func(v string) string {
		return words("Aa", 16, ` font-weight="`+map[string]string{"light": "400", "even": "650", "heavy": "900"}[v]+`"`)
	},
	"air": func(v string) string {
		gap := map[string]float64{"dense": 1, "even": 4, "wide": 8}[v]
		return bar(8, 15-5-gap, 28, 4) + bar(8, 13, 28, 4) + bar(8, 15+3+gap, 28, 4)
	},
	"frame": func(v string) string {
		in := `<g transform="translate(11 6) scale(.5 .6)">` + hills + `</g>`
		return map[string]string{
			"sheet": `<rect x="12" y="7" width="27" height="21" fill="none" stroke="currentColor" opacity=".5"/>` + box(8, 3, 28, 22, 1, ".12") + in, "plain": in,
			"line":  `<path d="M7 2h30v26H7zM9 4h26v22H9z" fill="none" stroke="currentColor" stroke-width=".8"/>` + in,
			"round": `<rect x="8" y="3" width="28" height="24" rx="8" fill="#3f7d6b"/>`,
			"arch":  `<path d="M10 28V14a12 11 0 0 1 24 0v14z" fill="#3f7d6b"/>`, "duotone": tint("duotone"),
		}[v]
	},
	"button": func(v string) string {
		switch v {
		case "outline":
			return `<rect x="5" y="8" width="34" height="14" rx="2" fill="none" stroke="currentColor" stroke-width="1.5"/>` + bar(14, 13.5, 16, 3)
		case "pill":
			return box(5, 8, 34, 14, 7, ".8") + `<rect x="14" y="13.5" width="16" height="3" fill="#fff"/>`
		}
		return box(5, 8, 34, 14, 2, ".8") + `<rect x="14" y="13.5" width="16" height="3" fill="#fff"/>`
	},
	"mark": func(v string) string {
		h := map[string]float64{"small": 5, "even": 8, "large": 13, "grand": 20}[v]
		return field() + `<circle cx="` + fmt.Sprint(4+h/2) + `" cy="` + fmt.Sprint(4+h/2) + `" r="` + fmt.Sprint(h/2) + `" fill="currentColor"/>` + bar(30, 6, 10, 2)
	},
}

// hills are a little picture of land under a sky, which fills the field.
const hills = `<rect width="44" height="30" fill="#bcd7de"/><circle cx="33" cy="8" r="4" fill="#f2c14e"/><path d="M0 22 12 12l9 8 8-6 15 11v5H0z" fill="#3f7d6b"/><path d="M0 26q12-5 22 0t22-1v5H0z" fill="#25564d"/>`

func tint(v string) string {
	sky, sun, far, near := "#bcd7de", "#f2c14e", "#3f7d6b", "#25564d"
	switch v {
	case "grey":
		sky, sun, far, near = "#d0d0d0", "#e6e6e6", "#777", "#444"
	case "duotone":
		sky, sun, far, near = "#f1d9a8", "#fbeccb", "#a8792a", "#5d430f"
	case "night":
		sky, sun, far, near = "#9db4c8", "#dfe9f2", "#3c5c7c", "#15324d"
	case "warm":
		sky, sun, far, near = "#dcd3b8", "#eec35e", "#7d7a4c", "#57512f"
	}
	return strings.NewReplacer("#bcd7de", sky, "#f2c14e", sun, "#3f7d6b", far, "#25564d", near).Replace(hills)
}

func pressed(v, button string) string {
	pointer := `<path d="M27 14v12l3-2.6 2 4.2 2-1-2-4 3.6-.6z" fill="#fff" stroke="currentColor" stroke-width=".9"/>`
	switch v {
	case "lighten":
		button = strings.ReplaceAll(button, `opacity=".75"`, `opacity=".35"`)
	case "darken":
		button = strings.ReplaceAll(button, `opacity=".75"`, `opacity="1"`)
	case "lift":
		button = box(6, 11, 30, 12, 2, ".2") + `<g transform="translate(0 -3)">` + button + `</g>`
	}
	return button + pointer
}

func field() string {
	return fmt.Sprintf(`<rect x=".5" y=".5" width="%d" height="%d" fill="none" stroke="currentColor" opacity=".4"/>`, wide-1, high-1)
}

func bar(x, y, w, h float64) string {
	return fmt.Sprintf(`<rect x="%g" y="%g" width="%g" height="%g" fill="currentColor"/>`, x, y, w, h)
}

func box(x, y, w, h, r float64, opacity string) string {
	return fmt.Sprintf(`<rect x="%g" y="%g" width="%g" height="%g" rx="%g" fill="currentColor" opacity="%s"/>`, x, y, w, h, r, opacity)
}

func words(text string, size float64, more string) string {
	at, anchor := ` x="22"`, ` text-anchor="middle"`
	if strings.Contains(more, "text-anchor") {
		at, anchor = "", ""
	}
	fill := ` fill="currentColor"`
	if strings.Contains(more, "fill=") {
		fill = ""
	}
	return fmt.Sprintf(`<text y="%g" font-size="%.1f" font-family="Georgia,serif"%s%s%s%s>%s</text>`, 15+size*0.36, size, at, anchor, fill, more, text)
}
