package ordermail

import (
	"context"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/pieces"
	"chrysagon/pieces/receipt"
	"chrysagon/render"
	"chrysagon/store"
)

// plains are the words of each kind of mail around what is computed, where its owner wrote
// none; {paid} is when it was paid. Where nothing came of an order, they lead back to the shop.
var plains = map[string]struct {
	headline, before, after string
	back                    bool
}{
	"confirmation": {"Thank you, {name|friend}", "This is your order {order}, of {paid}.", "Whoever has this mail can see your order in any browser; keep it to yourself.", false},
	"awaits":       {"Thank you for your order, {name|friend}", "We hold it for you until it is paid.", "", false},
	"lapsed":       {"Your order was given up", "{name|Friend}, your order was held for you, and your payment did not come in that time. It was given up, and you owe nothing.", "Have you paid? Answer this mail, and we put it right. Would you still like to have it? Order it once more in the shop.", true},
	"download":     {"Here is what you bought, once more", "{name|Friend}, these links are of order {order}. Those from before lead nowhere now.", "", false},
	"sent":         {"Your order is on its way, {name|friend}", "Order {order} has left us.", "", false},
	"refund":       {"Money goes back to you, {name|friend}", "This is about your order {order}.", "", false},
}

// letterOf writes any mail of an order.
func (w *Writer) letterOf(ctx context.Context, m store.Mail, o store.Order) (ports.Letter, error) {
	shop, err := w.Store.Shop(ctx)
	if err != nil {
		return ports.Letter{}, err
	}
	f, err := w.Facts.OrderFacts(ctx, o)
	if err != nil {
		return ports.Letter{}, err
	}
	a := about{mail: m, order: o, facts: f, store: w.Facts.StoreFacts(shop), shop: w.Origins.Shop}
	if err := w.read(ctx, &a); err != nil {
		return ports.Letter{}, err
	}
	if own, has, err := w.written(ctx, a); err != nil || has {
		return own, err
	}
	return w.plain(a, shop)
}

// read reads what only some mails are about: the parcel, or what goes back.
func (w *Writer) read(ctx context.Context, a *about) error {
	db := w.Store.On(ctx)
	var err error
	switch a.mail.Kind {
	case "sent":
		a.parcel, err = store.One[store.Parcel](db.Where("id = ?", a.mail.ID), "There is no such parcel.")
	case "refund":
		r, err := store.One[store.Refund](db.Where("id = ?", a.mail.ID), "There is no such refund.")
		if err != nil {
			return err
		}
		var parts []store.RefundPart
		if err := db.Where("refund_id = ? AND state = 'refunded'", a.mail.ID).Find(&parts).Error; err != nil {
			return err
		}
		a.back, a.why = money.Of(0, a.order.Currency), r.Reason
		for _, p := range parts {
			a.back.Minor += p.AmountMinor
		}
		way, err := factbook.PaidBy(db, a.order.ID)
		a.byHand = way.ByHand()
		return err
	}
	return err
}

// plain writes a mail in the program's own words, with what is computed: who ordered, where it
// can be seen from any browser, the terms, and how to write back.
func (w *Writer) plain(a about, shop store.Shop) (ports.Letter, error) {
	says := plains[a.mail.Kind]
	before := strings.ReplaceAll(says.before, "{paid}", deadline.Written(a.facts.PaidAt, a.store.Zone))
	body := append([]pieces.Block{mail.Says(before)}, receipt.Blocks(a.told())...)
	if says.after != "" {
		body = append(body, mail.Says(says.after))
	}
	if says.back {
		body = append(body, mail.Leads("To the shop", a.shop))
	}
	body = append(body, pieces.Block{As: pieces.Rows, Rows: []facts.ToldRow{{Label: "What holds for all orders", Value: "Our terms", Href: a.shop + "/terms"}}})
	return w.Maker.Make(a.envelope(), shop, a.addressed(), says.headline, body...)
}

// envelope is a mail without its words.
func (a about) envelope() ports.Letter {
	return ports.Letter{ID: a.mail.ID, FromName: a.store.Name, From: a.store.ContactEmail, To: a.order.Email, Subject: a.mail.Subject}
}

// addressed is for whom a mail is written, and what stands beneath it.
func (a about) addressed() render.Addressed {
	return render.Addressed{Name: a.order.Name, Order: called(a.order), Sent: true, Why: "Anything wrong? Answer this mail, or write to " + a.store.ContactEmail + ", and name " + named(a.order) + "."}
}
