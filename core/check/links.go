package check

import (
	"fmt"
	"strconv"

	"chrysagon/core/manuscript"
	"chrysagon/core/target"
)

// links finds links that lead to something that is not there.
func links(p Page) []Finding {
	var out []Finding
	on := p.on()
	for _, l := range p.Links {
		if lost, is := l.Target.Lost(on); is {
			gravity := Mend
			if lost.Stops {
				gravity = Stops
			}
			out = append(out, Finding{What: lost.What, Remedy: lost.Remedy, PieceID: l.Piece, Gravity: gravity})
		}
	}
	return out
}

// on is the page as its links ask for it.
func (p Page) on() target.On {
	on := p.Schema.Leading(p.Manuscript)
	on.Facts, on.Address = &p.Facts, p.Address
	return on
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
	on := p.on()
	for _, l := range p.Links {
		if to := l.Target.Away(on); to != "" {
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
