package style

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// House is the look of all of a store's pages. What is not set is as the
// program ships it.
type House struct {
	Palette map[string]string `json:"palette,omitempty"` // colours by token, as #rrggbb
	Heads   string            `json:"heads,omitempty"`   // family of the headings
	Body    string            `json:"body,omitempty"`    // family of everything else
	Scale   string            `json:"scale,omitempty"`
	Corner  string            `json:"corner,omitempty"`
	Shadow  string            `json:"shadow,omitempty"`
	Button  string            `json:"button,omitempty"` // how buttons are drawn
	Hover   string            `json:"hover,omitempty"`  // what they do under the pointer
	Weight  string            `json:"weight,omitempty"` // of the headings
	Air     string            `json:"air,omitempty"`    // how much room stands around things
	Frame   string            `json:"frame,omitempty"`  // how framed pictures are set
	Logo    string            `json:"logo,omitempty"`   // ID of the picture that stands for the store's name; empty: the name itself
	Mark    string            `json:"mark,omitempty"`   // how large the logo is
	Brand   []Brand           `json:"brand,omitempty"`  // colours beside those of the palette
	Types   []Type            `json:"types,omitempty"`  // font files of the store's own
}

// Token is a named colour of the palette.
type Token struct{ Name, Label, Default string }

// Tokens are the colours that are chosen; all others are computed from them.
var Tokens = []Token{
	{"ink", "Ink", "#17332e"},
	{"card", "Card", "#ffffff"},
	{"paper", "Paper", "#faf7f0"},
	{"action", "Action", "#c8951a"},
	{"urgent", "Urgency", "#a93a22"},
	{"good", "Good news", "#23705f"},
	{"night", "Night", "#15324d"},
}

// Choice is one value of a setting of the house.
type Choice struct{ Value, Label, CSS string }

// The settings of the house beside colours and type.
var (
	Scales = []Choice{
		{"quiet", "quiet, each size 1.2 of the one before", "1.2"},
		{"even", "even, 1.3", "1.3"},
		{"loud", "loud, 1.42", "1.42"},
	}
	Corners = []Choice{{"none", "square", "0"}, {"small", "slightly rounded", "4px"}, {"round", "round", "14px"}}
	Shadows = []Choice{{"none", "none", "none"}, {"soft", "soft", "0 1px 3px #00000024"}, {"firm", "firm", "0 6px 18px #0000002e"}}
	Buttons = []Choice{{"solid", "filled", ""}, {"outline", "drawn in outline", ""}, {"pill", "filled, with round ends", ""}}
	Weights = []Choice{{"light", "light", "450"}, {"even", "even", "650"}, {"heavy", "heavy", "800"}}
	Airs    = []Choice{{"dense", "close together", ".72"}, {"even", "with room", "1"}, {"wide", "with much room", "1.3"}}
	Marks   = []Choice{{"small", "small", "1.75rem"}, {"even", "as high as a line of the menu", "2.25rem"}, {"large", "large", "3.5rem"}, {"grand", "very large", "5.5rem"}}
	Frames  = []Choice{
		{"sheet", "on a sheet whose edge shows", ""},
		{"plain", "on plain ground", ".framed{padding:4%}" + noSheet},
		{"line", "between two lines", ".framed{background:none;border:1px solid var(--rule);outline:1px solid var(--rule);outline-offset:5px}" + noSheet},
		{"round", "in rounded corners", ".framed{border-radius:calc(var(--u)*4)}" + noSheet},
		{"arch", "under an arch", ".framed{border-radius:50vw 50vw 0 0;padding:12% 12% 4%}.r-figure:has(>.framed)::after{border-radius:50vw 50vw 0 0}"},
		{"duotone", "in two tones of the house", ".framed{filter:grayscale(1) contrast(1.05);mix-blend-mode:multiply;background:none}.r-figure:has(>.framed){background:color-mix(in oklab,var(--action) 34%,var(--card))}" + noSheet},
	}
	Hovers = []Choice{{"lighten", "grow lighter", ""}, {"darken", "grow darker", ""}, {"lift", "rise a little", ""}}
)

