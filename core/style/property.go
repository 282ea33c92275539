package style

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// Look is how a page, a band or a piece departs from the house: values by the
// names of properties. A name that begins with [Wide] holds from 768 px on.
type Look map[string]string

// Wide marks a value that only wider screens take.
const Wide = "wide."

// Scope says what a property can be put on.
type Scope int

// The scopes.
const (
	OnBand Scope = 1 << iota
	OnPiece
	OnPage
)

// ValueKind says what values a property takes.
type ValueKind string

// The kinds of value.
const (
	IsColour  ValueKind = "colour"  // a token of the palette or #rrggbb
	IsNumber  ValueKind = "number"  // a whole number in Unit
	IsChoice  ValueKind = "choice"  // one of Choices
	IsPicture ValueKind = "picture" // ID of a picture
	IsScene   ValueKind = "scene"   // name of a scene that ships
	IsType    ValueKind = "type"    // heads, body, or the ID of a family
)

// Need is what a piece must be for a property to change anything of it.
type Need string

// The needs.
const (
	Prices   Need = "prices"   // prices stand in it
	Pressed  Need = "pressed"  // it is a button
	Pictured Need = "pictured" // it is pictures
	Marked   Need = "marked"   // marks or icons stand before its words
)

// Property is one thing that a look can set.
type Property struct {
	Name    string
	Label   string
	Group   string
	On      Scope
	Kind    ValueKind
	Unit    string
	Least   int
	Most    int
	Step    int // by which keys nudge
	Default int // what the house comes to, where the nudging starts
	Choices []Choice
	Of      Part // which part of a piece it is set on; "": all of it
	Needs   Need // what a piece must be; "": any
	Common  bool // it is among those that are asked for most, which stand first
	css     func(value string) string
	around  func(value string) string // what it says of the piece around its part; nil: nothing
}

// Part is a part of a piece that takes looks of its own: the selector of it.
type Part string

// The parts.
const (
	Now     Part = ".now"           // what is asked now, wherever a piece shows prices
	Struck  Part = "s"              // what is struck through beside it
	Image   Part = "img"            // its pictures
	Mark    Part = ":is(svg,.mark)" // signs before its words
	Press   Part = ".act"           // its buttons
	Pointed Part = ".act:hover"     // its buttons under the pointer
)

// Parts lists all parts.
var Parts = []Part{Now, Struck, Image, Mark, Press, Pointed}

func as(property string) func(string) string {
	return func(v string) string { return property + ":" + v }
}

func px(property string) func(string) string {
	return func(v string) string { return property + ":" + v + "px" }
}

func percent(property string) func(string) string {
	return func(v string) string {
		n, _ := strconv.Atoi(v)
		return fmt.Sprintf("%s:%.2f", property, float64(n)/100)
	}
}

func chosen(list []Choice) func(string) string {
	return func(v string) string { return choice(list, v).CSS }
}

