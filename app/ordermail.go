package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/store"

	"gorm.io/gorm"
)

// writeSent tells a buyer that the order is on its way.
func writeSent(m store.Mail, o store.Order, p store.Parcel, f *facts.Order, s facts.Store, shop string) Letter {
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
	if place := addressed(o); len(place) > 0 {
		fmt.Fprintf(&text, "\nIt goes to:\n  %s\n", strings.Join(place, "\n  "))
	}
	return closed(&text, m, o, s, shop)
}

// writeRefund tells a buyer what goes back.
func writeRefund(m store.Mail, o store.Order, parts []store.RefundPart, reason string, s facts.Store, shop string) Letter {
	sum := money.Of(0, o.Currency)
	for _, p := range parts {
		sum.Minor += p.AmountMinor
	}
	var text strings.Builder
	fmt.Fprintf(&text, "Dear %s,\n\nof your order %d, %s goes back to the card it was paid with. How soon it shows there is up to your bank.\n", o.Name, *o.Number, sum)
	if reason != "" {
		fmt.Fprintf(&text, "\nReason: %s\n", reason)
	}
	return closed(&text, m, o, s, shop)
}

// closed ends a letter to a buyer.
func closed(text *strings.Builder, m store.Mail, o store.Order, s facts.Store, shop string) Letter {
	fmt.Fprintf(text, "\nYour order, to be seen from anywhere: %s\n\nAnything wrong? Answer this mail, or write to %s, and name order %d.\n\n%s\n%s\n", shop+OrderPath(o.Token), s.ContactEmail, *o.Number, s.LegalName, s.LegalAddress)
	return Letter{ID: m.ID, FromName: s.Name, From: s.ContactEmail, To: o.Email, Subject: m.Subject, Text: text.String(), HTML: plainHTML(text.String())}
}

