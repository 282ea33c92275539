package check

import (
	"slices"
	"strings"

	"chrysagon/core/checkout"
	"chrysagon/core/manuscript"
	"chrysagon/core/words"
)

// travels tells whether anything that a piece sells, or adds by a bump, goes by parcel.
func (p Page) travels(piece manuscript.Piece) bool {
	sells, bumps := p.Schema.Buys(piece)
	if p.Schema.Fills(piece) {
		sells = append(sells, p.listed()...)
	}
	return slices.ContainsFunc(append(sells, bumps...), func(id string) bool {
		product, known := p.Facts.Products[id]
		return known && product.Sent()
	})
}

// listed are the goods that the page's lists show.
func (p Page) listed() []string {
	var out []string
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if p.of(piece).Stands {
			out = append(out, shown(p, piece)...)
		}
	})
	return out
}

// unfilled finds a checkout that is filled from lists on a page that has none.
func (p Page) unfilled(piece manuscript.Piece) []Finding {
	lists := 0
	p.Manuscript.Walk(func(_ manuscript.Band, other manuscript.Piece) {
		if p.of(other).Stands {
			lists++
		}
	})
	if lists > 0 {
		return nil
	}
	return []Finding{{What: "Goods of the page’s lists are put into this checkout, and there is no list on the page.", Remedy: "Insert a shelf of goods, or choose a product.", PieceID: piece.ID, Gravity: Stops}}
}

// asked finds order forms that lack what a sale needs, and those that ask for what it
// does not: every field more loses buyers (common practice, no source).
func asked(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if of := p.of(piece).Orders; of != nil {
			out = append(out, p.askedIn(piece, of(piece.Fields))...)
		}
	})
	return out
}

func (p Page) askedIn(piece manuscript.Piece, form checkout.Form) []Finding {
	set := func(field string, to checkout.Asks) *manuscript.Command {
		return &manuscript.Command{Op: manuscript.SetField, Piece: piece.ID, Field: field, Value: string(to)}
	}
	var out []Finding
	travels := p.travels(piece)
	if travels && form.Address == checkout.Absent {
		out = append(out, Finding{
			What: "The checkout leaves the address out, and what it sells goes by parcel.", Remedy: "Let it ask where a parcel goes.",
			PieceID: piece.ID, Gravity: Stops, Mend: set("address", "sent"),
		})
	}
	if travels && form.Name != checkout.Needed && form.Name != "" {
		out = append(out, Finding{
			What: "A parcel needs the name of somebody, and the checkout does not ask for it in every order.", Remedy: "Let the name be needed.",
			PieceID: piece.ID, Gravity: Mend, Mend: set("name", checkout.Needed),
		})
	}
	for _, item := range piece.Fields.List("questions") {
		if item.Text("says") != "" && item.Text("kind") == string(checkout.Choice) && strings.Trim(item.Text("options"), " /") == "" {
			out = append(out, Finding{What: "“" + item.Text("says") + "” is answered by a choice, and there is nothing to choose.", Remedy: "Write what can be chosen, with strokes between.", PieceID: piece.ID, Gravity: Mend})
		}
	}
	return append(out, needless(piece, form, travels, set)...)
}

// needless finds what a form asks and its sale does not need.
func needless(piece manuscript.Piece, form checkout.Form, travels bool, set func(string, checkout.Asks) *manuscript.Command) []Finding {
	var names, fields []string
	add := func(asks checkout.Asks, field, name string) {
		if asks == checkout.Needed {
			names, fields = append(names, name), append(fields, field)
		}
	}
	add(form.Phone, "phone", "a phone number")
	add(form.Company, "company", "a company")
	add(form.Payer, "payer", "the payer’s address")
	add(form.Tax, "tax", "a tax number")
	add(form.Note, "note", "a note")
	if !travels {
		add(form.Address, "address", "an address")
	}
	if len(names) == 0 {
		return nil
	}
	f := Finding{
		What:    "The checkout takes no order without " + words.And(names...) + ", which this sale does not need.",
		Remedy:  "Leave it to who likes to answer, or out: every field more loses buyers.",
		PieceID: piece.ID, Gravity: Notice,
	}
	if len(fields) == 1 {
		f.Mend = set(fields[0], checkout.Shown)
	}
	return []Finding{f}
}

// chosen finds options that name nothing, and bumps that nobody can take.
func chosen(p Page) []Finding {
	var out []Finding
	find := func(piece manuscript.Piece, what, remedy string) {
		out = append(out, Finding{What: what, Remedy: remedy, PieceID: piece.ID, Gravity: Mend})
	}
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if p.of(piece).Orders == nil {
			return
		}
		sells, bumps := p.Schema.Buys(piece)
		for _, item := range piece.Fields.List("options") {
			if _, known := p.Facts.Products[item.Text("product")]; !known {
				find(piece, "Something to choose from in the checkout names no product, so it is not shown.", "Choose its product, or take it away.")
			}
		}
		for _, id := range bumps {
			product, known := p.Facts.Products[id]
			switch {
			case !known:
				find(piece, "An order bump names no product that there is.", "Choose another, or take it away.")
			case slices.Contains(sells, id):
				find(piece, product.Name+" is sold here and stands as an order bump too, where it is not shown.", "Offer something else as a bump.")
			case product.SoldOut():
				find(piece, product.Name+" stands as an order bump and is sold out, so it is not shown.", "Bring in stock, or offer something else.")
			}
		}
	})
	return out
}
