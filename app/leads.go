package app

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"chrysagon/core/catalogue"
	"chrysagon/core/facts"
	"chrysagon/core/lead"
	"chrysagon/core/manuscript"
	"chrysagon/pieces/form"
	"chrysagon/store"

	"gorm.io/gorm"
)

// SendLead is the job that sends a visitor's message to the store.
type SendLead struct {
	LeadID string `json:"lead_id"`
}

// Kind names the job in the queue.
func (SendLead) Kind() string { return "send_lead" }

// FormInput is what a visitor sent by a form of a page.
type FormInput struct {
	Live    Live
	PieceID string
	Visitor string
	Values  map[string]string
}

// TakeLead keeps what a form was sent, once, and answers with the piece, for
// what it says afterwards. Faults are by field.
func (a *App) TakeLead(ctx context.Context, in FormInput) (manuscript.Piece, map[string]string, error) {
	p, ok := in.Live.Page.Manuscript.Piece(in.PieceID)
	if !ok || p.Kind != "form" {
		return p, nil, refuse(ErrNotFound, "This form is no longer on the page. Load the page again.")
	}
	asked := form.Asked(p)
	values, faults := asked.Read(in.Values)
	if len(faults) > 0 {
		return p, faults, nil
	}
	row := store.Lead{
		ID: NewID(), Kind: string(asked.Kind), Email: values["email"], Name: values["name"], Message: values["message"], Consent: values["consent"],
		Gives: form.Gives(p), CampaignID: &in.Live.Edition.CampaignID, PageID: &in.Live.Page.ID, PieceID: p.ID, Link: cutTo(in.Values["link"], 40), Visitor: in.Visitor, At: a.Now(),
	}
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		if asked.Kind != lead.Message {
			return a.keepLead(tx, row)
		}
		// The same message pressed twice is one message.
		var same int64
		if err := tx.Raw("SELECT count(*) FROM leads WHERE kind = 'message' AND lower(email) = lower(?) AND message = ? AND piece_id = ? AND at > ?", row.Email, row.Message, row.PieceID, row.At.Add(-time.Hour)).Scan(&same).Error; err != nil || same > 0 {
			return err
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		return a.Queue.Put(tx, SendLead{LeadID: row.ID})
	})
	if err != nil {
		return p, nil, fmt.Errorf("keep a lead: %w", err)
	}
	return p, nil, nil
}

// keepLead keeps who asked for something, once by each form. Where the form hands
// a file out, one mail carries its link.
func (a *App) keepLead(tx *gorm.DB, row store.Lead) error {
	var kept struct{ ID string }
	err := tx.Raw(`INSERT INTO leads (id, kind, email, name, consent, campaign_id, page_id, piece_id, link, visitor, at, gives) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (lower(email), page_id, piece_id) WHERE kind IN ('opt_in', 'newsletter') DO UPDATE SET consent = EXCLUDED.consent,
			name = CASE WHEN EXCLUDED.name <> '' THEN EXCLUDED.name ELSE leads.name END
		RETURNING id`,
		row.ID, row.Kind, row.Email, row.Name, row.Consent, row.CampaignID, row.PageID, row.PieceID, row.Link, row.Visitor, row.At, row.Gives).Scan(&kept).Error
	if err != nil || kept.ID != row.ID || row.Gives == "" {
		return err
	}
	return a.Queue.Put(tx, SendLead{LeadID: row.ID})
}

// sendHandout sends the link to the file that a form hands out.
func (a *App) sendHandout(ctx context.Context, l store.Lead, shop store.Shop) error {
	f := facts.Facts{}
	if err := readFiles(a.db(ctx), []string{l.Gives}, &f); err != nil {
		return err
	}
	file, known := f.Files[l.Gives]
	if !known {
		return nil // it was taken away since; there is nothing to send
	}
	text := fmt.Sprintf("Here is “%s”, as you asked on our page:\n\n%s\n\nThis is the only mail that follows from it. To write to us, answer it.\n\n%s\n%s\n", file.Name, a.Origins.Shop+file.Path, shop.LegalName, shop.LegalAddress)
	err := a.send(ctx, Letter{
		ID: l.ID, FromName: shop.Name, From: shop.ContactEmail, To: l.Email,
		Subject: file.Name + ", from " + shop.Name, Text: text, HTML: plainHTML(text),
	})
	if err != nil {
		return fmt.Errorf("send what a form hands out: %w", err)
	}
	return nil
}

