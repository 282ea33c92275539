package style

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// Worn is a look with what wears it.
type Worn struct {
	ID    string
	Alike string // only what is alike should look alike: a kind, with its level
	Band  bool   // bands may differ, but not by a shade that nobody meant
	Look  Look
}

// Drift is a property in which things that are alike differ.
type Drift struct {
	Alike    string
	Property string // with its prefix
	Says     string
	Values   []DriftValue // most frequent first
	IDs      []string     // of all that are alike
}

// DriftValue is one value and who wears it; "" is the house's.
type DriftValue struct {
	Value string
	IDs   []string
}

// unlike are properties in which things that are alike may well differ: their
// room and place follow from their neighbours.
var unlike = []string{"above", "below", "order", "seen", "picture", "focus_x", "focus_y", "align", "veil", "veil_of", "fit"}

// Drifts lists where things that are alike have come to look different: two
// buttons in two golds, headings in three sizes. A thing alone of its kind
// does not drift; nor does a kind that wears one value throughout.
func Drifts(worn []Worn) []Drift {
	alike := map[string][]Worn{}
	for _, w := range worn {
		alike[w.Alike] = append(alike[w.Alike], w)
	}
	var out []Drift
	for name, group := range alike {
		if len(group) < 2 {
			continue
		}
		for _, p := range Properties {
			if slices.Contains(unlike, p.Name) {
				continue
			}
			for _, prefix := range []string{"", Wide} {
				if d, ok := drift(name, prefix+p.Name, p, group); ok {
					out = append(out, d)
				}
			}
		}
	}
	slices.SortFunc(out, func(a, b Drift) int {
		return cmp.Or(cmp.Compare(a.Alike, b.Alike), cmp.Compare(a.Property, b.Property))
	})
	return out
}

func drift(alike, key string, p Property, group []Worn) (Drift, bool) {
	by := map[string][]string{}
	d := Drift{Alike: alike, Property: key}
	for _, w := range group {
		by[w.Look[key]] = append(by[w.Look[key]], w.ID)
		d.IDs = append(d.IDs, w.ID)
	}
	if len(by) < 2 || (group[0].Band && !nearly(by, p)) {
		return d, false
	}
	for value, ids := range by {
		d.Values = append(d.Values, DriftValue{value, ids})
	}
	slices.SortFunc(d.Values, func(a, b DriftValue) int {
		return cmp.Or(cmp.Compare(len(b.IDs), len(a.IDs)), cmp.Compare(a.Value, b.Value))
	})
	var parts []string
	for _, v := range d.Values {
		parts = append(parts, fmt.Sprintf("%d %s", len(v.IDs), p.Say(v.Value)))
	}
	d.Says = strings.Join(parts, ", ")
	return d, true
}

// near is how far apart two colours may be that were meant to be one.
const near = 0.06

// nearly tells whether two colours among the values are almost the same.
func nearly(by map[string][]string, p Property) bool {
	if p.Kind != IsColour {
		return false
	}
	var seen []Colour
	for value := range by {
		if value == "" {
			continue
		}
		c := House{}.Look(value)
		for _, other := range seen {
			if Apart(c, other) < near {
				return true
			}
		}
		seen = append(seen, c)
	}
	return false
}

// Say writes a value of the property in words; "" is the house's.
func (p Property) Say(value string) string {
	switch {
	case value == "":
		return "like the house"
	case p.Kind == IsChoice:
		return choice(p.Choices, value).Label
	case p.Kind == IsNumber:
		return value + " " + p.Unit
	}
	return value
}
