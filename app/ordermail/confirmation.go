package ordermail

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"html/template"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
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

// write writes the confirmation: what was ordered and when, where it goes, the
// terms, the link by which the order can be seen from any browser, and how to
// write back.
func write(m store.Mail, o store.Order, f *facts.Order, s facts.Store, shop string) (ports.Letter, error) {
	link, terms, paid, place := shop+order.Path(o.Token), shop+"/terms", deadline.Written(f.PaidAt, s.Zone), factbook.Addressed(o)
	values := map[string]any{"Shop": shop, "Order": f, "Store": s, "Link": link, "Terms": terms, "Paid": paid, "Place": place, "Subject": m.Subject}
	var html bytes.Buffer
	if err := confirmation.Execute(&html, values); err != nil {
		return ports.Letter{}, fmt.Errorf("write the mail: %w", err)
	}
	var text strings.Builder
	fmt.Fprintf(&text, "Dear %s,\n\nthank you. This is order %d of %s:\n\n", f.Name, f.Number, paid)
	for _, l := range f.Lines {
		fmt.Fprintf(&text, "  %d × %s  %s\n", l.Quantity, l.Name, l.Total)
		if l.Download != "" {
			fmt.Fprintf(&text, "    Download it, %s: %s\n", l.Taken, shop+l.Download)
		}
	}
	for _, r := range f.Sums {
		fmt.Fprintf(&text, "  %s: %s\n", r.Label, r.Value)
	}
	fmt.Fprintf(&text, "\n  Paid: %s\n", f.Total)
	if len(place) > 0 {
		fmt.Fprintf(&text, "\nIt goes to:\n  %s\n", strings.Join(place, "\n  "))
	}
	fmt.Fprintf(&text, "\nYour order, to be seen from anywhere: %s\nOur terms: %s\n\nAnything wrong? Answer this mail, or write to %s, and name order %d.\n\n%s\n%s\n", link, terms, s.ContactEmail, f.Number, s.LegalName, s.LegalAddress)
	return ports.Letter{
		ID: m.ID, FromName: s.Name, From: s.ContactEmail, To: o.Email,
		Subject: m.Subject, Text: text.String(), HTML: html.String(),
	}, nil
}

var confirmation = template.Must(template.New("confirmation").Parse(`<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{{.Subject}}</title></head>
<body style="margin:0;background:#faf7f0;color:#17332e;font:16px/1.5 Georgia,serif"><div style="max-width:34rem;margin:0 auto;padding:32px 24px">
<h1 style="font-size:24px;margin:0 0 16px">Thank you, {{.Order.Name}}</h1><p>This is order {{.Order.Number}} at {{.Store.Name}}, of {{.Paid}}.</p>
<table style="width:100%;border-collapse:collapse">{{range .Order.Lines}}<tr><td style="padding:8px 0;border-bottom:1px solid #ddd6c6">{{.Quantity}} × {{.Name}}{{with .Download}}<br><a href="{{$.Shop}}{{.}}" style="color:#2d5f80">Download it</a>{{end}}{{with .Taken}} <span style="color:#54645f">{{.}}</span>{{end}}</td><td style="padding:8px 0;border-bottom:1px solid #ddd6c6;text-align:right">{{.Total}}</td></tr>{{end}}
{{range .Order.Sums}}<tr><td style="padding:4px 0;color:#54645f">{{.Label}}</td><td style="padding:4px 0;color:#54645f;text-align:right">{{.Value}}</td></tr>{{end}}
<tr><td style="padding:8px 0"><b>Paid</b></td><td style="padding:8px 0;text-align:right"><b>{{.Order.Total}}</b></td></tr></table>
{{with .Place}}<p>It goes to<br>{{range .}}{{.}}<br>{{end}}</p>{{end}}<p><a href="{{.Link}}" style="color:#2d5f80">See your order</a>, from any browser. Keep this link to yourself. <a href="{{.Terms}}" style="color:#2d5f80">Our terms</a>.</p>
<p style="color:#54645f">Anything wrong? Answer this mail, or write to {{.Store.ContactEmail}}, and name order {{.Order.Number}}.<br>{{.Store.LegalName}}, {{.Store.LegalAddress}}</p></div></body></html>`))