// noSheet takes away the sheet on which a framed picture lies.
const noSheet = ".r-figure:has(>.framed)::after{content:none}"

// choice is the one of that value, or the first.
func choice(list []Choice, value string) Choice {
	for _, c := range list {
		if c.Value == value {
			return c
		}
	}
	return list[0]
}

// Validate refuses a house that is not made of known parts, with the place.
func (h House) Validate() error {
	for name, value := range h.Palette {
		if !slices.ContainsFunc(Tokens, func(t Token) bool { return t.Name == name }) {
			return fmt.Errorf("palette.%s: there is no such colour in a house", name)
		}
		if _, err := ParseColour(value); err != nil {
			return fmt.Errorf("palette.%s: %w", name, err)
		}
	}
	if h.Logo != "" && !picture.MatchString(h.Logo) {
		return fmt.Errorf("logo: %q is not the ID of a picture", h.Logo)
	}
	for _, f := range []struct{ place, id string }{{"heads", h.Heads}, {"body", h.Body}} {
		if _, known := h.known(f.id); f.id != "" && !known {
			return fmt.Errorf("%s: %q is not one of the type families", f.place, f.id)
		}
	}
	if err := cmp.Or(h.brandFault(), h.typeFault()); err != nil {
		return err
	}
	for _, s := range Settings {
		if v := s.Chosen(h); v != "" && s.index(v) < 0 {
			return fmt.Errorf("%s: %q is not one of its choices", s.Name, v)
		}
	}
	return nil
}

// Colour is the colour of a token, chosen or as shipped.
func (h House) Colour(token string) Colour {
	for _, t := range Tokens {
		if t.Name == token {
			if c, err := ParseColour(h.Palette[token]); err == nil {
				return c
			}
			c, _ := ParseColour(t.Default)
			return c
		}
	}
	return Colour{}
}

// Shade is a computed colour of the house and how it came to be.
type Shade struct {
	Name, Label, How string
	Colour           Colour
}

// Shades computes what the palette does not say. The recipes are in How.
func (h House) Shades() []Shade {
	ink, card, paper, action, night := h.Colour("ink"), h.Colour("card"), h.Colour("paper"), h.Colour("action"), h.Colour("night")
	quiet, _ := Readable(Mix(ink, card, 0.28), ForText, card, paper)
	link, _ := Readable(Mix(night, action, 0.08), ForText, card, paper)
	late := Mix(night, Colour{255, 255, 255}, 0.22)
	mist, _ := Readable(Mix(On(night), night, 0.2), ForText, night, late)
	lamp, _ := Readable(Mix(action, Colour{255, 255, 255}, 0.45), ForText, night, late)
	hover := h.hover(action, On(action))
	return []Shade{
		{"quiet", "Quiet ink", "ink, 28 % of the way to card, darkened until it reads on card and paper", quiet},
		{"rule", "Rules", "ink, 84 % of the way to paper", Mix(ink, paper, 0.84)},
		{"sand", "Shaded paper", "paper, 8 % of the way to action", Mix(paper, action, 0.08)},
		{"on-action", "Words on a button", "near-black or white, whichever stands out more on action; black where neither reads", On(action)},
		{"hover", "Button under the pointer", "action, 14 % of the way to white, or 12 % to black; the other way where words on it would not read", hover},
		{"dusk", "Night, lower", "night, 12 % of the way to white", Mix(night, Colour{255, 255, 255}, 0.12)},
		{"late", "Night, lower still", "night, 22 % of the way to white", late},
		{"glow", "Night’s edge", "action, 35 % of the way to paper", Mix(action, paper, 0.35)},
		{"on-night", "Words on night", "near-black or white, whichever stands out more on night; black where neither reads", On(night)},
		{"mist", "Quiet words on night", "words on night, a fifth of the way to night, until they read on it", mist},
		{"lamp", "Lights on night", "action, 45 % of the way to white, until it reads on night", lamp},
		{"link", "Links", "night, 8 % of the way to action, darkened until it reads on card and paper", link},
	}
}

