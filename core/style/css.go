package style

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Under is what a look is put on, as its rules need to know it.
type Under struct {
	Selector string
	On       Scope
	House    House // which says what its colours come to
	Button   bool  // colours and corners go to the button, not to what it stands in
	// Address gives a picture's address at about that width in CSS pixels; "" when it is gone.
	Address func(id string, width int) string
	// Focus gives the place of a picture that stays in view unless the look says
	// otherwise, in percent; nil: the middle.
	Focus func(id string) (x, y int)
	// Scene gives the address of a scene, drawn for a phone or for a wide screen, and the
	// colour at its upper edge; "" when there is none of that name, or it does not suit
	// what stands on it.
	Scene func(name string, phone bool) (path, top string)
}

// CSS writes a look as rules of a style sheet: first for every screen, then for
// wider ones. Every value has passed [Look.Validate].
func (l Look) CSS(u Under) string {
	var b strings.Builder
	all, ground := l.declarations(u, ""), l.ground(u, "", phoneGround)
	if all = joined(all, ground); all != "" {
		b.WriteString(u.Selector + "{" + all + "}")
	}
	wide := l.declarations(u, Wide)
	if other := l.ground(u, Wide, wideGround); other != ground {
		wide = joined(wide, other)
	}
	switch l["seen"] {
	case "phone":
		wide = joined(wide, "display:none")
	case "wide":
		fmt.Fprintf(&b, "@media(max-width:767px){%s{display:none}}", u.Selector)
	}
	if order := l["order"]; order != "" && order != "0" {
		fmt.Fprintf(&b, "@media(max-width:767px){%s{order:%s}}", u.Selector, order)
	}
	if wide != "" {
		fmt.Fprintf(&b, "@media(min-width:768px){%s{%s}}", u.Selector, wide)
	}
	for _, part := range Parts {
		if on := l.of(u, "", part); on != "" {
			fmt.Fprintf(&b, "%s %s{%s}", u.Selector, part, on)
		}
		if on := l.of(u, Wide, part); on != "" {
			fmt.Fprintf(&b, "@media(min-width:768px){%s %s{%s}}", u.Selector, part, on)
		}
	}
	return b.String()
}

// The widths of a picture behind a band, in CSS pixels: what a phone of two or
// three device pixels shows well, and a wide screen.
const (
	phoneGround = 900
	wideGround  = 1800
)

func joined(declarations ...string) string {
	return strings.Join(slices.DeleteFunc(declarations, func(d string) bool { return d == "" }), ";")
}

func (l Look) declarations(u Under, prefix string) string {
	out := []string{l.of(u, prefix, "")}
	if u.Button {
		out = append(out, l.pressed(u.House, prefix))
	}
	return joined(out...)
}

// of are the declarations that are set on a part of it; "": on all of it.
func (l Look) of(u Under, prefix string, part Part) string {
	var out []string
	for _, p := range Properties {
		value, set := l[prefix+p.Name]
		if !set || p.On&u.On == 0 {
			continue
		}
		if p.around != nil && part == "" {
			out = append(out, p.around(value))
		}
		if p.Of != part {
			continue
		}
		switch p.Kind { //nolint:exhaustive // the rest are what they say
		case IsColour:
			value = u.House.Look(value).String() // what is judged is what is drawn
		case IsType:
			value = u.House.Family(value).css()
		}
		out = append(out, declaration(p, value, u))
	}
	return joined(out...)
}

// OnButton is what a button with a look comes to on a screen: its words, its
// ground, and its ground under a pointer. It is both drawn and judged.
func (l Look) OnButton(h House, prefix string) (words, ground, hover Colour) {
	words, ground, hover = h.Shade("on-action"), h.Colour("action"), h.Shade("hover")
	own, set := l.At(prefix, "ground"), l.At(prefix, "colour")
	if own != "" {
		ground = h.Look(own)
		words = On(ground)
	}
	if set != "" {
		words = h.Look(set)
	}
	if own != "" || set != "" {
		hover = h.hover(ground, words)
	}
	return words, ground, hover
}

