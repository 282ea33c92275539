package ordermail

import (
	"context"
	"fmt"
	"strings"

	"chrysagon/core/facts"
	"chrysagon/core/order"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Awaited tells a buyer how to pay an order that waits for it, and the owner that it came.
func (w *Writer) Awaited(tx *gorm.DB, o store.Order) error {
	if w.Ports.Post == nil {
		return nil
	}
	if err := w.MailOf(tx, o, store.NewID(), "awaits", "Your order waits for your payment"); err != nil {
		return err
	}
	return w.TellOwner(tx, o.ID)
}

// Lapsed tells a buyer that the money did not come in time.
func (w *Writer) Lapsed(ctx context.Context, o store.Order) error {
	if w.Ports.Post == nil {
		return nil
	}
	return w.Store.In(ctx, func(tx *gorm.DB) error {
		return w.MailOf(tx, o, store.NewID(), "lapsed", "Your order was given up")
	})
}

// toPay says how an order is paid that waits for it, line by line.
func toPay(a *facts.Awaits) string {
	var out strings.Builder
	if a.Transfer() {
		fmt.Fprintf(&out, "Please transfer %s to:\n  %s\nand write on it: %s\n", a.Amount, strings.Join(a.To, "\n  "), a.Reference)
	} else {
		fmt.Fprintf(&out, "You fetch it and pay %s there:\n  %s\n", a.Amount, strings.Join(a.To, "\n  "))
	}
	fmt.Fprintf(&out, "It is held for you until the end of %s.\n", a.Day)
	return out.String()
}

// named is what an order is called in a mail: by its number, or by the reference of what
// waits for it.
func named(o store.Order) string {
	switch {
	case o.Number != nil:
		return fmt.Sprintf("order %d", *o.Number)
	case o.Reference != nil:
		return "reference " + order.Grouped(*o.Reference)
	}
	return "your order"
}
