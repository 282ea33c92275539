package ordermail

import (
	"context"
	"errors"
	"fmt"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/core/order"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Announce writes down which mail a payment causes, so that the thank-you page
// can name it, and puts its sending into the queue.
func (w *Writer) Announce(tx *gorm.DB, o store.Order, p store.Payment) error {
	if w.Ports.Post == nil {
		return nil // nothing is promised that nobody sends
	}
	subject := fmt.Sprintf("Your order %d at ", *o.Number)
	if p.Kind == order.AsUpsell {
		subject = fmt.Sprintf("Added to your order %d at ", *o.Number)
	}
	var shop string
	if err := tx.Raw("SELECT name FROM store").Scan(&shop).Error; err != nil {
		return fmt.Errorf("read the store's name: %w", err)
	}
	subject += shop
	if p.Kind != order.AsUpsell { // what was added later says so
		var err error
		if subject, err = w.titled(tx, "confirmation", o, subject); err != nil {
			return err
		}
	}
	err := tx.Exec(`INSERT INTO mails (id, order_id, payment_id, sender, subject)
		SELECT ?, ?, ?, name || ' <' || contact_email || '>', ?::text FROM store`, p.ID, o.ID, p.ID, subject).Error
	if err != nil {
		return fmt.Errorf("write down the mail: %w", err)
	}
	return w.Queue.Put(tx, SendMail{MailID: p.ID})
}

// Deliver sends one mail. Sent twice after a crash, it bears the same
// Message-ID, by which mail servers know it again.
func (w *Writer) Deliver(ctx context.Context, id string) error {
	m, err := store.One[store.Mail](w.Store.On(ctx).Where("id = ?", id), "There is no such mail.")
	if err != nil || m.SentAt != nil || m.Refused != "" {
		return err
	}
	o, err := store.One[store.Order](w.Store.On(ctx).Where("id = ?", m.OrderID), factbook.NoOrder)
	if err != nil {
		return err
	}
	letter, err := w.letterOf(ctx, m, o)
	if err != nil {
		return err
	}
	err = w.Mail.Send(ctx, letter)
	var no *ports.Refused
	if errors.As(err, &no) { // at every other try as well: the order says so
		return errors.Join(w.Returns.Refused(ctx, m.ID, no), w.Store.On(ctx).Model(&store.Mail{}).Where("id = ?", m.ID).Updates(map[string]any{"refused": no.Error(), "text": letter.Text}).Error)
	}
	if err != nil {
		return fmt.Errorf("send a mail of %s: %w", named(o), err)
	}
	return w.Store.On(ctx).Model(&store.Mail{}).Where("id = ?", m.ID).Updates(map[string]any{"sent_at": w.Store.Now(), "text": letter.Text}).Error
}