// Properties are all that looks can set, in the order of the slip. A new one is
// one line here.
var Properties = []Property{
	{Name: "align", Label: "aligned", Group: "Words", On: OnBand | OnPiece | OnPage, Common: true, Kind: IsChoice, Choices: aligns, css: chosen(aligns)},
	{Name: "size", Label: "size", Group: "Words", On: OnPiece | OnPage, Common: true, Kind: IsNumber, Unit: "%", Least: 60, Most: 400, Step: 5, Default: 100, css: percent("--size")},
	{Name: "weight", Label: "weight", Group: "Words", On: OnPiece, Kind: IsNumber, Least: 300, Most: 900, Step: 50, Default: 400, css: as("--weight")},
	{Name: "line", Label: "line height", Group: "Words", On: OnPiece | OnPage, Common: true, Kind: IsNumber, Unit: "%", Least: 90, Most: 260, Step: 5, Default: 150, css: percent("--line")},
	{Name: "colour", Label: "in", Group: "Words", On: OnBand | OnPiece | OnPage, Common: true, Kind: IsColour, css: func(v string) string { return "--words:" + v + ";color:" + v }},
	{Name: "family", Label: "set in", Group: "Words", On: OnPiece, Kind: IsType, css: func(v string) string { return "--heads:" + v + ";--body:" + v + ";font-family:" + v }},
	{Name: "effect", Label: "set", Group: "Words", On: OnPiece, Kind: IsChoice, Choices: effects, css: chosen(effects)},

	{Name: "breadth", Label: "as wide as", Group: "Picture", On: OnPiece, Of: Image, Needs: Pictured, Common: true, Kind: IsNumber, Unit: "%", Least: 10, Most: 100, Step: 5, Default: 100,
		css: func(string) string { return "width:100%;max-width:none" }, around: func(v string) string { return "width:" + v + "%;margin-inline:var(--before,auto) var(--after,auto)" }},
	{Name: "cut", Label: "cut", Group: "Picture", On: OnPiece, Of: Image, Needs: Pictured, Common: true, Kind: IsChoice, Choices: cuts, css: chosen(cuts), around: sheetless},
	{Name: "tint", Label: "in", Group: "Picture", On: OnPiece, Of: Image, Needs: Pictured, Kind: IsChoice, Choices: tints, css: chosen(tints), around: chosen(tintsAround)},

	{Name: "mark_size", Label: "signs at", Group: "Signs", On: OnPiece, Of: Mark, Needs: Marked, Kind: IsNumber, Unit: "%", Least: 50, Most: 400, Step: 5, Default: 100, css: func(v string) string {
		return percent("--mark")(v) + ";width:calc(1.5em*var(--mark));height:calc(1.5em*var(--mark))"
	}},
	{Name: "mark_colour", Label: "in", Group: "Signs", On: OnPiece, Of: Mark, Needs: Marked, Kind: IsColour, css: as("color")},

	{Name: "hover", Label: "under the pointer", Group: "Button", On: OnPiece, Of: Pointed, Needs: Pressed, Kind: IsChoice, Choices: Hovers, css: chosen(hovers)},
	{Name: "room_in", Label: "room in it", Group: "Button", On: OnPiece, Of: Press, Needs: Pressed, Kind: IsNumber, Unit: "%", Least: 40, Most: 260, Step: 10, Default: 100, css: func(v string) string {
		return percent("--press")(v) + ";padding:calc(.85rem*var(--press)) calc(1.75rem*var(--press))"
	}},

	{Name: "now_size", Label: "asked now, at", Group: "Prices", On: OnPiece, Of: Now, Needs: Prices, Kind: IsNumber, Unit: "%", Least: 60, Most: 300, Step: 5, Default: 100, css: percent("--part")},
	{Name: "now_weight", Label: "weight", Group: "Prices", On: OnPiece, Of: Now, Needs: Prices, Kind: IsNumber, Least: 300, Most: 900, Step: 50, Default: 700, css: as("font-weight")},
	{Name: "now_colour", Label: "in", Group: "Prices", On: OnPiece, Of: Now, Needs: Prices, Kind: IsColour, css: as("color")},
	{Name: "struck_size", Label: "struck, at", Group: "Prices", On: OnPiece, Of: Struck, Needs: Prices, Kind: IsNumber, Unit: "%", Least: 60, Most: 300, Step: 5, Default: 100, css: percent("--part")},
	{Name: "struck_weight", Label: "weight", Group: "Prices", On: OnPiece, Of: Struck, Needs: Prices, Kind: IsNumber, Least: 300, Most: 900, Step: 50, Default: 400, css: as("font-weight")},
	{Name: "struck_colour", Label: "in", Group: "Prices", On: OnPiece, Of: Struck, Needs: Prices, Kind: IsColour, css: as("color")},

	{Name: "ground", Label: "ground", Group: "Ground", On: OnBand | OnPiece | OnPage, Common: true, Kind: IsColour, css: as("background")},
	{Name: "scene", Label: "scene", Group: "Ground", On: OnBand, Common: true, Kind: IsScene},
	{Name: "picture", Label: "picture", Group: "Ground", On: OnBand, Common: true, Kind: IsPicture},
	{Name: "fit", Label: "which", Group: "Ground", On: OnBand, Kind: IsChoice, Choices: fits},
	{Name: "focus_x", Label: "looked at, across", Group: "Ground", On: OnBand, Kind: IsNumber, Unit: "%", Most: 100, Step: 5, Default: 50},
	{Name: "focus_y", Label: "and down", Group: "Ground", On: OnBand, Kind: IsNumber, Unit: "%", Most: 100, Step: 5, Default: 50},
	{Name: "veil", Label: "under a veil of", Group: "Ground", On: OnBand, Kind: IsNumber, Unit: "%", Most: 95, Step: 5},
	{Name: "veil_of", Label: "which is", Group: "Ground", On: OnBand, Kind: IsChoice, Choices: veils},
	{Name: "rim", Label: "upper edge", Group: "Ground", On: OnBand, Common: true, Kind: IsChoice, Choices: rims, css: rim},

	{Name: "above", Label: "room above", Group: "Room", On: OnBand | OnPiece, Common: true, Kind: IsNumber, Unit: "px", Most: 240, Step: 4},
	{Name: "below", Label: "below", Group: "Room", On: OnBand | OnPiece, Kind: IsNumber, Unit: "px", Most: 240, Step: 4},
	{Name: "inside", Label: "inside", Group: "Room", On: OnPiece, Kind: IsNumber, Unit: "px", Most: 96, Step: 4, css: px("padding")},
	{Name: "width", Label: "width", Group: "Room", On: OnBand, Kind: IsChoice, Choices: widths, css: chosen(widths)},

	{Name: "aside", Label: "to the right by", Group: "Nudged", On: OnPiece, Kind: IsNumber, Unit: "px", Least: -400, Most: 400, Step: 4, css: func(v string) string { return "position:relative;left:" + v + "px" }},
	{Name: "rise", Label: "up, over what is above, by", Group: "Nudged", On: OnPiece, Kind: IsNumber, Unit: "px", Most: 400, Step: 4, css: func(v string) string { return "position:relative;z-index:1;margin-top:-" + v + "px" }},
	{Name: "sink", Label: "down, over what is below, by", Group: "Nudged", On: OnPiece, Kind: IsNumber, Unit: "px", Most: 400, Step: 4, css: func(v string) string { return "position:relative;z-index:1;margin-bottom:-" + v + "px" }},

	{Name: "edge", Label: "edge of", Group: "Edge", On: OnBand | OnPiece, Kind: IsNumber, Unit: "px", Most: 12, Step: 1, css: func(v string) string { return "border-style:solid;border-width:" + v + "px" }},
	{Name: "edge_in", Label: "in", Group: "Edge", On: OnBand | OnPiece, Kind: IsColour, css: as("border-color")},
	{Name: "corner", Label: "corners", Group: "Edge", On: OnPiece, Kind: IsChoice, Choices: corners, css: chosen(corners)},
	{Name: "shadow", Label: "shadow", Group: "Edge", On: OnPiece, Kind: IsChoice, Choices: shadows, css: chosen(shadows)},

	{Name: "seen", Label: "seen", Group: "Where", On: OnBand | OnPiece, Kind: IsChoice, Choices: seen},
	{Name: "order", Label: "place on a phone", Group: "Where", On: OnPiece, Kind: IsNumber, Least: -9, Most: 9, Step: 1},
}

