package check

import (
	"slices"

	"chrysagon/core/manuscript"
	"chrysagon/core/order"
)

// connected finds what a page promises that no service is there to do: to take a
// payment, or to send a mail.
func connected(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		switch {
		case p.Facts.Store.Unpaid && takes(p.of(piece)) && !p.paidByHand(piece):
			out = append(out, Finding{What: "No payment gateway is connected, so nobody can pay here.", Remedy: "Connect one by the program’s settings (“chrysagon settings” lists them), then publish.", PieceID: piece.ID, Gravity: Stops})
		case p.Facts.Store.Unmailed && p.mails(piece):
			out = append(out, Finding{What: "What this form promises goes by mail, and no mail server is set.", Remedy: "Set CHRYSAGON_SMTP (“chrysagon settings” lists it), then publish.", PieceID: piece.ID, Gravity: Stops})
		}
	})
	return out
}

// paidByHand tells whether a piece can be paid by a way that the store has set up and that
// needs no gateway.
func (p Page) paidByHand(piece manuscript.Piece) bool {
	of := p.of(piece).Pays
	return of != nil && slices.ContainsFunc(of(piece.Fields), func(w order.Way) bool { return w.ByHand() && p.Facts.Store.Ways.Has(w) })
}

// unset finds ways to pay that a checkout offers and the store has not set up.
func unset(p Page) []Finding {
	remedies := map[order.Way]string{
		order.ByAccount:    "Connect a gateway that can, or offer it no more.",
		order.ByTransfer:   "Write the account under Orders, Ways to pay, or offer it no more.",
		order.OnCollection: "Write where goods are fetched under Orders, Ways to pay, or offer it no more.",
	}
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		of := p.of(piece).Pays
		if of == nil {
			return
		}
		for _, w := range of(piece.Fields) {
			if !p.Facts.Store.Ways.Has(w) {
				out = append(out, Finding{
					What: "The checkout offers to be paid " + w.Paid() + ", which is not set up, so it is not shown.", Remedy: remedies[w], PieceID: piece.ID, Gravity: Mend,
					Mend: &manuscript.Command{Op: manuscript.SetField, Piece: piece.ID, Field: string(w), Value: "no"},
				})
			}
		}
	})
	return out
}

// mails tells whether a piece promises a mail: a message to the store, a file that
// is handed out, an appointment confirmed.
func (p Page) mails(piece manuscript.Piece) bool {
	promises := p.of(piece).Mails
	return promises != nil && promises(piece.Fields)
}
