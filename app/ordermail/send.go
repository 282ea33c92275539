package ordermail

import (
	"fmt"

	"chrysagon/store"

	"gorm.io/gorm"
)

// MailOf writes down a mail to an order's buyer and puts its sending into the queue.
func (w *Writer) MailOf(tx *gorm.DB, o store.Order, id, kind, subject string) error {
	subject, err := w.titled(tx, kind, o, subject)
	if err != nil {
		return err
	}
	err = tx.Exec(`INSERT INTO mails (id, order_id, kind, sender, subject) SELECT ?, ?, ?, name || ' <' || contact_email || '>', ? FROM store`, id, o.ID, kind, subject).Error
	if err != nil {
		return fmt.Errorf("write down the mail: %w", err)
	}
	return w.Queue.Put(tx, SendMail{MailID: id})
}

// SendMail is the job that sends one mail of an order.
type SendMail struct {
	MailID string `json:"mail_id"`
}

// Kind names the job in the queue.
func (SendMail) Kind() string { return "send_mail" }
