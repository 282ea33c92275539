package check

import (
	"fmt"
	"strconv"

	"chrysagon/core/manuscript"
)

func books(t manuscript.Traits) bool { return t.Books }

// links finds links that lead to something that is not there.
func links(p Page) []Finding {
	var out []Finding
	for _, l := range p.Links {
		find := func(gravity Gravity, what, remedy string) {
			out = append(out, Finding{What: what, Remedy: remedy, PieceID: l.Piece, Gravity: gravity})
		}
		switch l.Target.Kind {
		case manuscript.ToCheckout:
			if !p.Schema.Has(p.Manuscript, order) {
				find(Mend, "A link leads to the checkout, and this page has none.", "Choose where it leads, or add the checkout.")
			}
		case manuscript.ToBand:
			if _, _, ok := p.Manuscript.Band(l.Target.Value); !ok {
				find(Mend, "A link leads to a band that is gone.", "Choose where it leads.")
			}
		case manuscript.ToPage:
			if to, ok := p.Facts.Pages[l.Target.Value]; !ok {
				find(Stops, "A link leads to a page that is gone.", "Choose another page.")
			} else if to.Aside {
				find(Mend, "A link leads to “"+to.Name+"”, which was set aside.", "Choose another page, or bring that one back.")
			}
		case manuscript.ToYes, manuscript.ToNo:
			if !p.Schema.Has(p.Manuscript, answer) {
				find(Mend, "A link leads to a yes or no, and this page asks nothing.", "Choose where it leads, or add yes and no.")
			}
		case manuscript.ToProduct:
			if _, ok := p.Facts.Sold[l.Target.Value]; !ok {
				find(Mend, "A link leads to goods that no live page sells.", "Publish a page that sells them, or choose another.")
			}
		case manuscript.ToFile:
			if _, ok := p.Facts.Files[l.Target.Value]; !ok {
				find(Stops, "A link leads to a file that is gone.", "Choose another file.")
			}
		case manuscript.ToAppointment:
			if !p.Schema.Has(p.Manuscript, books) && p.Facts.Booked.Address == "" {
				find(Mend, "A link leads to an appointment, and no live page gives any.", "Add the appointment to this page, or to one that is live.")
			}
		case manuscript.ToPhone:
			if l.Target.Value == "" && p.Facts.Store.Phone == "" {
				find(Mend, "A link calls the store, whose number is not known.", "Write a number.")
			}
		case manuscript.ToMail, manuscript.ToHome, manuscript.Outside, manuscript.Nowhere:
		}
	}
	return out
}

// Way is one way that leads away from a page before anything is done on it.
type Way struct {
	PieceID string // of what leads there; empty: the frame around the page
	To      string // where it leads, in words
	Legal   bool   // a link that the law asks for, counted apart
}

// Ways lists the ways out of a page, other than its own yes and no, and the
// legal links.
func Ways(p Page) []Way {
	var out []Way
	add := func(piece, to string) { out = append(out, Way{PieceID: piece, To: to}) }
	menu := func(piece string) {
		add(piece, "the shop’s first page")
		for _, one := range p.Facts.Menu {
			add(piece, one.Name)
		}
	}
	if p.Layout == "header" || p.Layout == "full" {
		menu("")
	}
	for _, l := range p.Links {
		if to := leadsAway(p, l.Target); to != "" {
			add(l.Piece, to)
		}
	}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		switch is := p.of(piece); {
		case is.Menu:
			menu(piece.ID)
		case is.Stands:
			for _, id := range shown(p, piece) {
				if page, ok := p.Facts.Sold[id]; ok && page.Address != p.Address {
					add(piece.ID, page.Name+", for "+p.Facts.Products[id].Name)
				}
			}
		case is.Grouped:
			for _, id := range piece.Fields.Texts("items", "group") {
				if g := p.Facts.Groups[id]; g.Address != "" {
					add(piece.ID, g.Name)
				}
			}
		case is.Legal:
			out = append(out, legalWays(p, piece.ID)...)
		}
	})
	if p.Layout == "full" && !p.Schema.Has(p.Manuscript, legalLinks) {
		out = append(out, legalWays(p, "")...)
	}
	return out
}

func legalWays(p Page, piece string) []Way {
	out := []Way{{piece, "Privacy", true}, {piece, "Terms", true}, {piece, "Contact", true}}
	for _, one := range p.Facts.Legal {
		out = append(out, Way{piece, one.Name, true})
	}
	return out
}

// shown are the goods that a piece's shelf shows of those that stand on it.
func shown(p Page, piece manuscript.Piece) []string {
	list := p.Facts.Shelves[piece.Fields.Text("shelf")].Goods
	most, err := strconv.Atoi(piece.Fields.Text("show"))
	if err != nil || most <= 0 {
		most = 8
	}
	return list[:min(most, len(list))]
}

// leadsAway says where a link leads, when that is away from the page.
func leadsAway(p Page, to manuscript.Target) string {
	switch to.Kind {
	case manuscript.ToPage:
		return p.Facts.Pages[to.Value].Name
	case manuscript.ToHome:
		return "the shop’s first page"
	case manuscript.Outside:
		return to.Value
	case manuscript.ToProduct:
		if page, ok := p.Facts.Sold[to.Value]; ok && page.Address != p.Address {
			return page.Name
		}
	case manuscript.ToAppointment:
		if !p.Schema.Has(p.Manuscript, books) {
			return "an appointment"
		}
	case manuscript.ToYes, manuscript.ToNo, manuscript.ToFile, manuscript.ToPhone, manuscript.ToMail, manuscript.ToBand, manuscript.ToCheckout, manuscript.Nowhere:
	}
	return ""
}

// WaysOut counts the ways out of a page, without the legal links.
func WaysOut(p Page) int {
	n := 0
	for _, w := range Ways(p) {
		if !w.Legal {
			n++
		}
	}
	return n
}

// closed are the purposes whose pages should have one way to act and no other.
var closed = map[string]bool{"sales": true, "upsell": true, "downsell": true, "opt_in": true}

func waysOut(p Page) []Finding {
	n := WaysOut(p)
	if n == 0 || !closed[p.Purpose] {
		return nil
	}
	what, remedy := fmt.Sprintf("%d ways lead out of this page before anything is done on it.", n), "Take them away, or make the page bare."
	if n == 1 {
		what = "One way leads out of this page before anything is done on it."
	}
	return []Finding{{What: what, Remedy: remedy, Gravity: Notice}}
}
