package check

import (
	"fmt"
	"strings"

	"chrysagon/core/manuscript"
)

// What the reader of a phone has before scrolling, and how wide what is written
// there stands: common practice, no source; measured on our own pages.
const (
	foldHeight  = 844 - 120 // CSS pixels of a phone's screen, without the browser's own bars
	phoneWidth  = 350       // of a band's words
	buttonSigns = 34        // of a button's words on one line there
)

// selling are purposes whose pages ask for something.
var selling = map[string]bool{"sales": true, "upsell": true, "downsell": true, "opt_in": true, "bridge": true, "appointment": true, "workshop": true}

// fold finds a page on which a phone shows nothing to act on before scrolling.
// Heights are estimated from what is written.
func fold(p Page) []Finding {
	if !selling[p.Purpose] {
		return nil
	}
	height := 0
	if p.Layout == "header" || p.Layout == "full" {
		height = 60
	}
	for _, b := range p.Manuscript.Bands {
		if b.Look["seen"] == "wide" {
			continue
		}
		height += 36
		for _, c := range b.Columns {
			for _, piece := range c.Pieces {
				if piece.Look["seen"] == "wide" {
					continue
				}
				if p.of(piece).Acts && height < foldHeight {
					return nil
				}
				if height += tall(p, piece); height >= foldHeight {
					return []Finding{{
						What: "On a phone, nothing can be acted on before scrolling: the first " + fmt.Sprint(foldHeight) + " pixels are filled by then, as far as can be estimated.", Remedy: "Put a button into the opening.",
						PieceID: firstPiece(p.Manuscript.Bands...), Gravity: Notice,
					}}
				}
			}
		}
		height += 36
	}
	return nil
}

// tall estimates the height of a piece on a phone, in CSS pixels.
func tall(p Page, piece manuscript.Piece) int {
	estimate := p.of(piece).Tall
	if estimate == nil {
		return 60
	}
	return estimate(piece.Fields, func(id string) manuscript.Shape {
		pic := p.Facts.Pictures[id]
		return manuscript.Shape{Width: pic.Width, Height: pic.Height}
	})
}

// firstPiece is the ID of the first piece in some bands, or "".
func firstPiece(bands ...manuscript.Band) string {
	for _, b := range bands {
		for _, c := range b.Columns {
			if len(c.Pieces) > 0 {
				return c.Pieces[0].ID
			}
		}
	}
	return ""
}

// asks is what a button says and where it leads, by the first of its calls; false when a
// piece is no button.
func (p Page) asks(piece manuscript.Piece) (label, target string, is bool) {
	of := p.of(piece)
	if !of.Button || of.Calls == nil {
		return "", "", false
	}
	first := of.Calls(piece.Fields)[0]
	return first.Says, first.Target, true
}

// buttons finds buttons whose words are too long for a phone, and those that
// lead to the same place in different words.
func buttons(p Page) []Finding {
	var out []Finding
	words := map[string]string{}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		label, target, is := p.asks(piece)
		if !is {
			return
		}
		if n := len([]rune(label)); n > buttonSigns {
			out = append(out, Finding{What: fmt.Sprintf("The button “%s” has %d characters; a phone fits some %d on one line.", label, n, buttonSigns), Remedy: "Say it in fewer words.", PieceID: piece.ID, Gravity: Notice})
		}
		if other, ok := words[target]; ok && label != "" && !strings.EqualFold(other, label) {
			out = append(out, Finding{What: fmt.Sprintf("“%s” and “%s” lead to the same place.", other, label), Remedy: "Call one action by one name.", PieceID: piece.ID, Gravity: Notice})
		}
		if label != "" {
			words[target] = label
		}
	})
	return out
}

// codes finds codes that are advertised and do not work here.
func codes(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		code := piece.Fields.Text("code")
		if why, refused := p.Codes[code]; refused && p.of(piece).Code && code != "" {
			out = append(out, Finding{What: fmt.Sprintf("The code %s does not work on this page: %s", code, why), Remedy: "Write a code of an offer that holds for these goods, or mend the offer.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	return out
}

func legalLinks(t manuscript.Traits) bool { return t.Legal }

// legal finds a page that takes orders and shows no way to the shop's terms.
func legal(p Page) []Finding {
	if !p.Schema.Has(p.Manuscript, takes) || p.Layout == "full" || p.Schema.Has(p.Manuscript, legalLinks) {
		return nil
	}
	return []Finding{{What: "Orders are taken here, and nothing leads to privacy, terms and contact.", Remedy: "Add the legal footer.", Gravity: Mend}}
}

// weight finds a page whose first view does not fit what a server may send at
// once (RFC 6928: ten segments, some 14 KB).
func weight(p Page) []Finding {
	if p.FirstView <= FirstViewLimit {
		return nil
	}
	return []Finding{{What: fmt.Sprintf("The first view weighs %.1f KB compressed; 14 KB arrive at once.", float64(p.FirstView)/1024), Remedy: "Shorten the page, or move some of it to another.", Gravity: Notice}}
}

// FirstViewLimit is the number of bytes that arrive with a server's first
// window (RFC 6928).
const FirstViewLimit = 14 * 1024
