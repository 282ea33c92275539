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
	css     func(value string) string
}

// Part is a part of a piece that takes looks of its own.
type Part string

// The parts: prices, wherever a piece shows some.
const (
	Now    Part = ".now" // what is asked now
	Struck Part = "s"    // what is struck through beside it
)

// Parts lists all parts.
var Parts = []Part{Now, Struck}

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

// How words are aligned, words that are no text of their own follow: a list's marks,
// a button, a picture (pieces' styles read --side, --before and --after).
var (
	aligns  = []Choice{{"start", "left", "text-align:start;--side:start;--before:0;--after:auto"}, {"center", "centred", "text-align:center;--side:center;--before:auto;--after:auto"}, {"end", "right", "text-align:end;--side:end;--before:auto;--after:0"}}
	widths  = []Choice{{"contained", "contained", "--width:68rem"}, {"narrow", "narrow", "--width:42rem"}, {"full", "the whole width", "--width:100%"}}
	corners = []Choice{{"none", "square", "border-radius:0"}, {"small", "slightly rounded", "border-radius:4px"}, {"round", "round", "border-radius:14px"}, {"pill", "round ends", "border-radius:99px"}}
	shadows = []Choice{{"none", "none", "box-shadow:none"}, {"soft", "soft", "box-shadow:0 1px 3px #00000024"}, {"firm", "firm", "box-shadow:0 6px 18px #0000002e"}}
	effects = []Choice{{"none", "plain", "text-shadow:none"}, {"lift", "a dark shade behind", "text-shadow:0 1px 3px #000000b3"}, {"glow", "a light shade behind", "text-shadow:0 0 6px #ffffffd9"}, {"caps", "capitals, spaced", "text-transform:uppercase;letter-spacing:.06em"}, {"italic", "italic", "font-style:italic"}}
	seen    = []Choice{{"all", "everywhere", ""}, {"phone", "on phones only", ""}, {"wide", "on wider screens only", ""}}
	fits    = []Choice{{"cover", "fills the band", "background-size:cover"}, {"contain", "is seen whole", "background-size:contain"}}
	veils   = []Choice{{"dark", "dark", ""}, {"light", "light", ""}}
)

// Properties are all that looks can set, in the order of the slip. A new one is
// one line here.
var Properties = []Property{
	{Name: "align", Label: "aligned", Group: "Words", On: OnBand | OnPiece | OnPage, Kind: IsChoice, Choices: aligns, css: chosen(aligns)},
	{Name: "size", Label: "size", Group: "Words", On: OnPiece | OnPage, Kind: IsNumber, Unit: "%", Least: 60, Most: 400, Step: 5, Default: 100, css: percent("--size")},
	{Name: "weight", Label: "weight", Group: "Words", On: OnPiece, Kind: IsNumber, Least: 300, Most: 900, Step: 50, Default: 400, css: as("--weight")},
	{Name: "line", Label: "line height", Group: "Words", On: OnPiece | OnPage, Kind: IsNumber, Unit: "%", Least: 90, Most: 260, Step: 5, Default: 150, css: percent("--line")},
	{Name: "colour", Label: "in", Group: "Words", On: OnBand | OnPiece | OnPage, Kind: IsColour, css: func(v string) string { return "--words:" + v + ";color:" + v }},
	{Name: "effect", Label: "set", Group: "Words", On: OnPiece, Kind: IsChoice, Choices: effects, css: chosen(effects)},

	{Name: "now_size", Label: "asked now, at", Group: "Prices", On: OnPiece, Of: Now, Kind: IsNumber, Unit: "%", Least: 60, Most: 300, Step: 5, Default: 100, css: percent("--part")},
	{Name: "now_weight", Label: "weight", Group: "Prices", On: OnPiece, Of: Now, Kind: IsNumber, Least: 300, Most: 900, Step: 50, Default: 700, css: as("font-weight")},
	{Name: "now_colour", Label: "in", Group: "Prices", On: OnPiece, Of: Now, Kind: IsColour, css: as("color")},
	{Name: "struck_size", Label: "struck, at", Group: "Prices", On: OnPiece, Of: Struck, Kind: IsNumber, Unit: "%", Least: 60, Most: 300, Step: 5, Default: 100, css: percent("--part")},
	{Name: "struck_weight", Label: "weight", Group: "Prices", On: OnPiece, Of: Struck, Kind: IsNumber, Least: 300, Most: 900, Step: 50, Default: 400, css: as("font-weight")},
	{Name: "struck_colour", Label: "in", Group: "Prices", On: OnPiece, Of: Struck, Kind: IsColour, css: as("color")},

	{Name: "ground", Label: "ground", Group: "Ground", On: OnBand | OnPiece | OnPage, Kind: IsColour, css: as("background")},
	{Name: "picture", Label: "picture", Group: "Ground", On: OnBand, Kind: IsPicture},
	{Name: "scene", Label: "scene", Group: "Ground", On: OnBand, Kind: IsScene},
	{Name: "fit", Label: "which", Group: "Ground", On: OnBand, Kind: IsChoice, Choices: fits},
	{Name: "focus_x", Label: "looked at, across", Group: "Ground", On: OnBand, Kind: IsNumber, Unit: "%", Most: 100, Step: 5, Default: 50},
	{Name: "focus_y", Label: "and down", Group: "Ground", On: OnBand, Kind: IsNumber, Unit: "%", Most: 100, Step: 5, Default: 50},
	{Name: "veil", Label: "under a veil of", Group: "Ground", On: OnBand, Kind: IsNumber, Unit: "%", Most: 95, Step: 5},
	{Name: "veil_of", Label: "which is", Group: "Ground", On: OnBand, Kind: IsChoice, Choices: veils},

	{Name: "above", Label: "room above", Group: "Room", On: OnBand | OnPiece, Kind: IsNumber, Unit: "px", Most: 240, Step: 4},
	{Name: "below", Label: "below", Group: "Room", On: OnBand | OnPiece, Kind: IsNumber, Unit: "px", Most: 240, Step: 4},
	{Name: "inside", Label: "inside", Group: "Room", On: OnPiece, Kind: IsNumber, Unit: "px", Most: 96, Step: 4, css: px("padding")},
	{Name: "width", Label: "width", Group: "Room", On: OnBand, Kind: IsChoice, Choices: widths, css: chosen(widths)},

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
	scene   = regexp.MustCompile(`^[a-z-]{1,40}$`)
)

// Check refuses a value that a property does not take. It is what keeps a look
// from being anything but a look: nothing else reaches a style sheet.
func (p Property) Check(value string) error {
	switch p.Kind {
	case IsColour:
		if slices.ContainsFunc(Tokens, func(t Token) bool { return t.Name == value }) || strings.EqualFold(value, "quiet") {
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
