package check

import "chrysagon/core/manuscript"

// connected finds what a page promises that no service is there to do: to take a
// payment, or to send a mail.
func connected(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		switch {
		case p.Facts.Store.Unpaid && takes(p.of(piece)):
			out = append(out, Finding{What: "No payment gateway is connected, so nobody can pay here.", Remedy: "Connect one by the program’s settings (“chrysagon settings” lists them), then publish.", PieceID: piece.ID, Gravity: Stops})
		case p.Facts.Store.Unmailed && p.mails(piece):
			out = append(out, Finding{What: "What this form promises goes by mail, and no mail server is set.", Remedy: "Set CHRYSAGON_SMTP (“chrysagon settings” lists it), then publish.", PieceID: piece.ID, Gravity: Stops})
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