// hover is a button's ground under the pointer: 14 % of the way to white, or 12 %
// to black as the house has it; the other way where words on it would not read.
func (h House) hover(ground, words Colour) Colour {
	hover, other := Mix(ground, Colour{255, 255, 255}, 0.14), Mix(ground, Colour{}, 0.12)
	if h.Hover == "darken" {
		hover, other = other, hover
	}
	if hover == ground || (other != ground && Contrast(words, hover) < ForText && Contrast(words, other) > Contrast(words, hover)) {
		return other
	}
	return hover
}

// Shade returns a computed colour by name.
func (h House) Shade(name string) Colour {
	for _, s := range h.Shades() {
		if s.Name == name {
			return s.Colour
		}
	}
	return Colour{}
}

// Reading is how well two colours of the house stand out from each other.
type Reading struct {
	What   string
	Ratio  float64
	Least  float64
	Mended string // colour of the first token with which it would hold; empty: it holds
	Token  string // the token that would change
}

// Holds tells whether the contrast suffices.
func (r Reading) Holds() bool { return r.Ratio >= r.Least }

// Contrasts checks every pair of colours that pages put on each other.
func (h House) Contrasts() []Reading {
	pairs := []struct {
		token, what string
		on          []string
		least       float64
	}{
		{"ink", "Ink on card and paper", []string{"card", "paper"}, ForText},
		{"urgent", "Urgency on card and paper", []string{"card", "paper"}, ForText},
		{"good", "Good news on card and paper", []string{"card", "paper"}, ForText},
	}
	var out []Reading
	for _, p := range pairs {
		var grounds []Colour
		for _, g := range p.on {
			grounds = append(grounds, h.Colour(g))
		}
		c := h.Colour(p.token)
		r := Reading{What: p.what, Ratio: Worst(c, grounds...), Least: p.least, Token: p.token}
		if !r.Holds() {
			if better, ok := Readable(c, p.least, grounds...); ok {
				r.Mended = better.String()
			}
		}
		out = append(out, r)
	}
	for _, ground := range []string{"action", "night"} {
		g := h.Colour(ground)
		r := Reading{What: map[string]string{"action": "Words on a button", "night": "Words on night"}[ground], Ratio: Worst(h.Shade("on-"+ground), g, map[string]Colour{"action": h.Shade("hover"), "night": h.Shade("late")}[ground]), Least: ForText, Token: ground}
		if !r.Holds() {
			if better, ok := Readable(g, ForText, h.Shade("on-"+ground)); ok {
				r.Mended = better.String()
			}
		}
		out = append(out, r)
	}
	edge := Reading{What: "A button’s edge on card", Ratio: Contrast(h.edge(), h.Colour("card")), Least: ForLarge, Token: "action"}
	return append(out, edge)
}

// edge is the colour that draws a button's outline: action, or darker where it
// would not stand out (WCAG 2.2, 1.4.11).
func (h House) edge() Colour {
	c, _ := Readable(h.Colour("action"), ForLarge, h.Colour("card"), h.Colour("paper"))
	return c
}

// HeadFamily and BodyFamily are the families of headings and of copy.
func (h House) HeadFamily() Family { return h.set(h.Heads, "fraunces") }

// BodyFamily is the family of everything but headings.
func (h House) BodyFamily() Family { return h.set(h.Body, "figtree") }

func (h House) set(id, otherwise string) Family {
	if f, ok := h.known(id); ok {
		return f
	}
	return FamilyOf(otherwise)
}

// LatinExtended are the signs that the second file of a family draws, as its package
// divides them; a browser fetches it only for words that need it, such as Łódka.
const LatinExtended = "U+0100-02BA,U+02BD-02C5,U+02C7-02CC,U+02CE-02D7,U+02DD-02FF,U+0304,U+0308,U+0329,U+1D00-1DBF,U+1E00-1E9F,U+1EF2-1EFF,U+2020,U+20A0-20AB,U+20AD-20C0,U+2113,U+2C60-2C7F,U+A720-A7FF"

