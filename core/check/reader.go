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

// acts are the kinds of piece with which something can be done.
var acts = map[string]bool{"button": true, "checkout": true, "answer": true, "form": true, "phone": true, "product": true, "menu": true, "receipt": true, "rotate": true, "shelf": true, "groups": true}

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
				if acts[piece.Kind] && height < foldHeight {
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
	lines := func(text string, signs int) int { return 1 + len([]rune(text))/signs }
	switch piece.Kind {
	case "heading":
		if piece.Fields.Text("level") == "1" {
			return 14 + 39*lines(piece.Fields.Text("text"), 18)
		}
		return 24 + 30*lines(piece.Fields.Text("text"), 26)
	case "text":
		return 12 + 26*lines(piece.Fields.Text("text"), 42)
	case "picture":
		if pic := p.Facts.Pictures[piece.Fields.Text("picture")]; pic.Width > 0 {
			return phoneWidth * pic.Height / pic.Width
		}
	}
	return 60
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

// asks is what a button says and where it leads; unless that is chosen, to the
// checkout.
func asks(button manuscript.Piece) (label, target string) {
	target = button.Fields.Text("target")
	if target == "" {
		target = string(manuscript.ToCheckout)
	}
	return button.Fields.Text("label"), target
}

// buttons finds buttons whose words are too long for a phone, and those that
// lead to the same place in different words.
func buttons(p Page) []Finding {
	var out []Finding
	words := map[string]string{}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if piece.Kind != "button" {
			return
		}
		label, target := asks(piece)
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
		if why, refused := p.Codes[code]; refused && piece.Kind == "code" && code != "" {
			out = append(out, Finding{What: fmt.Sprintf("The code %s does not work on this page: %s", code, why), Remedy: "Write a code of an offer that holds for these goods, or mend the offer.", PieceID: piece.ID, Gravity: Mend})
		}
	})
	return out
}

// legal finds a page that takes orders and shows no way to the shop's terms.
func legal(p Page) []Finding {
	if Count(p.Manuscript, "checkout")+Count(p.Manuscript, "answer") == 0 || p.Layout == "full" || Count(p.Manuscript, "legal") > 0 {
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
