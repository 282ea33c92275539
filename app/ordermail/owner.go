package ordermail

import (
	"context"
	"fmt"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/store"

	"gorm.io/gorm"
)

// writeSent tells a buyer that the order is on its way.
func writeSent(m store.Mail, o store.Order, p store.Parcel, f *facts.Order, s facts.Store, shop string) ports.Letter {
	var text strings.Builder
	fmt.Fprintf(&text, "Dear %s,\n\nyour order %d is on its way", o.Name, *o.Number)
	if p.Carrier != "" {
		fmt.Fprintf(&text, " with %s", p.Carrier)
	}
	text.WriteString(".\n")
	if p.Number != "" {
		fmt.Fprintf(&text, "The parcel’s number is %s.\n", p.Number)
	}
	text.WriteString("\n")
	for _, l := range f.Lines {
		if l.Download == "" {
			fmt.Fprintf(&text, "  %d × %s\n", l.Quantity, l.Name)
		}
	}
	if place := factbook.Addressed(o); len(place) > 0 {
		fmt.Fprintf(&text, "\nIt goes to:\n  %s\n", strings.Join(place, "\n  "))
	}
	return closed(&text, m, o, s, shop)
}

// writeRefund tells a buyer what goes back.
func (a about) writeRefund() ports.Letter {
	var text strings.Builder
	fmt.Fprintf(&text, "Dear %s,\n\nof your order %d, %s %s\n", a.order.Name, *a.order.Number, a.back, strings.TrimPrefix(backWay(a.byHand), "It "))
	if a.why != "" {
		fmt.Fprintf(&text, "\nReason: %s\n", a.why)
	}
	return closed(&text, a.mail, a.order, a.store, a.shop)
}

// closed ends a letter to a buyer.
func closed(text *strings.Builder, m store.Mail, o store.Order, s facts.Store, shop string) ports.Letter {
	if order.State(o.State) != order.Released {
		fmt.Fprintf(text, "\nYour order, to be seen from anywhere: %s\n", shop+order.Path(o.Token))
	}
	fmt.Fprintf(text, "\nAnything wrong? Answer this mail, or write to %s, and name %s.\n\n%s\n%s\n", s.ContactEmail, named(o), s.LegalName, s.LegalAddress)
	return ports.Letter{ID: m.ID, FromName: s.Name, From: s.ContactEmail, To: o.Email, Subject: m.Subject, Text: text.String(), HTML: mail.PlainHTML(text.String())}
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
	switch m.Kind {
	case "awaits":
		return writeAwaits(m, o, f, a.store, a.shop), nil
	case "download":
		return writeDownload(m, o, f, a.store, a.shop), nil
	case "lapsed":
		return writeLapsed(m, o, a.store, a.shop), nil
	case "sent":
		return writeSent(m, o, a.parcel, f, a.store, a.shop), nil
	case "refund":
		return a.writeRefund(), nil
	}
	return write(m, o, f, a.store, a.shop)
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

// TellOwner is the job that tells the owner of one order.
type TellOwner struct {
	OrderID string `json:"order_id"`
}

// Kind names the job in the queue.
func (TellOwner) Kind() string { return "tell_owner" }

// OrderMails are the ways in which an owner can hear of orders.
var OrderMails = []struct{ Name, Words string }{
	{"each", "a mail for each order"}, {"daily", "one mail a day, in the morning"}, {"none", "no mail"},
}

// TellOwner puts a mail to the owner into the queue, where one is wanted for each.
func (w *Writer) TellOwner(tx *gorm.DB, orderID string) error {
	if w.Ports.Post == nil {
		return nil
	}
	var way string
	if err := tx.Raw("SELECT order_mail FROM store").Scan(&way).Error; err != nil || way != "each" {
		return err
	}
	return w.Queue.Put(tx, TellOwner{OrderID: orderID})
}

// DeliverToOwner sends it. What an upsell adds within its hour is in the order's
// place; the mail says so.
func (w *Writer) DeliverToOwner(ctx context.Context, orderID string) error {
	o, err := store.One[store.Order](w.Store.On(ctx).Where("id = ?", orderID), factbook.NoOrder)
	if err != nil || o.ToldAt != nil {
		return err
	}
	shop, err := w.Store.Shop(ctx)
	if err != nil {
		return err
	}
	f, err := w.Facts.OrderFacts(ctx, o)
	if err != nil {
		return err
	}
	if order.State(o.State) == order.Released {
		return nil // given up before anybody was told
	}
	came, paid, subject := o.CreatedAt, "To pay", fmt.Sprintf("An order to confirm: %s, %s", f.Total, o.Name)
	if o.PaidAt != nil {
		came, paid, subject = *o.PaidAt, "Paid", fmt.Sprintf("Order %d: %s, %s", *o.Number, f.Total, o.Name)
	}
	var text strings.Builder
	fmt.Fprintf(&text, "%s ordered at %s:\n\n", o.Name, deadline.Written(came, shop.Zone))
	for _, l := range f.Lines {
		fmt.Fprintf(&text, "  %d × %s  %s\n", l.Quantity, l.Name, l.Total)
	}
	fmt.Fprintf(&text, "\n  %s: %s\n", paid, f.Total)
	if f.Awaits != nil {
		fmt.Fprintf(&text, "\nIt is paid %s, and held until the end of %s. Say so when the money is there.\n", f.Awaits.Way.Paid(), f.Awaits.Day)
		if f.Awaits.Transfer() {
			fmt.Fprintf(&text, "The transfer bears: %s\n", f.Awaits.Reference)
		}
	}
	if place := factbook.Addressed(o); len(place) > 0 {
		fmt.Fprintf(&text, "\nTo:\n  %s\n", strings.Join(place, "\n  "))
	}
	if payer := factbook.Payer(o); len(payer) > 0 {
		fmt.Fprintf(&text, "\nThe invoice goes to:\n  %s\n", strings.Join(payer, "\n  "))
	}
	for i, said := range factbook.Said(o) {
		fmt.Fprintf(&text, "%s%s: %s\n", []string{"\n", ""}[min(i, 1)], said.Asks, said.Says)
	}
	fmt.Fprintf(&text, "\nThe order, with anything added to it since: %s\n", w.Origins.Studio+"/orders/"+o.ID)
	err = w.Mail.Send(ctx, mail.ToStore(shop, "owner-"+o.ID, subject, text.String(), o.Email))
	if err != nil {
		return fmt.Errorf("tell the owner of order %d: %w", *o.Number, err)
	}
	return w.Store.On(ctx).Model(&store.Order{}).Where("id = ?", o.ID).Update("told_at", w.Store.Now()).Error
}