func cutTo(text string, most int) string {
	if r := []rune(strings.ToValidUTF8(text, "")); len(r) > most {
		return string(r[:most])
	}
	return strings.ToValidUTF8(text, "")
}

// DeliverLead sends the one mail that follows from a form. Sent twice after a crash,
// it bears the same Message-ID.
func (a *App) DeliverLead(ctx context.Context, id string) error {
	l, err := one[store.Lead](a.db(ctx).Where("id = ?", id), "There is no such message.")
	if err != nil || l.SentAt != nil {
		return err
	}
	shop, err := a.Shop(ctx)
	if err != nil {
		return err
	}
	send := a.sendMessage
	switch {
	case l.Kind == string(lead.Appointment):
		send = a.sendAppointment
	case l.Gives != "":
		send = a.sendHandout
	}
	if err := send(ctx, l, shop); err != nil {
		return err
	}
	return a.db(ctx).Model(&store.Lead{}).Where("id = ?", l.ID).Update("sent_at", a.Now()).Error
}

// toStore is a letter to the store itself, to be answered to whom it is about.
func toStore(shop store.Shop, id, subject, text, answer string) Letter {
	return Letter{
		ID: id, FromName: shop.Name, From: shop.ContactEmail, To: shop.ContactEmail,
		Subject: subject, Text: text, HTML: plainHTML(text), ReplyTo: answer,
	}
}

// sendMessage sends what a visitor wrote to the store.
func (a *App) sendMessage(ctx context.Context, l store.Lead, shop store.Shop) error {
	var page string
	if err := a.db(ctx).Raw("SELECT name FROM pages WHERE id = ?", l.PageID).Scan(&page).Error; err != nil {
		return err
	}
	text := fmt.Sprintf("%s\n\n%s <%s>\nBy the form on “%s”. Answer to the address above.\n", l.Message, l.Name, l.Email, page)
	err := a.send(ctx, toStore(shop, l.ID, "Message from "+l.Name, text, l.Email))
	if err != nil {
		return fmt.Errorf("send a message to the store: %w", err)
	}
	return nil
}

// LeadCount is what one form brought.
type LeadCount struct {
	Page, Kind string
	Leads      int
	Last       time.Time
}

// LeadCounts says what the forms of a campaign's pages brought, the latest first.
func (a *App) LeadCounts(ctx context.Context, campaignID string) ([]LeadCount, error) {
	var list []LeadCount
	err := a.db(ctx).Raw(`SELECT coalesce(p.name, 'a page that is gone') AS page, l.kind, count(*) AS leads, max(l.at) AS last
		FROM leads l LEFT JOIN pages p ON p.id = l.page_id WHERE l.campaign_id = ? GROUP BY p.id, p.name, l.kind ORDER BY last DESC`, campaignID).Scan(&list).Error
	return list, err
}

// ExportLeads writes all leads as CSV (RFC 4180), the latest first.
func (a *App) ExportLeads(ctx context.Context, to io.Writer) error {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	if err := w.Write([]string{"at", "kind", "email", "name", "message", "consent", "page", "link"}); err != nil {
		return err
	}
	rows, err := a.db(ctx).Raw(`SELECT l.at, l.kind, l.email, l.name, l.message, l.consent, coalesce(p.name, ''), l.link FROM leads l LEFT JOIN pages p ON p.id = l.page_id ORDER BY l.at DESC, l.id`).Rows()
	if err != nil {
		return fmt.Errorf("read the leads: %w", err)
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		var at time.Time
		fields := make([]string, 8)
		if err := rows.Scan(&at, &fields[1], &fields[2], &fields[3], &fields[4], &fields[5], &fields[6], &fields[7]); err != nil {
			return err
		}
		fields[0] = at.UTC().Format(time.RFC3339)
		if err := w.Write(guarded(fields)); err != nil {
			return err
		}
	}
	w.Flush()
	return errors.Join(rows.Err(), w.Error())
}

// guarded is a row of a table, each field guarded.
func guarded(fields []string) []string {
	for i := range fields {
		fields[i] = guard(fields[i])
	}
	return fields
}

// guard keeps a spreadsheet from taking a visitor's words for a formula. No
// number stands in this table, so a minus is one more sign that begins one.
func guard(field string) string {
	if strings.HasPrefix(field, "-") {
		return "'" + field
	}
	return catalogue.Guard(field)
}
