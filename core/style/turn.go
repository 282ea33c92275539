package style

import (
	"slices"
	"strings"
)

// Turn is one word that moves several settings of a house at once.
type Turn struct {
	Name, Label string
	moves       []move
	mix         func(h House) map[string]Colour // colours that change
}

// move brings a setting so many steps along its list, or to its end.
type move struct {
	Setting
	by int
}

// Turns are the words. What each moves is taste, and ours; every colour it comes to is
// brought to where it reads.
var Turns = []Turn{
	{"calmer", "calmer", []move{{scale, -1}, {weight, -1}, {air, 1}, {shadow, -1}}, func(h House) map[string]Colour {
		return map[string]Colour{"action": Mix(h.Colour("action"), h.Colour("ink"), 0.18), "paper": Mix(h.Colour("paper"), h.Colour("card"), 0.4)}
	}},
	{"bolder", "bolder", []move{{scale, 1}, {weight, 1}}, func(h House) map[string]Colour {
		return map[string]Colour{"action": vivid(h.Colour("action"), 1.25), "night": Mix(h.Colour("night"), Colour{}, 0.2)}
	}},
	{"warmer", "warmer", []move{{corner, 1}}, func(h House) map[string]Colour {
		amber := Colour{0xe0, 0x90, 0x30}
		return map[string]Colour{"paper": Mix(h.Colour("paper"), amber, 0.07), "action": Mix(h.Colour("action"), amber, 0.22), "night": Mix(h.Colour("night"), Colour{0x5a, 0x20, 0x10}, 0.18)}
	}},
	{"denser", "denser", []move{{air, -1}, {scale, -1}}, nil},
	{"formal", "more formal", []move{{corner, -1}, {weight, -1}, {shadow, -1}}, func(h House) map[string]Colour {
		return map[string]Colour{"action": Mix(h.Colour("action"), h.Colour("night"), 0.3), "paper": Mix(h.Colour("paper"), Colour{0xf4, 0xf4, 0xf2}, 0.5)}
	}},
}

// vivid is a colour further from grey of its own lightness.
func vivid(c Colour, by float64) Colour {
	o := c.lab()
	o.a, o.b = o.a*by, o.b*by
	return o.colour()
}

// Turned is the house after a word, and what it moved, in words. A word that is not known
// or has nothing left to move moves nothing.
func (h House) Turned(word string) (House, []string) {
	i := slices.IndexFunc(Turns, func(t Turn) bool { return t.Name == word })
	if i < 0 {
		return h, nil
	}
	out, moved := h, []string(nil)
	for _, m := range Turns[i].moves {
		at := m.At(h)
		if to := min(max(at+m.by, 0), len(m.Choices)-1); to != at {
			m.Put(&out, m.Choices[to].Value)
			moved = append(moved, m.What+": "+strings.Split(m.Choices[to].Label, ",")[0])
		}
	}
	if Turns[i].mix != nil {
		out.Palette = map[string]string{}
		for _, t := range Tokens {
			out.Palette[t.Name] = h.Colour(t.Name).String()
		}
		for name, c := range Turns[i].mix(h) {
			out.Palette[name] = c.String()
		}
		out = out.read()
		for _, t := range Tokens {
			if before, after := h.Colour(t.Name), out.Colour(t.Name); before != after {
				moved = append(moved, strings.ToLower(t.Label)+": "+after.String())
			}
		}
	}
	return out, moved
}

// read brings the colours of a house to where all that it writes can be read.
func (h House) read() House {
	for range len(Tokens) {
		settled := true
		for _, r := range h.Contrasts() {
			if !r.Holds() && r.Mended != "" {
				h.Palette[r.Token], settled = r.Mended, false
			}
		}
		if settled {
			break
		}
	}
	return h
}
