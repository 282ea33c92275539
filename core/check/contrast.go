package check

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"chrysagon/core/compose"
	"chrysagon/core/manuscript"
	"chrysagon/core/style"
)

// Reading is how well some words of a page stand out from what they stand on
// (WCAG 2.2, 1.4.3), or a thing that is pressed or filled in (1.4.11).
type Reading struct {
	What    string
	Where   string // the screens it holds on; empty: all
	PieceID string
	Ratio   float64
	Least   float64

	local   bool // a look chose the words' colour or the ground
	picture bool // over a picture
	veil    int  // the least veil that is enough there; -1: none is
	other   int  // the least veil of the other kind
	band    manuscript.Band
	mend    *manuscript.Command
}

// Holds tells whether it stands out enough.
func (r Reading) Holds() bool { return r.Ratio >= r.Least }

// Readings are those of a page, the weakest first. Words that differ in
// nothing are read once a band.
func Readings(p Page) []Reading {
	var out []Reading
	for _, b := range p.Manuscript.Bands {
		var of [2][]Reading
		for i, s := range screens {
			if !s.hidden(b.Look) {
				of[i] = s.readings(p, b)
			}
		}
		out = append(out, both(of[0], of[1])...)
	}
	slices.SortStableFunc(out, func(a, b Reading) int { return cmp.Compare(a.Ratio/a.Least, b.Ratio/b.Least) })
	return out
}

// both joins the readings of two screens: what is the same on both is told once.
func both(phone, wide []Reading) []Reading {
	out := slices.Clone(phone)
	for i := range out {
		out[i].Where = screens[0].name
	}
	for _, w := range wide {
		i := slices.IndexFunc(out, func(r Reading) bool {
			return r.What == w.What && r.PieceID == w.PieceID && r.Ratio == w.Ratio && r.Where == screens[0].name
		})
		if i >= 0 {
			out[i].Where = ""
			continue
		}
		w.Where = screens[1].name
		out = append(out, w)
	}
	return out
}

// readings are those of a band on one screen.
func (s screen) readings(p Page, b manuscript.Band) []Reading {
	var out []Reading
	at := s.places(p, b)
	for _, c := range b.Columns {
		for _, piece := range c.Pieces {
			if s.hidden(piece.Look) {
				continue
			}
			out = append(out, s.priced(p, b, piece, at[piece.ID])...)
			r, ok := s.reading(p, b, piece, at[piece.ID])
			if !ok {
				continue
			}
			known := slices.IndexFunc(out, func(o Reading) bool { return o.What == r.What && o.Ratio == r.Ratio })
			switch {
			case known < 0:
				out = append(out, r)
			case r.Least > out[known].Least: // what lets the smaller words be read does the larger ones
				out[known] = r
			}
		}
	}
	return out
}

// priced are the readings of the prices of a piece that have colours of their own.
func (s screen) priced(p Page, b manuscript.Band, piece manuscript.Piece, at place) []Reading {
	var out []Reading
	if !p.of(piece).Priced {
		return nil
	}
	for _, property := range style.Properties {
		name := property.Name
		if property.Of == "" || property.Kind != style.IsColour {
			continue
		}
		colour := piece.Look.At(s.prefix, name)
		if colour == "" {
			continue
		}
		worn := piece
		worn.Look = maps.Clone(piece.Look)
		worn.Look[s.prefix+"colour"] = colour
		r, ok := s.reading(p, b, worn, at)
		if !ok {
			continue
		}
		r.What, r.local = "Prices in “"+b.Name+"” with a colour of their own", true
		if r.mend != nil {
			r.mend = dressing(piece.ID, map[string]string{s.prefix + name: *r.mend.Looks[0].Set[s.prefix+"colour"]})
		}
		out = append(out, r)
	}
	return out
}

