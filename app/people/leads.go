package people

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"time"

	"chrysagon/app/audience"
	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/app/walks"
	"chrysagon/core/catalogue"
	"chrysagon/core/lead"
	"chrysagon/core/mailing"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/core/words"
	"chrysagon/pieces/form"
	"chrysagon/render"
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
	Live    publishing.Live
	PieceID string
	Visitor string
	Values  map[string]string
	Zone    string      // IANA name, as the browser says; empty: not known
	At      walks.Place // in the funnel that led them here
}

// came notes who a visitor is, and what came of them, with what they sent.
func (in FormInput) came(tx *gorm.DB, outcome route.Outcome, email string, at time.Time) error {
	if err := walks.Known(tx, in.Visitor, email, at); err != nil {
		return err
	}
	return walks.Leave(tx, walks.Print{At: at, Visitor: in.Visitor, Place: in.At, PageID: in.Live.Page.ID, Outcome: outcome})
}

// TakeLead keeps what a form was sent, once, and answers with the piece, for
// what it says afterwards. Faults are by field.
func (people *People) TakeLead(ctx context.Context, in FormInput) (manuscript.Piece, map[string]string, error) {
	p, ok := in.Live.Page.Manuscript.Piece(in.PieceID)
	if !ok || !people.Schema[p.Kind].Traits.Asks {
		return p, nil, refusal.Of(refusal.ErrNotFound, "This form is no longer on the page. Load the page again.")
	}
	asked := form.Asked(p)
	values, faults := asked.Read(in.Values)
	if len(faults) > 0 {
		return p, faults, nil
	}
	if in.Values[Trap] != "" {
		return p, nil, nil // only a program fills in what nobody sees; it is answered as if it were taken
	}
	if meant := mailing.Doubted(values["email"], in.Values["sure"]); meant != "" {
		return p, map[string]string{"meant": meant}, nil
	}
	row := store.Lead{
		ID: store.NewID(), Kind: string(asked.Kind), Email: values["email"], Name: values["name"], Message: values["message"], Consent: values["consent"],
		Gives: form.Gives(p), CampaignID: &in.Live.Edition.CampaignID, PageID: &in.Live.Page.ID, PieceID: p.ID, Link: words.Cut(in.Values["link"], 40), Visitor: in.Visitor, At: people.Store.Now(),
	}
	err := people.Store.In(ctx, func(tx *gorm.DB) error {
		if err := in.came(tx, route.Submitted, row.Email, row.At); err != nil {
			return err
		}
		if asked.Kind != lead.Message {
			if err := people.keepLead(tx, row); err != nil {
				return err
			}
			return people.join(tx, p, row, in)
		}
		// The same message pressed twice is one message.
		var same int64
		if err := tx.Raw("SELECT count(*) FROM leads WHERE kind = 'message' AND lower(email) = lower(?) AND message = ? AND piece_id = ? AND at > ?", row.Email, row.Message, row.PieceID, row.At.Add(-time.Hour)).Scan(&same).Error; err != nil || same > 0 {
			return err
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		return people.Queue.Put(tx, SendLead{LeadID: row.ID})
	})
	if err != nil {
		return p, nil, fmt.Errorf("keep a lead: %w", err)
	}
	return p, nil, nil
}

// Trap is the name of a field of forms that nobody sees.
const Trap = "leave_empty"

// join puts who sent a form on the list that it names.
func (people *People) join(tx *gorm.DB, p manuscript.Piece, row store.Lead, in FormInput) error {
	list := p.Fields.Text("list")
	if list == "" {
		return nil
	}
	return people.Audience.Join(tx, audience.Joining{
		ListID: list, Email: row.Email, Name: row.Name, Zone: in.Zone, Consent: row.Consent, PageID: in.Live.Page.ID, EditionID: in.Live.Edition.ID, Source: row.Link, At: row.At,
	})
}

// keepLead keeps who asked for something, once by each form. Where the form hands
// a file out, one mail carries its link.
func (people *People) keepLead(tx *gorm.DB, row store.Lead) error {
	var kept struct{ ID string }
	err := tx.Raw(`INSERT INTO leads (id, kind, email, name, consent, campaign_id, page_id, piece_id, link, visitor, at, gives) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (lower(email), page_id, piece_id) WHERE kind IN ('opt_in', 'newsletter') DO UPDATE SET consent = EXCLUDED.consent,
			name = CASE WHEN EXCLUDED.name <> '' THEN EXCLUDED.name ELSE leads.name END
		RETURNING id`,
		row.ID, row.Kind, row.Email, row.Name, row.Consent, row.CampaignID, row.PageID, row.PieceID, row.Link, row.Visitor, row.At, row.Gives).Scan(&kept).Error
	if err != nil || kept.ID != row.ID || row.Gives == "" {
		return err
	}
	return people.Queue.Put(tx, SendLead{LeadID: row.ID})
}

// sendHandout sends the link to the file that a form hands out.
func (people *People) sendHandout(ctx context.Context, l store.Lead, shop store.Shop) error {
	file, err := factbook.File(people.Store.On(ctx), l.Gives)
	if errors.Is(err, refusal.ErrNotFound) {
		return nil // it was taken away since; there is nothing to send
	}
	if err != nil {
		return err
	}
	letter, err := people.Maker.Make(ports.Letter{ID: l.ID, FromName: shop.Name, From: shop.ContactEmail, To: l.Email, Subject: file.Name + ", from " + shop.Name}, shop,
		render.Addressed{Name: l.Name, Sent: true, Why: "You asked for it on our page. This is the only mail that follows from it; to write to us, answer it."}, "Here it is", people.Maker.HandsOut(file)...)
	if err != nil {
		return err
	}
	err = people.Mail.Send(ctx, letter)
	if err != nil {
		return fmt.Errorf("send what a form hands out: %w", err)
	}
	return nil
}

// DeliverLead sends the one mail that follows from a form. Sent twice after a crash,
// it bears the same Message-ID.
func (people *People) DeliverLead(ctx context.Context, id string) error {
	l, err := store.One[store.Lead](people.Store.On(ctx).Where("id = ?", id), "There is no such message.")
	if err != nil || l.SentAt != nil {
		return err
	}
	shop, err := people.Store.Shop(ctx)
	if err != nil {
		return err
	}
	send := people.sendMessage
	switch {
	case l.Kind == string(lead.Appointment):
		send = people.sendAppointment
	case l.Gives != "":
		send = people.sendHandout
	}
	if err := send(ctx, l, shop); err != nil {
		return err
	}
	return people.Store.On(ctx).Model(&store.Lead{}).Where("id = ?", l.ID).Update("sent_at", people.Store.Now()).Error
}

// sendMessage sends what a visitor wrote to the store.
func (people *People) sendMessage(ctx context.Context, l store.Lead, shop store.Shop) error {
	var page string
	if err := people.Store.On(ctx).Raw("SELECT name FROM pages WHERE id = ?", l.PageID).Scan(&page).Error; err != nil {
		return err
	}
	text := fmt.Sprintf("%s\n\n%s <%s>\nBy the form on “%s”. Answer to the address above.\n", l.Message, l.Name, l.Email, page)
	err := people.Mail.Send(ctx, mail.ToStore(shop, l.ID, "Message from "+l.Name, text, l.Email))
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
func (people *People) LeadCounts(ctx context.Context, campaignID string) ([]LeadCount, error) {
	var list []LeadCount
	err := people.Store.On(ctx).Raw(`SELECT coalesce(p.name, 'a page that is gone') AS page, l.kind, count(*) AS leads, max(l.at) AS last
		FROM leads l LEFT JOIN pages p ON p.id = l.page_id WHERE l.campaign_id = ? GROUP BY p.id, p.name, l.kind ORDER BY last DESC`, campaignID).Scan(&list).Error
	return list, err
}

// ExportLeads writes all leads as CSV (RFC 4180), the latest first.
func (people *People) ExportLeads(ctx context.Context, to io.Writer) error {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	if err := w.Write([]string{"at", "kind", "email", "name", "message", "consent", "page", "link"}); err != nil {
		return err
	}
	rows, err := people.Store.On(ctx).Raw(`SELECT l.at, l.kind, l.email, l.name, l.message, l.consent, coalesce(p.name, ''), l.link FROM leads l LEFT JOIN pages p ON p.id = l.page_id ORDER BY l.at DESC, l.id`).Rows()
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
		if err := w.Write(catalogue.Guarded(fields)); err != nil {
			return err
		}
	}
	w.Flush()
	return errors.Join(rows.Err(), w.Error())
}
