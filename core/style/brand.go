package style

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
)

// Brand is a colour of the store's own beside the seven of the house. Looks name it by its
// ID, so that a page follows when it is changed.
type Brand struct {
	ID     string `json:"id"` // brand-1 to brand-9
	Name   string `json:"name"`
	Colour string `json:"colour"` // as #rrggbb
}

// MostBrands is how many a house can have.
const MostBrands = 9

// brand is how looks name a colour of the store's own, or a shade of one.
var brand = regexp.MustCompile(`^brand-[1-9](-pale|-soft|-deep)?$`)

// BrandShades are the shades that follow a colour of the store's own: by the name at the
// end of its ID, what they are called, and how they come to be.
var BrandShades = []struct {
	Name, Label, How string
	of               func(c, card, ink Colour) Colour
}{
	{"", "", "as it was chosen", func(c, _, _ Colour) Colour { return c }},
	{"-pale", "pale", "82 % of the way to card", func(c, card, _ Colour) Colour { return Mix(c, card, 0.82) }},
	{"-soft", "soft", "45 % of the way to card", func(c, card, _ Colour) Colour { return Mix(c, card, 0.45) }},
	{"-deep", "deep", "40 % of the way to ink", func(c, _, ink Colour) Colour { return Mix(c, ink, 0.4) }},
}

// Branded are the colours of the store's own with the shades that follow them.
func (h House) Branded() []Shade {
	var out []Shade
	for _, b := range h.Brand {
		for _, s := range BrandShades {
			out = append(out, Shade{Name: b.ID + s.Name, Label: strings.TrimSpace(b.Name + " " + s.Label), How: s.How, Colour: h.branded(b.ID + s.Name)})
		}
	}
	return out
}

// branded is a colour of the store's own, or a shade of one; where it is gone from the
// house, that of its actions.
func (h House) branded(value string) Colour {
	for _, b := range h.Brand {
		for _, s := range BrandShades {
			if value != b.ID+s.Name {
				continue
			}
			if c, err := ParseColour(b.Colour); err == nil {
				return s.of(c, h.Colour("card"), h.Colour("ink"))
			}
		}
	}
	return h.Colour("action")
}

// NextBrand is the ID of one more, or "" where no more fit.
func (h House) NextBrand() string {
	for n := 1; n <= MostBrands; n++ {
		id := fmt.Sprintf("brand-%d", n)
		if !slices.ContainsFunc(h.Brand, func(b Brand) bool { return b.ID == id }) {
			return id
		}
	}
	return ""
}

func (h House) brandFault() error {
	var seen []string
	for _, b := range h.Brand {
		if !brand.MatchString(b.ID) || len(b.ID) != len("brand-1") || slices.Contains(seen, b.ID) {
			return fmt.Errorf("brand.%s: it is named twice, or not brand-1 to brand-%d", b.ID, MostBrands)
		}
		seen = append(seen, b.ID)
		if n := utf8.RuneCountInString(strings.TrimSpace(b.Name)); n == 0 || n > 40 || !utf8.ValidString(b.Name) {
			return fmt.Errorf("brand.%s: give the colour a name of at most 40 characters", b.ID)
		}
		if _, err := ParseColour(b.Colour); err != nil {
			return fmt.Errorf("brand.%s: %w", b.ID, err)
		}
	}
	return nil
}
