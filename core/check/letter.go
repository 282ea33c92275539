package check

import (
	"fmt"
	"regexp"

	"chrysagon/core/mailing"
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/rich"
	"chrysagon/core/style"
	"chrysagon/core/target"
)

// What an inbox shows on a line of a phone's width, in characters, and what mail programs
// take of a letter before they cut it, in bytes (common practice, no source).
const (
	SubjectShown = 48
	PreviewShown = 90
	LetterMost   = 102 << 10
)

// ofLetters are the checks of what goes out by mail.
var ofLetters = []func(Page) []Finding{subject, written, unmailable, receipts, holes, leadsOn, unsold, unkept, faint, vague, urgency, goodsLeft, unproved, overlong, pictures, deadlines, links, codes, unchanged}

// subject looks at what an inbox shows of a letter: its subject, and the line after it.
func subject(p Page) []Finding {
	var out []Finding
	switch n := len([]rune(p.Title)); {
	case n == 0:
		out = append(out, Finding{What: "The letter has no subject.", Remedy: "Write one as its title, under “Name and address”.", Gravity: Stops})
	case n > SubjectShown:
		out = append(out, Finding{What: fmt.Sprintf("The subject has %d characters; a phone’s inbox shows about %d.", n, SubjectShown), Remedy: "Say what matters first, or shorten it.", Gravity: Notice})
	}
	switch n := len([]rune(p.Description)); {
	case n == 0:
		out = append(out, Finding{What: "Nothing is written for the line after the subject; inboxes take the first words of the letter.", Remedy: "Write it as its description, under “Name and address”.", Gravity: Notice})
	case n > PreviewShown:
		out = append(out, Finding{What: fmt.Sprintf("The line after the subject has %d characters; inboxes show about %d.", n, PreviewShown), Remedy: "Shorten it under “Name and address”.", Gravity: Notice})
	}
	return out
}

// written finds a letter without words: who does not load pictures reads nothing.
func written(p Page) []Finding {
	words, pictured := 0, false
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if !p.Mailable[piece.Kind] {
			return
		}
		pictured = pictured || p.of(piece).Pictured
		for _, f := range p.Schema[piece.Kind].Fields {
			if f.Written() {
				words += len([]rune(rich.Text(piece.Fields.Text(f.Name))))
			}
		}
	})
	switch {
	case words == 0 && !pictured:
		return []Finding{{What: "Nothing is written in the letter.", Remedy: "Write it.", Gravity: Stops}}
	case words < 80 && pictured:
		return []Finding{{What: "The letter is little more than a picture; many mail programs show none at first.", Remedy: "Say in words what it is about.", Gravity: Mend}}
	}
	return nil
}

// unmailable finds pieces that cannot stand in a letter.
func unmailable(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		if !p.Mailable[piece.Kind] {
			out = append(out, Finding{
				What: fmt.Sprintf("In “%s”: %s cannot stand in a letter; it is left out.", b.Name, p.Schema[piece.Kind].Title), Remedy: "Lead to a page that has it, by a button.", PieceID: piece.ID, Gravity: Mend,
			})
		}
	})
	return out
}

// receipts looks at what is computed of an order: its mails must say it, and other letters
// have none.
func receipts(p Page) []Finding {
	about, found := purpose.Of(p.Purpose).Order, ""
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if p.of(piece).Listed {
			found = piece.ID
		}
	})
	switch {
	case about == "" && found != "":
		return []Finding{{What: "“What was bought” stands in a letter that is about no order; it is left out.", Remedy: "Take it out.", PieceID: found, Gravity: Mend}}
	case about != "" && about != "lapsed" && found == "":
		return []Finding{{What: "The mail does not say what it is about: “What was bought” is missing, which holds what is computed.", Remedy: "Put it in.", Gravity: Stops}}
	}
	return nil
}

// holes finds fields of the person that say nothing for when they are not known.
func holes(p Page) []Finding {
	texts := map[string]string{"": p.Title + " " + p.Description}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		for _, f := range p.Schema[piece.Kind].Fields {
			if f.Written() {
				texts[piece.ID] += " " + piece.Fields.Text(f.Name)
			}
		}
	})
	var out []Finding
	for id, text := range texts {
		for _, hole := range mailing.Unknown(text) {
			out = append(out, Finding{What: "Whose name is not known would read nothing in place of " + hole + ".", Remedy: "Say what stands there then, as in {name|friend}.", PieceID: id, Gravity: Mend})
		}
	}
	return out
}

