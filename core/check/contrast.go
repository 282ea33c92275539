package check

import (
	"fmt"
	"strconv"

	"chrysagon/core/manuscript"
	"chrysagon/core/style"
)

// contrast finds words that do not stand out from what they are on (WCAG 2.2,
// 1.4.3), over pictures too, from their pixels.
func contrast(p Page) []Finding {
	house := p.Facts.Store.House
	var out []Finding
	for _, b := range p.Manuscript.Bands {
		look := b.Look
		words, own := wordsOf(house, p.Manuscript.Look, b)
		if pic, ok := p.Facts.Pictures[look["picture"]]; ok {
			out = append(out, overPicture(b, words, pic.Pixels)...)
			continue
		}
		grounds := groundsOf(house, p.Manuscript.Look, b)
		if own || look["ground"] != "" || p.Manuscript.Look["ground"] != "" {
			if f, faint := faint(words, grounds, style.ForText); faint {
				f.What = fmt.Sprintf("The words of “%s” are too faint on their ground: %s", b.Name, f.What)
				f.Mend = mending(b.ID, "colour", words, style.ForText, grounds)
				out = append(out, withPiece(f, b))
			}
		}
		out = append(out, pieceContrast(house, b, words, grounds)...)
	}
	return out
}

// wordsOf is the colour of a band's words, and whether a look chose it.
func wordsOf(h style.House, page style.Look, b manuscript.Band) (style.Colour, bool) {
	for _, look := range []style.Look{b.Look, page} {
		if v := look["colour"]; v != "" {
			return h.Look(v), true
		}
	}
	if b.Tone == manuscript.Night {
		return h.Shade("on-night"), false
	}
	return h.Colour("ink"), false
}

func groundsOf(h style.House, page style.Look, b manuscript.Band) []style.Colour {
	if v := b.Look["ground"]; v != "" {
		return []style.Colour{h.Look(v)}
	}
	switch {
	case b.Tone == manuscript.Night:
		return []style.Colour{h.Colour("night"), h.Shade("late")}
	case b.Tone == manuscript.Paper:
		return []style.Colour{h.Colour("paper")}
	case page["ground"] != "":
		return []style.Colour{h.Look(page["ground"])}
	}
	return []style.Colour{h.Colour("card")}
}

// pieceContrast judges pieces whose own look sets words or ground.
func pieceContrast(h style.House, b manuscript.Band, words style.Colour, grounds []style.Colour) []Finding {
	var out []Finding
	for _, c := range b.Columns {
		for _, piece := range c.Pieces {
			if piece.Look["colour"] == "" && piece.Look["ground"] == "" {
				continue
			}
			ink, on := words, grounds
			if piece.Kind == "button" {
				ink, on = h.Shade("on-action"), []style.Colour{h.Colour("action")}
			}
			if v := piece.Look["colour"]; v != "" {
				ink = h.Look(v)
			}
			if v := piece.Look["ground"]; v != "" {
				on = []style.Colour{h.Look(v)}
			}
			least := style.ForText
			if piece.Kind == "heading" {
				least = style.ForLarge
			}
			if f, faint := faint(ink, on, least); faint {
				f.What = "Words are too faint on their ground: " + f.What
				f.PieceID, f.Mend = piece.ID, mending(piece.ID, "colour", ink, least, on)
				out = append(out, f)
			}
		}
	}
	return out
}

func faint(words style.Colour, grounds []style.Colour, least float64) (Finding, bool) {
	worst := style.Worst(words, grounds...)
	return Finding{What: fmt.Sprintf("%.1f to 1, and %.1f is needed.", worst, least), Remedy: "Take another colour, or the shade that is proposed.", Gravity: Mend}, worst < least
}

// mending sets a colour to the nearest shade that can be read; nil when none can.
func mending(id, property string, c style.Colour, least float64, grounds []style.Colour) *manuscript.Command {
	shade, ok := style.Readable(c, least, grounds...)
	if !ok {
		return nil
	}
	return dressing(id, map[string]string{property: shade.String()})
}

func dressing(id string, set map[string]string) *manuscript.Command {
	c := manuscript.Put(set, id)
	return &c
}

func overPicture(b manuscript.Band, words style.Colour, px style.Pixels) []Finding {
	ratio, enough := b.Look.OverPicture(words, px)
	if ratio >= style.ForText {
		return nil
	}
	f := Finding{
		What:    fmt.Sprintf("The words of “%s” cannot be read over its picture: in places they have %.1f to 1, and %.1f is needed.", b.Name, ratio, style.ForText),
		Remedy:  "Lay a veil over the picture, or take another colour for the words.",
		Gravity: Mend,
	}
	switch {
	case enough >= 0:
		f.Remedy = fmt.Sprintf("A veil of %d %% is enough.", enough)
		f.Mend = dressing(b.ID, map[string]string{"veil": strconv.Itoa(enough)})
	default: // the veil is of the words' own kind: the other one helps
		other := map[bool]string{true: "dark", false: "light"}[b.Look["veil_of"] == "light"]
		turned := style.Look{"veil_of": other}
		if _, enough = turned.OverPicture(words, px); enough >= 0 {
			f.Remedy = fmt.Sprintf("A %s veil of %d %% is enough.", other, enough)
			f.Mend = dressing(b.ID, map[string]string{"veil": strconv.Itoa(enough), "veil_of": other})
		}
	}
	return []Finding{withPiece(f, b)}
}

// withPiece lets a finding of a band open at its first piece.
func withPiece(f Finding, b manuscript.Band) Finding {
	f.PieceID = firstPiece(b)
	return f
}
