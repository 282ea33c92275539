package check

import (
	"fmt"
	"strconv"
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/style"
	"chrysagon/core/words"
)

// headings finds headings out of order (WCAG 2.2, 1.3.1): the page's headline
// must come before every other heading.
func headings(p Page) []Finding {
	var out []Finding
	first := true
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if !p.of(piece).Heads {
			return
		}
		if first && !p.Schema.Headline(piece) && out == nil {
			out = []Finding{{
				What: "The first heading is not the page’s headline, so readers who hear the page begin in the middle.", Remedy: "Make it the headline, or move the headline up.", PieceID: piece.ID, Gravity: Mend,
			}}
		}
		first = false
	})
	return out
}

// deviating finds buttons of one wording that lead to different places, and,
// where one thing is asked, buttons that ask for another.
func deviating(p Page) []Finding {
	var out []Finding
	goal := map[string]string{} // where each wording leads
	main := ""
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		label, target, is := p.asks(piece)
		if !is {
			return
		}
		say := strings.ToLower(strings.TrimSpace(label))
		if other, seen := goal[say]; seen && say != "" && other != target {
			out = append(out, Finding{What: fmt.Sprintf("Two buttons say “%s” and lead to different places.", label), Remedy: "Call each action by its own name.", PieceID: piece.ID, Gravity: Mend})
		}
		goal[say] = target
		switch outward := !strings.HasPrefix(target, "band:") && target != "checkout"; {
		case !outward:
		case main == "":
			main = target
		case main != target && closed[p.Purpose]:
			out = append(out, Finding{What: fmt.Sprintf("The button “%s” asks for something else than the ones before it.", label), Remedy: words.Begin(words.A(purpose.Of(p.Purpose).Title)) + " asks for one thing; let all its buttons lead there.", PieceID: piece.ID, Gravity: Notice})
		}
	})
	return out
}

// fields finds forms that ask for more than what they give needs: every field
// more loses readers (common practice, no source).
func fields(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		asks := piece.Fields.Text("asks")
		if p.of(piece).Asks && piece.Fields.Text("name") == "yes" && (asks == "" || asks == "opt_in" || asks == "newsletter") {
			out = append(out, Finding{
				What: "The form asks for a name, and what it gives needs only an email.", Remedy: "Ask for the email alone.", PieceID: piece.ID, Gravity: Notice,
				Mend: &manuscript.Command{Op: manuscript.SetField, Piece: piece.ID, Field: "name", Value: "no"},
			})
		}
	})
	return out
}

// targetLeast is how tall and wide what is pressed must be, in CSS pixels, when
// others of its kind stand beside it (WCAG 2.2, 2.5.8).
const targetLeast = 24

// targets finds links that stand beside each other and are too small to press.
func targets(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		row := p.of(piece).Row
		if row == nil {
			return
		}
		size := share(piece.Look["size"], share(p.Manuscript.Look["size"], 1))
		line := share(piece.Look["line"], share(p.Manuscript.Look["line"], 1.55))
		if tall := row.Words*size*line + row.Room; tall < targetLeast {
			out = append(out, Finding{
				What: fmt.Sprintf("Links beside each other are %.0f pixels tall; a finger needs %d.", tall, targetLeast), Remedy: "Make the words or their lines larger.", PieceID: piece.ID, Gravity: Mend,
				Mend: dressing(piece.ID, map[string]string{"size": "", "line": "155"}),
			})
		}
	})
	return out
}

// share reads a percentage, or gives what holds where none is set.
func share(percent string, otherwise float64) float64 {
	n, err := strconv.ParseFloat(percent, 64)
	if err != nil {
		return otherwise
	}
	return n / 100
}

// Weights in bytes beyond which pictures keep a reader on a phone waiting: one of
// them, and all of a page together (common practice, no source).
const (
	heavy    = 300 << 10
	heavyAll = 1500 << 10
)

// oversized finds pictures that are heavy even in the size a phone is sent,
// wherever on the page they are shown.
func oversized(p Page) []Finding {
	var out []Finding
	seen, all := map[string]bool{}, 0
	look := func(piece string, ids ...string) {
		for _, id := range ids {
			pic, ok := p.Facts.Pictures[id]
			if !ok || seen[id] {
				continue
			}
			seen[id] = true
			if all += pic.Weight; pic.Weight > heavy {
				out = append(out, Finding{What: fmt.Sprintf("The picture “%s” weighs %d KB as a phone gets it.", pic.Name, pic.Weight>>10), Remedy: "Give the shelf a simpler one; photographs weigh least as JPEG or WebP.", PieceID: piece, Gravity: Notice})
			}
		}
	}
	for _, b := range p.Manuscript.Bands {
		look(firstPiece(b), b.Look["picture"], b.Look[style.Wide+"picture"])
	}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) { look(piece.ID, p.picturesOf(piece)...) })
	if all > heavyAll {
		out = append(out, Finding{What: fmt.Sprintf("The pictures of this page weigh %.1f MB together as a phone gets them.", float64(all)/(1<<20)), Remedy: "Show fewer of them, or simpler ones.", Gravity: Notice})
	}
	return out
}