// leadsOn finds links of a letter that lead to nothing: a letter has no checkout and no
// bands to jump to, and no walk that its yes or no could go on.
func leadsOn(p Page) []Finding {
	var out []Finding
	leads := 0
	for _, l := range p.Links {
		if l.Target.Kind.OfPage() {
			out = append(out, Finding{What: "A link leads to " + l.Target.Words(p.on()) + "; a letter is no page.", Remedy: "Choose a page that it leads to.", PieceID: l.Piece, Gravity: Mend})
			continue
		}
		leads++
	}
	if leads == 0 && len(out) == 0 {
		out = append(out, Finding{What: "Nothing in the letter leads anywhere, so nobody can do anything after reading it.", Remedy: "Put a button in that leads to a page.", Gravity: Notice})
	}
	return out
}

// unsold finds a product in a letter that leads to no page of its own choice, and that no live
// page sells: nobody who reads of it could order it. Those of shelves are told with their shelf.
func unsold(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		product, known := p.Facts.Products[piece.Fields.Text("product")]
		if _, sold := p.Facts.Sold[product.ID]; !known || sold || !p.of(piece).Shows || piece.Fields.Text("target") != "" {
			return
		}
		out = append(out, Finding{What: product.Name + " leads nowhere: no live page sells it.", Remedy: "Publish a page that sells it, or show something else.", PieceID: piece.ID, Gravity: Mend})
	})
	return out
}

// overlong finds a letter that mail programs would cut.
func overlong(p Page) []Finding {
	if p.FirstView <= LetterMost {
		return nil
	}
	return []Finding{{What: fmt.Sprintf("The letter is %d KB; mail programs cut letters above 102 KB, with the link that ends them.", p.FirstView>>10), Remedy: "Shorten it, or show fewer goods.", Gravity: Mend}}
}

// Words of a letter that promise something: a thing that comes with it, one to be taken, a way
// that leads to it, a code.
var (
	enclosed = regexp.MustCompile(`(?i)\b(attached|attachments?|enclosed)\b`)
	taken    = regexp.MustCompile(`(?i)\b(download|here (it|they) (is|are)|(your|the) (free )?(gift|guide|pdf|e-?book|plans|checklist|recording)\b[^.!?]{0,30}\b(is here|are here|waits?|inside|below))\b`)
	pointed  = regexp.MustCompile(`(?i)\b((the|this|a) (button|link)|click|tap|press here|(here|see|read) below)\b`)
	coded    = regexp.MustCompile(`(?i)\b((the|this|your) (discount |gift )?code|enter code)\b`)
)

// unkept finds promises that nothing in the letter keeps: letters carry no files, and what is
// promised in them is kept by a link, or by a code to copy.
func unkept(p Page) []Finding {
	leads, on, codes := 0, 0, false
	for _, l := range p.Links {
		switch l.Target.Kind {
		case target.Nowhere:
			continue
		case target.Home, target.Phone, target.Message, target.Mail:
		default:
			on++
		}
		leads++
	}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		is := p.of(piece)
		codes = codes || is.Code
		if is.Stands || is.Shows || is.Grouped || is.Listed { // goods lead to their pages, a receipt to what was bought
			leads, on = leads+1, on+1
		}
	})
	var out []Finding
	said(p.Manuscript, func(_ manuscript.Band, piece manuscript.Piece, _, text string) {
		plain := rich.Text(text)
		find := func(of *regexp.Regexp, what, remedy string) {
			if words := of.FindString(plain); words != "" {
				out = append(out, Finding{What: fmt.Sprintf("The words “%s” promise something, and %s.", cut(words), what), Remedy: remedy, PieceID: piece.ID, Gravity: Mend})
			}
		}
		find(enclosed, "nothing comes with the letter: letters carry no files", "Lead to the file by a button.")
		if on == 0 {
			find(taken, "nothing in the letter leads to it", "Put a button in that leads to the file, or to the page where it is.")
		}
		if leads == 0 {
			find(pointed, "nothing in the letter can be pressed", "Put a button in that leads there.")
		}
		if !codes {
			find(coded, "no code stands in the letter", "Put the code in as a piece, so that it is checked and can be copied.")
		}
	})
	return out
}

// faint finds words that do not stand out in the house's letters, by day or where it is dark:
// a letter that was sent is not mended any more.
func faint(p Page) []Finding {
	var out []Finding
	house := p.Facts.Store.House
	told := map[string]bool{}
	for _, at := range []struct {
		when string
		of   style.LetterColours
	}{{"", house.Letter()}, {" where it is dark", house.LetterInTheDark()}} {
		for _, r := range at.of.Readings() {
			if r.Holds() || told[r.What] {
				continue
			}
			told[r.What] = true
			out = append(out, Finding{
				What: fmt.Sprintf("%s of the letter%s stand out too little: %.1f to 1, and %.1f is needed.", r.What, at.when, r.Ratio, r.Least), Remedy: "Mend its colours under “House style”; they hold for every letter.", Gravity: Mend,
			})
		}
	}
	return out
}
