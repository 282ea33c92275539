package style

// Family is one of the shipped type families: all open (SIL Open Font License),
// each with a range of weights in one file.
type Family struct {
	ID      string // name of its file, without the ending
	Name    string
	Generic string // what stands in until it is there, or for letters it lacks
	Least   int    // lightest and heaviest weight
	Most    int
	Format  string // of a file of the store's own; "": it ships
}

// Families are the type families a house can be set in.
var Families = []Family{
	{"fraunces", "Fraunces", "Georgia, serif", 100, 900, ""},
	{"source-serif-4", "Source Serif 4", "Georgia, serif", 200, 900, ""},
	{"literata", "Literata", "Georgia, serif", 200, 900, ""},
	{"lora", "Lora", "Georgia, serif", 400, 700, ""},
	{"newsreader", "Newsreader", "Georgia, serif", 200, 800, ""},
	{"bitter", "Bitter", "Georgia, serif", 100, 900, ""},
	{"playfair-display", "Playfair Display", "Georgia, serif", 400, 900, ""},
	{"figtree", "Figtree", "system-ui, sans-serif", 300, 900, ""},
	{"inter", "Inter", "system-ui, sans-serif", 100, 900, ""},
	{"source-sans-3", "Source Sans 3", "system-ui, sans-serif", 200, 900, ""},
	{"nunito-sans", "Nunito Sans", "system-ui, sans-serif", 200, 1000, ""},
	{"work-sans", "Work Sans", "system-ui, sans-serif", 100, 900, ""},
	{"manrope", "Manrope", "system-ui, sans-serif", 200, 800, ""},
	{"karla", "Karla", "system-ui, sans-serif", 200, 800, ""},
	{"rubik", "Rubik", "system-ui, sans-serif", 300, 900, ""},
}

// FamilyOf returns the family of an ID, or the first.
func FamilyOf(id string) Family {
	for _, f := range Families {
		if f.ID == id {
			return f
		}
	}
	return Families[0]
}

// Pair is two families that go together: one for headings, one for copy.
type Pair struct{ ID, Name, Heads, Body string }

// Pairs are those proposed; any two families can be joined by hand.
var Pairs = []Pair{
	{"fair", "Fair", "fraunces", "figtree"},
	{"journal", "Journal", "newsreader", "work-sans"},
	{"book", "Book", "literata", "source-sans-3"},
	{"atelier", "Atelier", "playfair-display", "lora"},
	{"works", "Works", "bitter", "karla"},
	{"harbour", "Harbour", "manrope", "manrope"},
	{"notice", "Notice", "work-sans", "source-serif-4"},
	{"kiosk", "Kiosk", "rubik", "nunito-sans"},
	{"ledger", "Ledger", "source-serif-4", "inter"},
}