// reading is that of one piece; false when it has no words on the band.
func (s screen) reading(p Page, b manuscript.Band, piece manuscript.Piece, at place) (Reading, bool) {
	house := p.Facts.Store.House
	r := Reading{What: "Words of “" + b.Name + "”", PieceID: piece.ID, Least: style.ForText, veil: -1, other: -1, band: b}
	own := s.colour(house, "colour", piece.Look)
	ground := s.colour(house, "ground", piece.Look)
	if p.of(piece).Button && (house.Button != "outline" || ground != nil) {
		r.What, r.local = "Words of the button “"+piece.Fields.Text("label")+"”", own != nil || ground != nil
		ink, on, _ := piece.Look.OnButton(house, s.prefix)
		r.judge(s, piece.ID, ink, on)
		return r, true
	}
	if p.of(piece).Silent {
		return r, false
	}
	page := p.Manuscript.Look
	if on := compose.Of(p.Schema, b).Manner.On; on != compose.OnBand { // what the band stands on is not what its words do
		b.Look, b.Tone, page = nil, on.Tone(b.Tone), nil
	}
	if p.of(piece).Heads {
		r.Least = style.ForLarge
	}
	ink, chosen := s.words(house, page, b)
	target := b.ID
	if own != nil || ground != nil {
		target, r.What = piece.ID, "Words in “"+b.Name+"” with a look of their own"
	}
	if own != nil {
		ink = *own
	}
	if ground != nil {
		r.local = true
		r.judge(s, target, ink, *ground)
		return r, true
	}
	if pic, ok := p.Facts.Pictures[b.Look.At(s.prefix, "picture")]; ok {
		patch, covered := s.behind(b, pic, at)
		r.local, r.picture = true, true
		r.Ratio, r.veil = b.Look.OverPicture(s.prefix, ink, patch, r.Least)
		if !covered { // words stand beside the picture too
			r.Ratio = min(r.Ratio, style.Worst(ink, s.grounds(house, page, b)...))
		}
		turned := style.Look{"veil_of": map[bool]string{true: "dark", false: "light"}[b.Look.At(s.prefix, "veil_of") == "light"]}
		_, r.other = turned.OverPicture("", ink, patch, r.Least)
		return r, true
	}
	r.local = chosen || own != nil || b.Look.At(s.prefix, "ground") != "" || page.At(s.prefix, "ground") != ""
	r.judge(s, target, ink, s.grounds(house, page, b)...)
	return r, true
}

// judge reads plain colours, and proposes the nearest shade that can be read.
func (r *Reading) judge(s screen, target string, ink style.Colour, grounds ...style.Colour) {
	if r.Ratio = style.Worst(ink, grounds...); r.Holds() {
		return
	}
	if shade, ok := style.Readable(ink, r.Least, grounds...); ok {
		r.mend = dressing(target, map[string]string{s.prefix + "colour": shade.String()})
	}
}

// colour is one that a look sets on a screen; nil when it sets none.
func (s screen) colour(h style.House, name string, look style.Look) *style.Colour {
	v := look.At(s.prefix, name)
	if v == "" {
		return nil
	}
	c := h.Look(v)
	return &c
}

// words is the colour of a band's words, and whether a look chose it.
func (s screen) words(h style.House, page style.Look, b manuscript.Band) (style.Colour, bool) {
	for _, look := range []style.Look{b.Look, page} {
		if c := s.colour(h, "colour", look); c != nil {
			return *c, true
		}
	}
	if b.Tone == manuscript.Night {
		return h.Shade("on-night"), false
	}
	return h.Colour("ink"), false
}

// grounds are the colours that a band's words stand on where no picture is.
func (s screen) grounds(h style.House, page style.Look, b manuscript.Band) []style.Colour {
	if c := s.colour(h, "ground", b.Look); c != nil {
		return []style.Colour{*c}
	}
	if b.Look.At(s.prefix, "scene") != "" {
		return h.UnderScene(b.Tone != manuscript.Night)
	}
	switch b.Tone {
	case manuscript.Night:
		return []style.Colour{h.Colour("night"), h.Shade("late")}
	case manuscript.Paper:
		return []style.Colour{h.Colour("paper")}
	case manuscript.Card:
	}
	if c := s.colour(h, "ground", page); c != nil {
		return []style.Colour{*c}
	}
	return []style.Colour{h.Colour("card")}
}

// contrast finds words that do not stand out because of a local look. What is
// faint in the house style is told there, once for all pages.
func contrast(p Page) []Finding {
	var out []Finding
	all := Readings(p)
	over := map[string][]Reading{} // readings over pictures that do not hold, by band
	for _, r := range all {
		switch {
		case r.Holds() || !r.local:
		case r.picture:
			over[r.band.ID] = append(over[r.band.ID], r)
		case slices.ContainsFunc(all, func(o Reading) bool { return o.What == r.What && o.Where == r.Where && o.Least > r.Least && !o.Holds() }):
			// what mends the smaller words mends these
		default:
			out = append(out, Finding{
				What:    fmt.Sprintf("%s are too faint on their ground%s: %.1f to 1, and %.1f is needed.", r.What, on(r.Where), r.Ratio, r.Least),
				Remedy:  "Take another colour, or the shade that is proposed.",
				PieceID: r.PieceID, Gravity: Mend, Mend: r.mend,
			})
		}
	}
	for _, b := range p.Manuscript.Bands {
		if weak := over[b.ID]; len(weak) > 0 {
			out = append(out, overPicture(b, weak))
		}
	}
	return append(out, edges(p)...)
}

