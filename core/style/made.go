package style

// Made is a house that ships complete, to begin from.
type Made struct {
	Name, Title, What string
	House             House
}

func palette(ink, card, paper, action, urgent, good, night string) map[string]string {
	return map[string]string{"ink": ink, "card": card, "paper": paper, "action": action, "urgent": urgent, "good": good, "night": night}
}

// Houses are those that ship: type, colours, corners, pictures and buttons that go
// together. Each is read everywhere: TestEveryHouseThatShipsIsRead. A new one is one entry.
var Houses = []Made{
	{"fair", "Print shop at a fair", "pine ink, gold and paper, letters cut in wood", House{}},
	{"harbour", "Harbour office", "navy on white, a coral that calls, even letters", House{
		Palette: palette("#12263f", "#ffffff", "#eff3f6", "#e8634a", "#b3302a", "#1d6b5c", "#12304f"),
		Heads:   "manrope", Body: "manrope", Corner: "small", Weight: "heavy", Frame: "round", Air: "even",
	}},
	{"orchard", "Orchard stall", "leaf and apple on cream, sturdy letters", House{
		Palette: palette("#24351f", "#fffdf6", "#f3efdf", "#c4452f", "#a83222", "#3a6b2c", "#2b4527"),
		Heads:   "bitter", Body: "karla", Corner: "round", Button: "pill", Frame: "arch",
	}},
	{"letterpress", "Letterpress", "black on white, one vermilion, nothing round", House{
		Palette: palette("#16140f", "#ffffff", "#f4f2ec", "#d8401f", "#b32f12", "#2c6247", "#16140f"),
		Heads:   "newsreader", Body: "work-sans", Scale: "loud", Corner: "none", Weight: "light", Button: "outline", Frame: "line", Air: "wide",
	}},
	{"porcelain", "Porcelain", "cobalt on white, fine high letters, much room", House{
		Palette: palette("#1b2748", "#ffffff", "#f1f4fa", "#2f53b8", "#a8324a", "#246a67", "#1b2f6b"),
		Heads:   "playfair-display", Body: "lora", Corner: "none", Weight: "light", Frame: "plain", Air: "wide",
	}},
	{"clay", "Clay and straw", "fired earth on straw, bookish", House{
		Palette: palette("#3a231a", "#fffaf3", "#f5e9d8", "#b8552d", "#9c3421", "#55682c", "#4a2a1e"),
		Heads:   "literata", Body: "source-sans-3", Corner: "small", Frame: "sheet", Button: "solid", Hover: "darken",
	}},
	{"depot", "Depot", "grey steel and signal yellow, close and plain", House{
		Palette: palette("#23282d", "#ffffff", "#eef0f1", "#f2b705", "#b23a1e", "#2b6a4d", "#2a3138"),
		Heads:   "work-sans", Body: "work-sans", Corner: "none", Weight: "heavy", Air: "dense", Frame: "plain", Scale: "even",
	}},
	{"midnight", "Midnight kiosk", "teal light in a dark street, round and heavy", House{
		Palette: palette("#161b2e", "#ffffff", "#eef1f7", "#19a39a", "#b52a56", "#14706a", "#141a33"),
		Heads:   "rubik", Body: "nunito-sans", Corner: "round", Button: "pill", Weight: "heavy", Shadow: "firm", Frame: "duotone",
	}},
	{"meadow", "Meadow", "grass, sky and clover, soft and friendly", House{
		Palette: palette("#1f3a33", "#ffffff", "#eef7ee", "#f4a340", "#b3392f", "#2a7a4b", "#1f5a4a"),
		Heads:   "nunito-sans", Body: "nunito-sans", Corner: "round", Button: "pill", Hover: "lift", Weight: "heavy", Frame: "round",
	}},
	{"almanac", "Almanac", "burgundy on ivory, small capitals of an old year-book", House{
		Palette: palette("#2b1a1c", "#fffdf8", "#f6f1e4", "#7b1f33", "#96271f", "#3f5f38", "#43131f"),
		Heads:   "source-serif-4", Body: "source-serif-4", Scale: "quiet", Corner: "none", Frame: "line", Air: "even",
	}},
	{"boudoir", "Plum and powder", "plum, powder and a little brass", House{
		Palette: palette("#33203a", "#ffffff", "#f8eff3", "#a34f7c", "#a52c45", "#3c6a55", "#3d2149"),
		Heads:   "playfair-display", Body: "karla", Corner: "round", Weight: "even", Frame: "arch", Air: "wide", Shadow: "soft",
	}},
	{"marquee", "Marquee", "red and white stripes, as large as they come", House{
		Palette: palette("#1d1d1f", "#ffffff", "#f7f4ef", "#d6262b", "#b01f23", "#1f6d52", "#1d1d1f"),
		Heads:   "rubik", Body: "inter", Scale: "loud", Corner: "small", Weight: "heavy", Air: "dense", Hover: "lift", Frame: "sheet",
	}},
}

// HouseOf returns a house that ships by its name.
func HouseOf(name string) (Made, bool) {
	for _, m := range Houses {
		if m.Name == name {
			return m, true
		}
	}
	return Made{}, false
}
