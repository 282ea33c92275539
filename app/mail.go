package app

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"strings"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/store"

	"gorm.io/gorm"
)

// announce writes down which mail a payment causes, so that the thank-you page
// can name it, and puts its sending into the queue.
func (a *App) announce(tx *gorm.DB, o store.Order, p store.Payment) error {
	if a.Post == nil {
		return nil // nothing is promised that nobody sends
	}
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
	letter, err := a.letterOf(ctx, m, o)
	if err != nil {
		return err
	}
	if err := a.send(ctx, letter); err != nil {
		return fmt.Errorf("send a mail of order %d: %w", *o.Number, err)
	}
	return a.db(ctx).Model(&store.Mail{}).Where("id = ?", m.ID).Updates(map[string]any{"sent_at": a.Now(), "text": letter.Text}).Error
}

// errNoMail keeps a mail in the queue until a mail server is set.
var errNoMail = errors.New("no mail server is set")

// send hands a letter to the mail server, where there is one.
func (a *App) send(ctx context.Context, l Letter) error {
	if a.Post == nil {
		return errNoMail
	}
	return a.Post.Send(ctx, l)
}

// placeOf is an order's address by its fields; that of what is downloaded has none.
func placeOf(o store.Order) map[string]string {
	place := map[string]string{}
	_ = json.Unmarshal(o.Address, &place)
	return place
}

// Town is where an order goes, as far as anybody who has its link may read it.
func Town(o store.Order) string {
	place := placeOf(o)
	return strings.Trim(place["town"]+", "+place["country"], ", ")
}

// addressed is an order's address, line by line; none for what is downloaded.
func addressed(o store.Order) []string {
	place := placeOf(o)
	var lines []string
	for _, line := range []string{place["street"], strings.TrimSpace(place["postcode"] + " " + place["town"]), place["country"]} {
		if line != "" {
			lines = append(lines, line)
		}
	}
	if len(lines) > 0 {
		lines = append([]string{o.Name}, lines...)
	}
	return lines
}

// write writes the confirmation: what was ordered and when, where it goes, the
// terms, the link by which the order can be seen from any browser, and how to
// write back.
func write(m store.Mail, o store.Order, f *facts.Order, s facts.Store, shop string) (Letter, error) {
	link, terms, paid, place := shop+OrderPath(o.Token), shop+"/terms", deadline.Written(f.PaidAt, s.Zone), addressed(o)
	values := map[string]any{"Order": f, "Store": s, "Link": link, "Terms": terms, "Paid": paid, "Place": place, "Subject": m.Subject}
	var html bytes.Buffer
	if err := confirmation.Execute(&html, values); err != nil {
		return Letter{}, fmt.Errorf("write the mail: %w", err)
	}
	var text strings.Builder
	fmt.Fprintf(&text, "Dear %s,\n\nthank you. This is order %d of %s:\n\n", f.Name, f.Number, paid)
	for _, l := range f.Lines {
		fmt.Fprintf(&text, "  %d × %s  %s\n", l.Quantity, l.Name, l.Total)
	}
	for _, r := range f.Sums {
		fmt.Fprintf(&text, "  %s: %s\n", r.Label, r.Value)
	}
	fmt.Fprintf(&text, "\n  Paid: %s\n", f.Total)
	if len(place) > 0 {
		fmt.Fprintf(&text, "\nIt goes to:\n  %s\n", strings.Join(place, "\n  "))
	}
	fmt.Fprintf(&text, "\nYour order, to be seen from anywhere: %s\nOur terms: %s\n\nAnything wrong? Answer this mail, or write to %s, and name order %d.\n\n%s\n%s\n", link, terms, s.ContactEmail, f.Number, s.LegalName, s.LegalAddress)
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
<h1 style="font-size:24px;margin:0 0 16px">Thank you, {{.Order.Name}}</h1><p>This is order {{.Order.Number}} at {{.Store.Name}}, of {{.Paid}}.</p>
<table style="width:100%;border-collapse:collapse">{{range .Order.Lines}}<tr><td style="padding:8px 0;border-bottom:1px solid #ddd6c6">{{.Quantity}} × {{.Name}}</td><td style="padding:8px 0;border-bottom:1px solid #ddd6c6;text-align:right">{{.Total}}</td></tr>{{end}}
{{range .Order.Sums}}<tr><td style="padding:4px 0;color:#54645f">{{.Label}}</td><td style="padding:4px 0;color:#54645f;text-align:right">{{.Value}}</td></tr>{{end}}
<tr><td style="padding:8px 0"><b>Paid</b></td><td style="padding:8px 0;text-align:right"><b>{{.Order.Total}}</b></td></tr></table>
{{with .Place}}<p>It goes to<br>{{range .}}{{.}}<br>{{end}}</p>{{end}}<p><a href="{{.Link}}" style="color:#2d5f80">See your order</a>, from any browser. Keep this link to yourself. <a href="{{.Terms}}" style="color:#2d5f80">Our terms</a>.</p>
<p style="color:#54645f">Anything wrong? Answer this mail, or write to {{.Store.ContactEmail}}, and name order {{.Order.Number}}.<br>{{.Store.LegalName}}, {{.Store.LegalAddress}}</p></div></body></html>`))