func on(where string) string {
	if where == "" {
		return ""
	}
	return " " + where
}

// overPicture is one finding of all words of a band that cannot be read over
// its picture, with the least veil under which all of them can.
func overPicture(b manuscript.Band, weak []Reading) Finding {
	worst := weak[0]
	f := Finding{
		What:    fmt.Sprintf("The words of “%s” cannot be read over its picture%s: in places they have %.1f to 1, and %.1f is needed.", b.Name, on(worst.Where), worst.Ratio, worst.Least),
		Remedy:  "Lay a veil over the picture, or take another colour for the words.",
		PieceID: firstPiece(b), Gravity: Mend,
	}
	wideOnly := !slices.ContainsFunc(weak, func(r Reading) bool { return r.Where != screens[1].name })
	name := "veil"
	if wideOnly && b.Look[style.Wide+"veil"] != "" {
		name = style.Wide + "veil"
	}
	enough := func(of func(Reading) int) int {
		most := 0
		for _, r := range weak {
			if of(r) < 0 {
				return -1
			}
			most = max(most, of(r))
		}
		return most
	}
	if veil := enough(func(r Reading) int { return r.veil }); veil >= 0 {
		f.Remedy = fmt.Sprintf("A veil of %d %% is enough.", veil)
		f.Mend = dressing(b.ID, withoutWide(b, name, map[string]string{name: strconv.Itoa(veil)}))
		return f
	}
	// The veil is of the words' own kind: the other one helps.
	if veil := enough(func(r Reading) int { return r.other }); veil >= 0 {
		other := map[bool]string{true: "dark", false: "light"}[b.Look["veil_of"] == "light"]
		f.Remedy = fmt.Sprintf("A %s veil of %d %% is enough.", other, veil)
		f.Mend = dressing(b.ID, withoutWide(b, "veil", map[string]string{"veil": strconv.Itoa(veil), "veil_of": other}))
	}
	return f
}

// withoutWide lets a veil hold on wider screens too, where they had their own.
func withoutWide(b manuscript.Band, name string, set map[string]string) map[string]string {
	if strings.HasPrefix(name, style.Wide) {
		return set
	}
	for _, own := range []string{style.Wide + "veil", style.Wide + "veil_of"} {
		if b.Look[own] != "" {
			set[own] = ""
		}
	}
	return set
}

// fieldEdge is the colour of the edge of what is filled in, as pages draw it.
var fieldEdge = style.Colour{R: 0x6d, G: 0x7b, B: 0x76}

// edges finds what is filled in and does not stand out from a ground that a
// look chose (WCAG 2.2, 1.4.11): by its edge, or by its white.
func edges(p Page) []Finding {
	var out []Finding
	house := p.Facts.Store.House
	for _, b := range p.Manuscript.Bands {
		ground := b.Look["ground"]
		if ground == "" || !slices.ContainsFunc(b.Columns, func(c manuscript.Column) bool {
			return slices.ContainsFunc(c.Pieces, func(piece manuscript.Piece) bool { return p.of(piece).Asks || orders(p.of(piece)) })
		}) {
			continue
		}
		on := house.Look(ground)
		if ratio := max(style.Contrast(fieldEdge, on), style.Contrast(style.Colour{R: 255, G: 255, B: 255}, on)); ratio < style.ForLarge {
			out = append(out, Finding{
				What:    fmt.Sprintf("What is filled in in “%s” does not stand out from its ground: %.1f to 1, and %.1f is needed.", b.Name, ratio, style.ForLarge),
				Remedy:  "Take a lighter ground, or a darker one.",
				PieceID: firstPiece(b), Gravity: Mend, Mend: dressing(b.ID, map[string]string{"ground": ""}),
			})
		}
	}
	return out
}

func dressing(id string, set map[string]string) *manuscript.Command {
	c := manuscript.Put(set, id)
	return &c
}
