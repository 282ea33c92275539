package check

import (
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
)

// toOrder is what to do about a checkout on a page that does not sell: on a list of goods,
// or on any other.
var toOrder = map[bool]string{
	true:  "What is ordered from a list stands on a sales page: begin one from the template “List with checkout”, or lead to one from here.",
	false: "Make a sales page, or lead to one from here.",
}

// misplaced finds what charges a card on a page whose place in the funnel
// leads nowhere afterwards.
func misplaced(p Page) []Finding {
	step := purpose.Of(p.Purpose).Step
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		switch {
		case orders(p.of(piece)) && step != route.Sales:
			out = append(out, Finding{What: "A checkout stands on a page that is no sales page, so its buyer would have nowhere to go.", Remedy: toOrder[step == route.List], PieceID: piece.ID, Gravity: Stops})
		case answer(p.of(piece)) && !step.Offers():
			out = append(out, Finding{What: "Yes and no stand on a page that follows no payment, so there is no card to charge.", Remedy: "Make an upsell, or take the band away.", PieceID: piece.ID, Gravity: Stops})
		}
	})
	return out
}
