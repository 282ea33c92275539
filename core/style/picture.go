package style

import (
	"cmp"
	"math"
	"slices"
)

// Like makes a house from the colours of a picture, such as a logo or a photograph: its
// colours are gathered in OKLab (k-means: Lloyd 1982), the darkest becomes night and ink,
// the most colourful the action, the lightest tints the paper. What would not be read is
// brought to where it is. It is the same for the same picture.
func Like(p Pixels) (House, bool) {
	var seen []lab
	for _, patch := range p.Patches {
		seen = append(seen, patch.Dark.lab(), patch.Light.lab())
	}
	if len(seen) == 0 {
		if p.Patch == (Patch{}) {
			return House{}, false
		}
		seen = []lab{p.Dark.lab(), p.Light.lab()}
	}
	groups := gathered(seen, 6)
	chroma := func(o lab) float64 { return math.Hypot(o.a, o.b) }
	dark, light := slices.MinFunc(groups, byLightness), slices.MaxFunc(groups, byLightness)
	colourful := slices.MaxFunc(groups, func(a, b lab) int { return cmp.Compare(chroma(a), chroma(b)) })
	h := House{Palette: map[string]string{}}
	if chroma(colourful) < 0.03 { // grey: the program's own gold stays
		colourful = h.Colour("action").lab()
	}
	night := lab{min(max(dark.l, 0.22), 0.34), dark.a, dark.b}
	if chroma(night) < 0.02 { // black says nothing: a little of what is colourful
		night.a, night.b = colourful.a*0.3, colourful.b*0.3
	}
	action := lab{min(max(colourful.l, 0.5), 0.78), colourful.a, colourful.b}
	for name, o := range map[string]lab{
		"night": night, "ink": {0.26, night.a * 0.6, night.b * 0.6}, "action": action,
		"card": {1, 0, 0}, "paper": {0.972, light.a * 0.25, light.b * 0.25},
	} {
		h.Palette[name] = o.colour().String()
	}
	pair := pairFor(chroma(action), dark.l)
	h.Heads, h.Body = pair.Heads, pair.Body
	return h.read(), true
}

func byLightness(a, b lab) int { return cmp.Compare(a.l, b.l) }

// pairFor chooses type by rule: loud colours take plain heavy letters, quiet ones bookish
// ones, and what lies between the house's own.
func pairFor(chroma, darkest float64) Pair {
	name := "fair"
	switch {
	case chroma > 0.17:
		name = "kiosk"
	case chroma > 0.13:
		name = "harbour"
	case chroma < 0.06 && darkest < 0.3:
		name = "journal"
	case chroma < 0.09:
		name = "book"
	}
	i := slices.IndexFunc(Pairs, func(p Pair) bool { return p.ID == name })
	return Pairs[i]
}

// gathered are the middles of k groups of colours. It begins from colours that lie far
// apart, so that it needs no chance.
func gathered(seen []lab, k int) []lab {
	apart := func(a, b lab) float64 { return (a.l-b.l)*(a.l-b.l) + (a.a-b.a)*(a.a-b.a) + (a.b-b.b)*(a.b-b.b) }
	middles := []lab{seen[0]}
	for len(middles) < min(k, len(seen)) {
		far, most := seen[0], -1.0
		for _, o := range seen {
			near := math.Inf(1)
			for _, m := range middles {
				near = min(near, apart(o, m))
			}
			if near > most {
				far, most = o, near
			}
		}
		middles = append(middles, far)
	}
	for range 12 {
		sums, counts := make([]lab, len(middles)), make([]float64, len(middles))
		for _, o := range seen {
			best := 0
			for i, m := range middles {
				if apart(o, m) < apart(o, middles[best]) {
					best = i
				}
			}
			sums[best].l, sums[best].a, sums[best].b = sums[best].l+o.l, sums[best].a+o.a, sums[best].b+o.b
			counts[best]++
		}
		for i, n := range counts {
			if n > 0 {
				middles[i] = lab{sums[i].l / n, sums[i].a / n, sums[i].b / n}
			}
		}
	}
	return middles
}
