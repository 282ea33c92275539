package ordermail

import (
	"context"
	"fmt"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/core/deadline"
	"chrysagon/core/order"
	"chrysagon/store"

	"gorm.io/gorm"
)

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
