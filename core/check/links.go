package check

import (
	"fmt"

	"chrysagon/core/manuscript"
)

// links finds links that lead to something that is not there.
func links(p Page) []Finding {
	var out []Finding
	for _, l := range p.Links {
		find := func(gravity Gravity, what, remedy string) {
			out = append(out, Finding{What: what, Remedy: remedy, PieceID: l.Piece, Gravity: gravity})
		}
		switch l.Target.Kind {
		case manuscript.ToCheckout:
			if Count(p.Manuscript, "checkout") == 0 {
				find(Mend, "A link leads to the checkout, and this page has none.", "Choose where it leads, or add the checkout.")
			}
		case manuscript.ToBand:
			if _, _, ok := p.Manuscript.Band(l.Target.Value); !ok {
				find(Mend, "A link leads to a band that is gone.", "Choose where it leads.")
			}
		case manuscript.ToPage:
			if _, ok := p.Facts.Pages[l.Target.Value]; !ok {
				find(Stops, "A link leads to a page that is gone.", "Choose another page.")
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

// WaysOut counts the links that lead away from a page, other than its own yes
// and no and the legal links: each is a way not to buy.
func WaysOut(p Page) int {
	n := 0
	for _, l := range p.Links {
		switch l.Target.Kind {
		case manuscript.ToPage, manuscript.ToHome, manuscript.Outside:
			n++
		case manuscript.ToPhone, manuscript.ToMail, manuscript.ToBand, manuscript.ToCheckout, manuscript.Nowhere:
		}
	}
	menus := Count(p.Manuscript, "menu")
	if p.Layout == "header" || p.Layout == "full" {
		menus++
	}
	return n + menus*(1+len(p.Facts.Menu))
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