// pressed declares what a button's ground and words bring along: words that are
// read on a ground of its own, and a ground under the pointer that is another.
func (l Look) pressed(h House, prefix string) string {
	words, ground, hover := l.OnButton(h, prefix)
	var out []string
	if l[prefix+"ground"] != "" || l[prefix+"colour"] != "" {
		out = append(out, "--on-action:"+words.String()+";--own-words:"+words.String()+";--hover:"+hover.String())
		if l.At(prefix, "ground") != "" {
			out = append(out, "--own-ground:"+ground.String())
		}
	}
	if l[prefix+"hover"] != "" {
		lighter, darker := h, h
		lighter.Hover, darker.Hover = "", "darken"
		out = append(out, "--paler:"+lighter.hover(ground, words).String()+";--deeper:"+darker.hover(ground, words).String())
	}
	return joined(out...)
}

func declaration(p Property, value string, u Under) string {
	if u.Button {
		switch p.Name {
		case "ground":
			return "--action:" + value + ";--edge:" + value
		case "colour":
			return "" // see [Look.pressed]
		case "corner":
			return strings.Replace(choice(corners, value).CSS, "border-radius", "--corner", 1)
		}
	}
	if p.Name == "colour" && u.On == OnPiece {
		return p.css(value) + ";--own:" + value
	}
	room := map[Scope]string{OnBand: "padding-", OnPiece: "margin-"}[u.On]
	switch p.Name {
	case "above":
		return room + "top:" + value + "px"
	case "below":
		return room + "bottom:" + value + "px"
	}
	if p.css == nil {
		return ""
	}
	return p.css(value)
}

// at is the value of a property under a prefix; what only wider screens lack is
// that of every screen.
func (l Look) at(prefix, name, otherwise string) string {
	for _, key := range []string{prefix + name, name} {
		if v, ok := l[key]; ok {
			return v
		}
	}
	return otherwise
}

// ground lays a band's picture under its veil, at about that width.
func (l Look) ground(u Under, prefix string, width int) string {
	id := l.at(prefix, "picture", "")
	if id == "" {
		return l.scene(u, prefix, width == phoneGround)
	}
	if u.Address == nil {
		return ""
	}
	path := u.Address(id, width)
	if path == "" {
		return ""
	}
	veil, share := l.veil(prefix)
	x, y := 50, 50
	if u.Focus != nil {
		x, y = u.Focus(id)
	}
	shade := fmt.Sprintf("rgb(%d %d %d/%d%%)", veil.R, veil.G, veil.B, share)
	return fmt.Sprintf("background-image:linear-gradient(%s,%s),url(%q);%s;background-position:%s%% %s%%;background-repeat:no-repeat",
		shade, shade, path, choice(fits, l.at(prefix, "fit", "cover")).CSS, l.at(prefix, "focus_x", strconv.Itoa(x)), l.at(prefix, "focus_y", strconv.Itoa(y)))
}

// scene lays a scene under a band: it fills it, and keeps its lower right corner in sight.
func (l Look) scene(u Under, prefix string, phone bool) string {
	name := l.at(prefix, "scene", "")
	if name == "" || u.Scene == nil {
		return ""
	}
	path, top := u.Scene(name, phone)
	if path == "" {
		return ""
	}
	return fmt.Sprintf("background:%s url(%q) 100%% 100%%/var(--scene,cover) no-repeat", top, path)
}

// veilColours are near-black and white, as words on pictures are.
var veilColours = map[string]Colour{"dark": {0x0b, 0x14, 0x12}, "light": {255, 255, 255}}

func (l Look) veil(prefix string) (veil Colour, share int) {
	share, _ = strconv.Atoi(l.at(prefix, "veil", "0"))
	return veilColours[l.at(prefix, "veil_of", "dark")], share
}

// Look is what a colour value of a look comes to in a house.
func (h House) Look(value string) Colour {
	if c, err := ParseColour(value); err == nil && strings.HasPrefix(value, "#") {
		return c
	}
	if value == "quiet" {
		return h.Shade("quiet")
	}
	if brand.MatchString(value) {
		return h.branded(value)
	}
	return h.Colour(value)
}
