package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/lead"
	"chrysagon/core/manuscript"
	"chrysagon/pieces"
	chooser "chrysagon/pieces/appointment"
	"chrysagon/store"

	"gorm.io/gorm"
)

// ErrTaken says that somebody else has that time.
var ErrTaken = errors.New("that time is taken")

// Booking is an appointment that somebody asks for.
type Booking struct {
	appointment.Slot
	Name, Email, Subject string
}

// Appointments is the appointment book, an outside service.
type Appointments interface {
	// Free lists the times that can be taken within so many days.
	Free(ctx context.Context, days, minutes int, zone string) ([]appointment.Slot, error)
	// Take writes one down, once for each key; ErrTaken when somebody was first.
	Take(ctx context.Context, key string, b Booking) error
}

// DaysAhead is how far ahead appointments are offered.
const DaysAhead = 14

// readSlots asks the book for the times that a page offers. A book that does
// not answer keeps no page from being shown.
func (a *App) readSlots(ctx context.Context, names []string, f *facts.Facts) {
	if len(names) == 0 || a.Book == nil {
		return
	}
	f.Slots = map[string][]appointment.Slot{}
	for _, minutes := range names {
		free, err := a.Book.Free(ctx, DaysAhead, chooser.Minutes(minutes), f.Store.Zone)
		if err != nil {
			a.Log.Warn("the appointment book does not answer", "err", err)
			continue
		}
		f.Slots[minutes] = free
	}
}

// TakeAppointment books the time that a visitor chose. The same press sent
// twice is one appointment.
func (a *App) TakeAppointment(ctx context.Context, in FormInput) (id string, faults map[string]string, err error) {
	p, ok := in.Live.Page.Manuscript.Piece(in.PieceID)
	if !ok || p.Kind != "appointment" {
		return "", nil, refuse(ErrNotFound, "Appointments are no longer given on this page. Load the page again.")
	}
	values, faults := lead.Form{Kind: lead.Appointment, Name: true}.Read(in.Values)
	at, err := time.Parse(time.RFC3339, in.Values["slot"])
	minutes := chooser.Minutes(p.Fields.Text("minutes"))
	switch {
	case err != nil:
		faults["slot"] = "Choose a time."
	case !at.After(a.Now()):
		faults["slot"] = "That time has passed; choose another."
	}
	if len(faults) > 0 {
		return "", faults, nil
	}
	shop, err := a.Shop(ctx)
	if err != nil {
		return "", nil, err
	}
	b := Booking{Slot: appointment.Slot{At: at.UTC(), Minutes: minutes}, Name: values["name"], Email: values["email"], Subject: pieces.Or(p.Fields.Text("what"), "Appointment")}
	sum := sha256.Sum256([]byte(strings.Join([]string{in.Visitor, p.ID, b.At.Format(time.RFC3339), strings.ToLower(b.Email)}, "\n")))
	id = hex.EncodeToString(sum[:16])
	known, err := a.appointmentKnown(ctx, id)
	if err != nil || known {
		return id, nil, err
	}
	free, err := a.Book.Free(ctx, DaysAhead, minutes, shop.Zone)
	if err != nil {
		return "", map[string]string{"slot": a.noBook(shop, err)}, nil
	}
	if !slices.ContainsFunc(free, func(s appointment.Slot) bool { return s.At.Equal(b.At) }) {
		return "", map[string]string{"slot": taken}, nil
	}
	switch err := a.Book.Take(ctx, id, b); {
	case errors.Is(err, ErrTaken):
		return "", map[string]string{"slot": taken}, nil
	case err != nil:
		return "", map[string]string{"slot": a.noBook(shop, err)}, nil
	}
	return id, nil, a.noteAppointment(ctx, in, p, id, b)
}

const taken = "Somebody has just taken that time; please choose another."

func (a *App) noBook(shop store.Shop, err error) string {
	a.Log.Warn("the appointment book does not answer", "err", err)
	say := "The appointment book does not answer just now. Nothing is booked; please try again"
	if shop.Phone != "" {
		say += ", or call " + shop.Phone
	}
	return say + "."
}

func (a *App) appointmentKnown(ctx context.Context, id string) (bool, error) {
	var n int64
	err := a.db(ctx).Raw("SELECT count(*) FROM leads WHERE id = ?", id).Scan(&n).Error
	return n > 0, err
}

// noteAppointment keeps who comes as a lead and puts the letters into the queue.
func (a *App) noteAppointment(ctx context.Context, in FormInput, p manuscript.Piece, id string, b Booking) error {
	row := store.Lead{
		ID: id, Kind: string(lead.Appointment), Email: b.Email, Name: b.Name, Message: b.Subject, CampaignID: &in.Live.Edition.CampaignID, PageID: &in.Live.Page.ID, PieceID: p.ID,
		Link: cutTo(in.Values["link"], 40), Visitor: in.Visitor, At: a.Now(), SlotAt: &b.At, SlotMinutes: &b.Minutes,
	}
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		return a.Queue.Put(tx, SendLead{LeadID: row.ID})
	})
	if err != nil {
		return fmt.Errorf("keep an appointment: %w", err)
	}
	a.factsChanged() // the time is no longer free
	return nil
}

// Appointment reads one that was taken, by its secret ID.
func (a *App) Appointment(ctx context.Context, id string) (appointment.Meeting, error) {
	l, err := one[store.Lead](a.db(ctx).Where("id = ? AND kind = ?", id, string(lead.Appointment)), "There is no such appointment.")
	if err != nil {
		return appointment.Meeting{}, err
	}
	shop, err := a.Shop(ctx)
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
func (a *App) sendAppointment(ctx context.Context, l store.Lead, shop store.Shop) error {
	m := meetingOf(l, shop)
	text := fmt.Sprintf("Dear %s,\n\nyour appointment stands:\n\n  %s\n  %s (%d minutes)\n\nThe file with this letter puts it into your calendar. %s\n\n%s\n%s\n",
		l.Name, l.Message, deadline.Written(m.At, shop.Zone), m.Minutes, m.Note, shop.LegalName, shop.LegalAddress)
	letter := Letter{
		ID: l.ID, FromName: shop.Name, From: shop.ContactEmail, To: l.Email, Subject: "Your appointment: " + deadline.Written(m.At, shop.Zone), Text: text, HTML: plainHTML(text),
		Files: []File{{Name: "appointment.ics", Type: "text/calendar; charset=utf-8; method=PUBLISH", Content: []byte(appointment.Calendar(m))}},
	}
	if err := a.send(ctx, letter); err != nil {
		return fmt.Errorf("send an appointment: %w", err)
	}
	letter.ID, letter.To, letter.Subject = l.ID+"-store", shop.ContactEmail, "Appointment with "+l.Name+": "+deadline.Written(m.At, shop.Zone)
	letter.Text = fmt.Sprintf("%s <%s> comes for: %s\n%s\n", l.Name, l.Email, l.Message, deadline.Written(m.At, shop.Zone))
	letter.HTML = plainHTML(letter.Text)
	return a.send(ctx, letter)
}