// everywhere are the properties that say themselves where they hold.
var everywhere = []string{"seen", "order"}

// PropertyOf returns a property by name.
func PropertyOf(name string) (Property, bool) {
	i := slices.IndexFunc(Properties, func(p Property) bool { return p.Name == name })
	if i < 0 {
		return Property{}, false
	}
	return Properties[i], true
}

var (
	picture = regexp.MustCompile(`^[A-Za-z0-9_-]{1,40}$`)
	family  = regexp.MustCompile(`^[A-Za-z0-9-]{1,40}$`)
	scene   = regexp.MustCompile(`^[a-z-]{1,40}$`)
)

// Check refuses a value that a property does not take. It is what keeps a look
// from being anything but a look: nothing else reaches a style sheet.
func (p Property) Check(value string) error {
	switch p.Kind {
	case IsColour:
		if slices.ContainsFunc(Tokens, func(t Token) bool { return t.Name == value }) || strings.EqualFold(value, "quiet") || brand.MatchString(value) {
			return nil
		}
		if !strings.HasPrefix(value, "#") {
			return fmt.Errorf("%q is neither a colour of the house nor one like #c8951a", value)
		}
		_, err := ParseColour(value)
		return err
	case IsNumber:
		n, err := strconv.Atoi(value)
		if err != nil || n < p.Least || n > p.Most || strconv.Itoa(n) != value {
			return fmt.Errorf("%q is not a whole number from %d to %d", value, p.Least, p.Most)
		}
	case IsChoice:
		if !slices.ContainsFunc(p.Choices, func(c Choice) bool { return c.Value == value }) {
			return fmt.Errorf("%q is not one of its choices", value)
		}
	case IsScene:
		if !scene.MatchString(value) {
			return fmt.Errorf("%q is not the name of a scene", value)
		}
	case IsType:
		if !family.MatchString(value) {
			return fmt.Errorf("%q is not the ID of a type family", value)
		}
	case IsPicture:
		if !picture.MatchString(value) {
			return fmt.Errorf("%q is not the ID of a picture", value)
		}
	}
	return nil
}

// Validate refuses a look with a property that is unknown, or does not belong
// on that, or has a value it does not take; the error begins with its name.
func (l Look) Validate(on Scope) error {
	for name, value := range l {
		p, ok := PropertyOf(strings.TrimPrefix(name, Wide))
		if !ok || p.On&on == 0 || (strings.HasPrefix(name, Wide) && slices.Contains(everywhere, p.Name)) {
			return fmt.Errorf("look.%s: there is no such thing to set here", name)
		}
		if err := p.Check(value); err != nil {
			return fmt.Errorf("look.%s: %w", name, err)
		}
	}
	return nil
}

// Everywhere tells whether the property says itself where it holds, so that it
// is not set for wider screens apart.
func (p Property) Everywhere() bool { return slices.Contains(everywhere, p.Name) }
