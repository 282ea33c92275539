package check

import "chrysagon/core/manuscript"

// Call is one call to action of a page: what it says, and where it leads.
type Call struct {
	PieceID string
	Says    string
	Target  manuscript.Target
}

// Calls lists the calls to action of a page, in reading order: its buttons, its
// checkout, its yes and no, and the buttons of its forms.
func Calls(p Page) []Call {
	var out []Call
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		add := func(says, target string) {
			to, err := manuscript.ParseTarget(target)
			if err == nil && says != "" {
				out = append(out, Call{piece.ID, says, to})
			}
		}
		f := piece.Fields
		switch piece.Kind {
		case "button":
			says, target := asks(piece)
			add(says, target)
			add(f.Text("second"), f.Text("second_target"))
		case "product":
			add(f.Text("label"), or(f.Text("target"), string(manuscript.ToProduct)+":"+f.Text("product")))
		case "rotate":
			for _, item := range f.List("items") {
				add(item.Text("label"), item.Text("target"))
			}
		case "checkout":
			add(or(f.Text("button"), "Order"), string(manuscript.ToCheckout))
		case "answer":
			add(or(f.Text("accept"), "Yes"), string(manuscript.ToYes))
		case "form":
			add(or(f.Text("label"), "Send"), "band:"+bandOf(p.Manuscript, piece.ID))
		}
	})
	return out
}

func or(text, otherwise string) string {
	if text == "" {
		return otherwise
	}
	return text
}

// bandOf is the ID of the band in which a piece stands.
func bandOf(page manuscript.Page, id string) string {
	of := ""
	page.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		if piece.ID == id {
			of = b.ID
		}
	})
	return of
}

// Goals counts the different places to which a page's calls to action lead. A
// link to the band of the checkout, or of the form, leads to what stands there.
func Goals(p Page) int {
	goals := map[manuscript.Target]bool{}
	for _, c := range Calls(p) {
		to := c.Target
		if to.Kind == manuscript.ToBand && holds(p.Manuscript, to.Value, "checkout") {
			to = manuscript.Target{Kind: manuscript.ToCheckout}
		}
		goals[to] = true
	}
	return len(goals)
}

// holds tells whether a band has a piece of a kind.
func holds(page manuscript.Page, band, kind string) bool {
	found := false
	page.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		found = found || (b.ID == band && piece.Kind == kind)
	})
	return found
}
