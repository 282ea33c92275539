// Package figure draws what choices of look do: a little picture for each, so that one
// chooses by sight what one would otherwise have to read.
package figure

import (
	"fmt"
	"html/template"
	"strconv"
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
// letters, they are Aa.
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
			"none": letters("Aa", 1, 1.6, ""), "lift": letters("Aa", 1, 1.6, ` opacity=".3" transform="translate(1.6 2)"`) + letters("Aa", 1, 1.6, ""),
			"glow": `<rect width="44" height="30" fill="currentColor" opacity=".55"/>` + letters("Aa", 1, 4.5, ` stroke="#fff" opacity=".45"`) + letters("Aa", 1, 1.6, ` stroke="#fff"`),
			"caps": letters("A A", 1, 1.6, ""), "italic": letters("Aa", 1, 1.6, ` transform="translate(5 0) skewX(-16)"`),
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
		return letters("A", 0.62*by*by, 1.6, ` transform="translate(-7 0)"`) + letters("a", 0.62, 1.2, ` transform="translate(11 1)"`)
	},
	"weight": func(v string) string {
		return letters("Aa", 1, map[string]float64{"light": 1, "even": 2.2, "heavy": 4}[v], "")
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
	"band.tone": func(v string) string {
		ground := map[string]string{"card": "#fff", "paper": "#f3ecdc", "night": "#15324d"}[v]
		ink := map[bool]string{true: "#fff", false: "#17332e"}[v == "night"]
		return `<rect x=".5" y=".5" width="43" height="29" fill="` + ground + `" stroke="currentColor" stroke-opacity=".3"/><path d="M8 10h22M8 16h28M8 21h18" stroke="` + ink + `" stroke-width="2"/>`
	},
	"band.columns": func(v string) string {
		widths := strings.Fields(strings.Trim(v, "[]"))
		var out string
		sum, x := 0, 3.0
		for _, w := range widths {
			n, _ := strconv.Atoi(w)
			sum += n
		}
		room := wide - 6 - 2*float64(len(widths)-1)
		for _, w := range widths {
			n, _ := strconv.Atoi(w)
			out += box(x, 5, room*float64(n)/float64(max(sum, 1)), 20, 1, ".35")
			x += room*float64(n)/float64(max(sum, 1)) + 2
		}
		return out
	},
	"picture.shape": func(v string) string {
		if v == "framed" {
			return `<rect x="13" y="6" width="24" height="22" fill="none" stroke="currentColor" opacity=".5"/>` + box(9, 3, 24, 22, 1, ".15") + `<g transform="translate(12 6) scale(.41 .53)">` + hills + `</g>`
		}
		return `<g transform="translate(8 3) scale(.64 .8)">` + hills + `</g>`
	},
	"gallery.shape": func(v string) string { return tiles(map[string][2]float64{"square": {11, 11}, "wide": {11, 7}}[v]) },
	"video.shape": func(v string) string {
		size := map[string][2]float64{"wide": {32, 18}, "old": {26, 19.5}, "square": {20, 20}, "tall": {13, 23}}[v]
		x, y := (wide-size[0])/2, (high-size[1])/2
		return box(x, y, size[0], size[1], 1, ".35") + `<path d="M19 10.5v9l7-4.5z" fill="currentColor"/>`
	},
	"heading.level": func(v string) string {
		return map[string]string{"1": bar(6, 6, 32, 7) + bar(6, 16, 22, 7), "2": bar(6, 9, 24, 4) + faint(17, 30) + faint(21, 26)}[v]
	},
	"text.look": func(v string) string {
		return map[string]string{
			"copy": faint(7, 32) + faint(12, 32) + faint(17, 32) + faint(22, 20), "lead": bar(6, 8, 32, 3.5) + bar(6, 15, 26, 3.5),
			"teaser": `<rect x="6" y="6" width="12" height="1.6" fill="#c8951a"/>` + letters("Aa", .8, 1.4, ` transform="translate(2 5) skewX(-12)"`),
		}[v]
	},
	"divider.look": func(v string) string {
		return map[string]string{"rule": bar(4, 14.5, 36, 1), "mark": `<g fill="currentColor"><circle cx="15" cy="15" r="1.6"/><circle cx="22" cy="15" r="1.6"/><circle cx="29" cy="15" r="1.6"/></g>`, "space": `<path d="M22 5v20M19 8l3-3 3 3M19 22l3 3 3-3" fill="none" stroke="currentColor"/>`}[v]
	},
	"divider.size": func(v string) string {
		gap := map[string]float64{"small": 2, "middle": 6, "large": 11}[v]
		return faint(15-gap-2, 32) + faint(15+gap, 32) + bar(6, 14.7, 32, .6)
	},
	"icon.size": func(v string) string {
		r := map[string]float64{"small": 3, "middle": 6, "large": 11}[v]
		return fmt.Sprintf(`<circle cx="22" cy="15" r="%g" fill="none" stroke="currentColor" stroke-width="1.6"/>`, r)
	},
	"shelf.as": func(v string) string {
		if v == "slides" {
			return box(3, 8, 14, 14, 1, ".35") + box(20, 8, 14, 14, 1, ".35") + box(37, 8, 10, 14, 1, ".35")
		}
		return tiles([2]float64{11, 10})
	},
	"rotate.seen": func(v string) string {
		if v == "beside" {
			return box(4, 7, 17, 16, 1, ".35") + box(23, 7, 17, 16, 1, ".35")
		}
		return box(12, 5, 20, 16, 1, ".35") + `<g fill="currentColor"><circle cx="19" cy="25" r="1.5"/><circle cx="25" cy="25" r="1.5" opacity=".4"/></g>`
	},
	"bullets.colour": func(v string) string {
		return `<circle cx="22" cy="15" r="8" fill="` + map[string]string{"good": "#23705f", "gold": "#c8951a", "urgent": "#a93a22", "ink": "#17332e"}[v] + `"/>`
	},
	"button.icon_at": func(v string) string {
		x := map[string]float64{"before": 11, "after": 33}[v]
		return box(4, 8, 36, 14, 2, ".8") + fmt.Sprintf(`<circle cx="%g" cy="15" r="2.6" fill="#fff"/><rect x="%g" y="13.5" width="16" height="3" fill="#fff"/>`, x, map[string]float64{"before": 18, "after": 10}[v])
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

// tiles are six pictures of a size, in two rows; of their own shape where none is given.
func tiles(size [2]float64) string {
	var out string
	for i := range 6 {
		w, h := size[0], size[1]
		if w == 0 {
			w, h = []float64{11, 8, 11, 9, 11, 7}[i], []float64{8, 11, 7, 11, 9, 11}[i]
		}
		out += box(4+float64(i%3)*13, 3+float64(i/3)*13, w, h, .5, ".4")
	}
	return out
}

// faint is a line of copy.
func faint(y, w float64) string { return box(6, y, w, 2, 0, ".5") }

func field() string {
	return fmt.Sprintf(`<rect x=".5" y=".5" width="%d" height="%d" fill="none" stroke="currentColor" opacity=".4"/>`, wide-1, high-1)
}

func bar(x, y, w, h float64) string {
	return fmt.Sprintf(`<rect x="%g" y="%g" width="%g" height="%g" fill="currentColor"/>`, x, y, w, h)
}

func box(x, y, w, h, r float64, opacity string) string {
	return fmt.Sprintf(`<rect x="%g" y="%g" width="%g" height="%g" rx="%g" fill="currentColor" opacity="%s"/>`, x, y, w, h, r, opacity)
}

// letters are drawn, and not written: words in a figure would be read out with its name. by
// is their size, bold how thick they are.
func letters(which string, by, bold float64, more string) string {
	const big, small = "M0 12 5 0l5 12M1.8 8.2h6.4", "M19 5v7M19 8.6a3.2 3.6 0 1 0-6.4 0 3.2 3.6 0 1 0 6.4 0"
	path, width := map[string]string{"Aa": big + small, "A": big, "a": small, "A A": big + "M13 12l5-12 5 12M14.8 8.2h6.4"}[which], map[string]float64{"Aa": 19, "A": 10, "a": 32, "A A": 23}[which]
	stroke := ` stroke="currentColor"`
	if strings.Contains(more, "stroke=") {
		stroke = ""
	}
	return fmt.Sprintf(`<g fill="none"%s stroke-linecap="round" stroke-linejoin="round"%s><path transform="translate(%.1f %.1f) scale(%.2f)" stroke-width="%.1f" d="%s"/></g>`,
		stroke, more, (wide-width*by)/2, (high-12*by)/2, by, bold/by, path)
}