// letterOf writes any mail of an order.
func (a *App) letterOf(ctx context.Context, m store.Mail, o store.Order) (Letter, error) {
	shop, err := a.Shop(ctx)
	if err != nil {
		return Letter{}, err
	}
	f, err := a.OrderFacts(ctx, o)
	if err != nil {
		return Letter{}, err
	}
	s := a.storeFacts(shop)
	switch m.Kind {
	case "sent":
		p, err := one[store.Parcel](a.db(ctx).Where("id = ?", m.ID), "There is no such parcel.")
		return writeSent(m, o, p, f, s, a.Origins.Shop), err
	case "refund":
		r, err := one[store.Refund](a.db(ctx).Where("id = ?", m.ID), "There is no such refund.")
		if err != nil {
			return Letter{}, err
		}
		var parts []store.RefundPart
		err = a.db(ctx).Where("refund_id = ? AND state = 'refunded'", m.ID).Find(&parts).Error
		return writeRefund(m, o, parts, r.Reason, s, a.Origins.Shop), err
	}
	return write(m, o, f, s, a.Origins.Shop)
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

// tellOwner puts a mail to the owner into the queue, where one is wanted for each.
func (a *App) tellOwner(tx *gorm.DB, orderID string) error {
	if a.Post == nil {
		return nil
	}
	var way string
	if err := tx.Raw("SELECT order_mail FROM store").Scan(&way).Error; err != nil || way != "each" {
		return err
	}
	return a.Queue.Put(tx, TellOwner{OrderID: orderID})
}

// DeliverToOwner sends it. What an upsell adds within its hour is in the order's
// place; the mail says so.
func (a *App) DeliverToOwner(ctx context.Context, orderID string) error {
	o, err := one[store.Order](a.db(ctx).Where("id = ?", orderID), noOrder)
	if err != nil || o.ToldAt != nil {
		return err
	}
	shop, err := a.Shop(ctx)
	if err != nil {
		return err
	}
	f, err := a.OrderFacts(ctx, o)
	if err != nil {
		return err
	}
	var text strings.Builder
	fmt.Fprintf(&text, "%s ordered at %s:\n\n", o.Name, deadline.Written(*o.PaidAt, shop.Zone))
	for _, l := range f.Lines {
		fmt.Fprintf(&text, "  %d × %s  %s\n", l.Quantity, l.Name, l.Total)
	}
	fmt.Fprintf(&text, "\n  Paid: %s\n", f.Total)
	if place := addressed(o); len(place) > 0 {
		fmt.Fprintf(&text, "\nTo:\n  %s\n", strings.Join(place, "\n  "))
	}
	fmt.Fprintf(&text, "\nThe order, with anything added to it since: %s\n", a.Origins.Studio+"/orders/"+o.ID)
	err = a.send(ctx, toStore(shop, "owner-"+o.ID, fmt.Sprintf("Order %d: %s, %s", *o.Number, f.Total, o.Name), text.String(), o.Email))
	if err != nil {
		return fmt.Errorf("tell the owner of order %d: %w", *o.Number, err)
	}
	return a.db(ctx).Model(&store.Order{}).Where("id = ?", o.ID).Update("told_at", a.Now()).Error
}

// digestHour is when the daily mail goes out, in the store's zone.
const digestHour = 7

// Digest puts the owner's daily mail into the queue once its hour has come: the
// orders since the last one. It returns whether it was due.
func (a *App) Digest(ctx context.Context) (bool, error) {
	shop, err := a.Shop(ctx)
	if err != nil || shop.OrderMail != "daily" || a.Post == nil {
		return false, err
	}
	loc, err := time.LoadLocation(shop.Zone)
	if err != nil {
		return false, fmt.Errorf("the store's zone: %w", err)
	}
	now := a.Now()
	local := now.In(loc)
	due := time.Date(local.Year(), local.Month(), local.Day(), digestHour, 0, 0, 0, loc)
	if now.Before(due) {
		due = due.AddDate(0, 0, -1)
	}
	since := due.AddDate(0, 0, -1)
	if shop.DigestAt != nil {
		if !shop.DigestAt.Before(due) {
			return false, nil
		}
		since = *shop.DigestAt
	}
	// Whoever moves the moment on sends: two programs send one mail.
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		moved := tx.Exec("UPDATE store SET digest_at = ? WHERE digest_at IS NOT DISTINCT FROM ?", now, shop.DigestAt)
		if moved.Error != nil || moved.RowsAffected == 0 {
			return moved.Error
		}
		return a.Queue.Put(tx, SendDigest{Since: since, Until: now})
	})
	return err == nil, err
}

// SendDigest is the job that sends the owner's daily mail.
type SendDigest struct {
	Since time.Time `json:"since"`
	Until time.Time `json:"until"`
}

// Kind names the job in the queue.
func (SendDigest) Kind() string { return "send_digest" }

// DeliverDigest sends the orders of a span of time, unless there are none.
func (a *App) DeliverDigest(ctx context.Context, d SendDigest) error {
	shop, err := a.Shop(ctx)
	if err != nil {
		return err
	}
	var rows []OrderRow
	err = a.db(ctx).Raw(orderRows+" WHERE o.state = 'paid' AND o.paid_at >= ? AND o.paid_at < ? ORDER BY o.paid_at", d.Since, d.Until).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return err
	}
	sum, text := money.Of(0, shop.Currency), strings.Builder{}
	for _, r := range rows {
		sum.Minor += r.TotalMinor
		fmt.Fprintf(&text, "%d  %s  %s\n    %s\n", *r.Number, r.Total(), r.Name, r.Items)
	}
	subject := fmt.Sprintf("%d orders, %s", len(rows), sum)
	if len(rows) == 1 {
		subject = fmt.Sprintf("One order, %s", sum)
	}
	fmt.Fprintf(&text, "\nTo pack: %s\n", a.Origins.Studio+"/orders")
	return a.send(ctx, toStore(shop, "digest-"+d.Until.UTC().Format("20060102t150405"), subject, text.String(), ""))
}
