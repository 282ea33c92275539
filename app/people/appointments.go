package people

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/core/appointment"
	"chrysagon/core/deadline"
	"chrysagon/core/lead"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/core/words"
	"chrysagon/pieces"
	chooser "chrysagon/pieces/appointment"
	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// TakeAppointment books the time that a visitor chose. The same press sent
// twice is one appointment.
func (people *People) TakeAppointment(ctx context.Context, in FormInput) (id string, faults map[string]string, err error) {
	p, ok := in.Live.Page.Manuscript.Piece(in.PieceID)
	if !ok || !people.Schema[p.Kind].Traits.Books {
		return "", nil, refusal.Of(refusal.ErrNotFound, "Appointments are no longer given on this page. Load the page again.")
	}
	values, faults := lead.Form{Kind: lead.Appointment, Name: true}.Read(in.Values)
	at, err := time.Parse(time.RFC3339, in.Values["slot"])
	minutes := chooser.Minutes(p.Fields.Text("minutes"))
	switch {
	case err != nil:
		faults["slot"] = "Choose a time."
	case !at.After(people.Store.Now()):
		faults["slot"] = "That time has passed; choose another."
	}
	if len(faults) > 0 {
		return "", faults, nil
	}
	shop, err := people.Store.Shop(ctx)
	if err != nil {
		return "", nil, err
	}
	b := ports.Booking{Slot: appointment.Slot{At: at.UTC(), Minutes: minutes}, Name: values["name"], Email: values["email"], Subject: pieces.Or(p.Fields.Text("what"), "Appointment")}
	sum := sha256.Sum256([]byte(strings.Join([]string{in.Visitor, p.ID, b.At.Format(time.RFC3339), strings.ToLower(b.Email)}, "\n")))
	id = hex.EncodeToString(sum[:16])
	known, err := people.appointmentKnown(ctx, id)
	if err != nil || known {
		return id, nil, err
	}
	free, err := people.Ports.Book.Free(ctx, ports.DaysAhead, minutes, shop.Zone)
	if err != nil {
		return "", map[string]string{"slot": people.noBook(shop, err)}, nil
	}
	if !slices.ContainsFunc(free, func(s appointment.Slot) bool { return s.At.Equal(b.At) }) {
		return "", map[string]string{"slot": taken}, nil
	}
	switch err := people.Ports.Book.Take(ctx, id, b); {
	case errors.Is(err, ports.ErrTaken):
		return "", map[string]string{"slot": taken}, nil
	case err != nil:
		return "", map[string]string{"slot": people.noBook(shop, err)}, nil
	}
	return id, nil, people.noteAppointment(ctx, in, p, id, b)
}

const taken = "Somebody has just taken that time; please choose another."

func (people *People) noBook(shop store.Shop, err error) string {
	people.Log.Warn("the appointment book does not answer", "err", err)
	say := "The appointment book does not answer just now. Nothing is booked; please try again"
	if shop.Phone != "" {
		say += ", or call " + shop.Phone
	}
	return say + "."
}

func (people *People) appointmentKnown(ctx context.Context, id string) (bool, error) {
	var n int64
	err := people.Store.On(ctx).Raw("SELECT count(*) FROM leads WHERE id = ?", id).Scan(&n).Error
	return n > 0, err
}

// noteAppointment keeps who comes as a lead and puts the letters into the queue.
func (people *People) noteAppointment(ctx context.Context, in FormInput, p manuscript.Piece, id string, b ports.Booking) error {
	row := store.Lead{
		ID: id, Kind: string(lead.Appointment), Email: b.Email, Name: b.Name, Message: b.Subject, CampaignID: &in.Live.Edition.CampaignID, PageID: &in.Live.Page.ID, PieceID: p.ID,
		Link: words.Cut(in.Values["link"], 40), Visitor: in.Visitor, At: people.Store.Now(), SlotAt: &b.At, SlotMinutes: &b.Minutes,
	}
	err := people.Store.In(ctx, func(tx *gorm.DB) error {
		if err := in.came(tx, route.Booked, row.Email, row.At); err != nil {
			return err
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		return people.Queue.Put(tx, SendLead{LeadID: row.ID})
	})
	if err != nil {
		return fmt.Errorf("keep an appointment: %w", err)
	}
	people.News.FactsChanged() // the time is no longer free
	return nil
}

// Appointment reads one that was taken, by its secret ID.
func (people *People) Appointment(ctx context.Context, id string) (appointment.Meeting, error) {
	l, err := store.One[store.Lead](people.Store.On(ctx).Where("id = ? AND kind = ?", id, string(lead.Appointment)), "There is no such appointment.")
	if err != nil {
		return appointment.Meeting{}, err
	}
	shop, err := people.Store.Shop(ctx)
	return meetingOf(l, shop), err
}

func meetingOf(l store.Lead, shop store.Shop) appointment.Meeting {
	m := appointment.Meeting{ID: l.ID, Title: l.Message + ", " + shop.Name, Where: shop.LegalAddress, Host: shop.ContactEmail, With: shop.Name, Noted: l.At}
	if l.SlotAt != nil && l.SlotMinutes != nil {
		m.Slot = appointment.Slot{At: l.SlotAt.UTC(), Minutes: *l.SlotMinutes}
	}
	if shop.Phone != "" {
		m.Note = "Something came up? Call " + shop.Phone + "."
	}
	return m
}

// sendAppointment sends the visitor their appointment, with a file for their
// calendar, and a copy to the store.
func (people *People) sendAppointment(ctx context.Context, l store.Lead, shop store.Shop) error {
	m := meetingOf(l, shop)
	letter, err := people.Maker.Make(ports.Letter{
		ID: l.ID, FromName: shop.Name, From: shop.ContactEmail, To: l.Email, Subject: "Your appointment: " + deadline.Written(m.At, shop.Zone),
		Files: []ports.File{{Name: "appointment.ics", Type: "text/calendar; charset=utf-8; method=PUBLISH", Content: []byte(appointment.Calendar(m))}},
	}, shop, render.Addressed{Name: l.Name, Sent: true}, "Your appointment stands, {name|friend}",
		pieces.Block{As: pieces.Moment, Text: l.Message, Second: fmt.Sprintf("%s (%d minutes)", deadline.Written(m.At, shop.Zone), m.Minutes)},
		mail.Says(words.Tidy("The file with this letter puts it into your calendar. "+m.Note)))
	if err != nil {
		return err
	}
	if err := people.Mail.Send(ctx, letter); err != nil {
		return fmt.Errorf("send an appointment: %w", err)
	}
	letter.ID, letter.To, letter.Subject = l.ID+"-store", shop.ContactEmail, "Appointment with "+l.Name+": "+deadline.Written(m.At, shop.Zone)
	letter.Text = fmt.Sprintf("%s <%s> comes for: %s\n%s\n", l.Name, l.Email, l.Message, deadline.Written(m.At, shop.Zone))
	letter.HTML = mail.PlainHTML(letter.Text)
	return people.Mail.Send(ctx, letter)
}