// Fonts are the families in use, each once.
func (h House) Fonts() []Family {
	return slices.Compact([]Family{h.HeadFamily(), h.BodyFamily()})
}

// CSS writes the house as a style sheet that comes after the ground's own and
// before those of the pieces. path gives a font file's address.
func (h House) CSS(path func(string) string) string {
	var b strings.Builder
	for _, f := range h.Fonts() {
		b.WriteString(f.face(path))
	}
	fmt.Fprintf(&b, ":root{--heads:%s;--body:%s", h.HeadFamily().css(), h.BodyFamily().css())
	for _, t := range Tokens {
		fmt.Fprintf(&b, ";--%s:%s", t.Name, h.Colour(t.Name))
	}
	for _, s := range h.Shades() {
		fmt.Fprintf(&b, ";--%s:%s", s.Name, s.Colour)
	}
	fmt.Fprintf(&b, ";--edge:%s;--corner:%s;--shadow:%s", h.edge(), corner.Of(h).CSS, shadow.Of(h).CSS)
	small, large := h.sizes()
	for i := range small {
		fmt.Fprintf(&b, ";--h%d:clamp(%.2frem,%.1fvw,%.2frem)", 3-i, small[i], 100*large[i]/57, large[i])
	}
	b.WriteString("}")
	b.WriteString(h.buttons())
	return b.String()
}

// buttons are the rules by which the house draws its buttons.
func (h House) buttons() string {
	var b strings.Builder
	switch h.Button {
	case "outline":
		b.WriteString(".act{background:var(--own-ground,transparent);color:var(--own-words,inherit);border-color:var(--edge)}")
	case "pill":
		b.WriteString(".act{border-radius:99px}")
	}
	if h.Hover == "lift" {
		b.WriteString(".act:hover{transform:translateY(-2px);box-shadow:0 4px 10px #0000003d}")
	}
	if h.Button == "outline" {
		b.WriteString(".act:hover{background:var(--hover);color:var(--on-action)}")
	}
	return b.String()
}

// sizes are those of the third, second and first heading on a phone and on a
// wide screen, in rem: copy times the scale, once, twice and three times over,
// a little less on a phone.
func (h House) sizes() (small, large [3]float64) {
	ratio, _ := strconv.ParseFloat(scale.Of(h).CSS, 64) // our own list
	wide := 1.0
	for i := range large {
		wide *= ratio
		large[i] = wide * (1 + 0.25*float64(i))
		small[i] = large[i] * (1 - 0.18*float64(i))
	}
	return small, large
}

// Equal tells whether two houses look the same.
func (h House) Equal(other House) bool {
	same := func(string) string { return "" }
	return h.Logo == other.Logo && slices.Equal(h.Brand, other.Brand) && slices.Equal(h.Types, other.Types) && h.CSS(same) == other.CSS(same) && h.Composed() == other.Composed() && h.Finish() == other.Finish()
}

// inks are the colours, beside that of the words, in which pages write.
var inks = []string{"urgent", "good", "quiet", "link", "mist", "lamp"}

// ink is a colour in which pages write, chosen or computed.
func (h House) ink(name string) Colour {
	if c := h.Colour(name); c != (Colour{}) {
		return c
	}
	return h.Shade(name)
}

// UnderScene are the colours on which words of a scene stand: those of its sky or its
// paper by day, those of its night.
func (h House) UnderScene(day bool) []Colour {
	if day {
		return []Colour{h.Colour("card"), h.Colour("paper"), h.Shade("sand")}
	}
	return []Colour{h.Colour("night"), h.Shade("late")}
}

// InksOn declares the inks that would not be read on a ground of a band's own,
// each in the nearest shade that is: CSS declarations. An ink for which there is
// none becomes the colour of the words.
func (h House) InksOn(words Colour, grounds ...Colour) string {
	var out []string
	for _, name := range inks {
		c := h.ink(name)
		if Worst(c, grounds...) >= ForText {
			continue
		}
		shade, ok := Readable(c, ForText, grounds...)
		if !ok {
			shade = words
		}
		out = append(out, "--"+name+":"+shade.String())
	}
	return joined(out...)
}
