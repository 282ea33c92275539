package app

import (
	"bytes"
	"context"
	"fmt"
	"html/template"
	"strings"

	"chrysagon/core/facts"
	"chrysagon/store"

	"gorm.io/gorm"
)

// announce writes down which mail a payment causes, so that the thank-you page
// can name it, and puts its sending into the queue.
func (a *App) announce(tx *gorm.DB, o store.Order, p store.Payment) error {
	subject := fmt.Sprintf("Your order %d at ", *o.Number)
	if p.Kind == "upsell" {
		subject = fmt.Sprintf("Added to your order %d at ", *o.Number)
	}
	err := tx.Exec(`INSERT INTO mails (id, order_id, payment_id, sender, subject)
		SELECT ?, ?, ?, name || ' <' || contact_email || '>', ?::text || name FROM store`, p.ID, o.ID, p.ID, subject).Error
	if err != nil {
		return fmt.Errorf("write down the mail: %w", err)
	}
	return a.Queue.Put(tx, SendMail{MailID: p.ID})
}

// Deliver sends one mail. Sent twice after a crash, it bears the same
// Message-ID, by which mail servers know it again.
func (a *App) Deliver(ctx context.Context, id string) error {
	m, err := one[store.Mail](a.db(ctx).Where("id = ?", id), "There is no such mail.")
	if err != nil || m.SentAt != nil {
		return err
	}
	o, err := one[store.Order](a.db(ctx).Where("id = ?", m.OrderID), noOrder)
	if err != nil {
		return err
	}
	f, err := a.OrderFacts(ctx, o)
	if err != nil {
		return err
	}
	shop, err := one[store.Shop](a.db(ctx), "The store is not set up.")
	if err != nil {
		return err
	}
	letter, err := write(m, o, f, storeFacts(shop), a.Origins.Shop+OrderPath(o.Token))
	if err != nil {
		return err
	}
	if err := a.Post.Send(ctx, letter); err != nil {
		return fmt.Errorf("send the mail of order %d: %w", f.Number, err)
	}
	now := a.Now()
	return a.db(ctx).Model(&store.Mail{}).Where("id = ?", m.ID).Update("sent_at", now).Error
}

func write(m store.Mail, o store.Order, f *facts.Order, s facts.Store, link string) (Letter, error) {
	values := map[string]any{"Order": f, "Store": s, "Link": link, "Subject": m.Subject}
	var html bytes.Buffer
	if err := confirmation.Execute(&html, values); err != nil {
		return Letter{}, fmt.Errorf("write the mail: %w", err)
	}
	var text strings.Builder
	fmt.Fprintf(&text, "Dear %s,\n\nthank you. This is order %d:\n\n", f.Name, f.Number)
	for _, l := range f.Lines {
		fmt.Fprintf(&text, "  %d × %s  %s\n", l.Quantity, l.Name, l.Total)
	}
	for _, r := range f.Sums {
		fmt.Fprintf(&text, "  %s: %s\n", r.Label, r.Value)
	}
	fmt.Fprintf(&text, "\n  Paid: %s\n\nYour order, in the browser you ordered with: %s\n\n%s\n%s\n", f.Total, link, s.LegalName, s.LegalAddress)
	return Letter{
		ID: m.ID, FromName: s.Name, From: s.ContactEmail, To: o.Email,
		Subject: m.Subject, Text: text.String(), HTML: html.String(),
	}, nil
}

// plainHTML is a plain text as the HTML part of a letter.
func plainHTML(text string) string {
	return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Message</title></head><body style="margin:0;padding:24px;color:#17332e;font:16px/1.5 Georgia,serif;white-space:pre-wrap">` + template.HTMLEscapeString(text) + "</body></html>"
}

var confirmation = template.Must(template.New("confirmation").Parse(`<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{{.Subject}}</title></head>
<body style="margin:0;background:#faf7f0;color:#17332e;font:16px/1.5 Georgia,serif"><div style="max-width:34rem;margin:0 auto;padding:32px 24px">
<h1 style="font-size:24px;margin:0 0 16px">Thank you, {{.Order.Name}}</h1><p>This is order {{.Order.Number}} at {{.Store.Name}}.</p>
<table style="width:100%;border-collapse:collapse">{{range .Order.Lines}}<tr><td style="padding:8px 0;border-bottom:1px solid #ddd6c6">{{.Quantity}} × {{.Name}}</td><td style="padding:8px 0;border-bottom:1px solid #ddd6c6;text-align:right">{{.Total}}</td></tr>{{end}}
{{range .Order.Sums}}<tr><td style="padding:4px 0;color:#54645f">{{.Label}}</td><td style="padding:4px 0;color:#54645f;text-align:right">{{.Value}}</td></tr>{{end}}
<tr><td style="padding:8px 0"><b>Paid</b></td><td style="padding:8px 0;text-align:right"><b>{{.Order.Total}}</b></td></tr></table>
<p><a href="{{.Link}}" style="color:#2d5f80">See your order</a>, in the browser you ordered with.</p>
<p style="color:#54645f">Anything wrong? Answer this mail and name order {{.Order.Number}}.<br>{{.Store.LegalName}}, {{.Store.LegalAddress}}</p></div></body></html>`))
