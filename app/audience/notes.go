package audience

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/followups"
	"chrysagon/core/refusal"
	"chrysagon/store"
)

// Noting is a note of somebody, or a task for them, as it is written.
type Noting struct {
	ContactID, Says, By string
	DueOn               string // a day, such as 2026-12-04; empty: it is a note
}

// Note keeps it.
func (a *Audience) Note(ctx context.Context, in Noting) error {
	in.Says = strings.TrimSpace(in.Says)
	if n := len([]rune(in.Says)); n == 0 || n > 2000 {
		return refusal.Of(refusal.ErrInvalid, "Write the note, in at most 2,000 characters.")
	}
	var due *string
	if in.DueOn != "" {
		if _, err := time.Parse(time.DateOnly, in.DueOn); err != nil {
			return refusal.Of(refusal.ErrInvalid, "Write the day as 2026-12-04, or leave it empty.")
		}
		due = &in.DueOn
	}
	if _, err := ContactOf(a.Store.On(ctx), in.ContactID); err != nil {
		return err
	}
	err := a.Store.On(ctx).Exec("INSERT INTO notes (id, contact_id, says, due_on, by, at) VALUES (?, ?, ?, ?, ?, ?)", store.NewID(), in.ContactID, in.Says, due, in.By, a.Store.Now()).Error
	if err != nil {
		return fmt.Errorf("keep a note: %w", err)
	}
	return nil
}

// Done says that a task is done, or that it is not.
func (a *Audience) Done(ctx context.Context, id string, done bool) error {
	var at *time.Time
	if now := a.Store.Now(); done {
		at = &now
	}
	did := a.Store.On(ctx).Exec("UPDATE notes SET done_at = ? WHERE id = ? AND due_on IS NOT NULL", at, id)
	if did.Error == nil && did.RowsAffected == 0 {
		return refusal.Of(refusal.ErrNotFound, "There is no such task.")
	}
	return did.Error
}

// Task is something that is to be done for somebody.
type Task struct {
	ID, Says, ContactID, Name string
	DueOn                     time.Time
	Late                      bool
}

// Tasks are those that are not done, of one person or, where none is named, of all, the first
// due first.
func (a *Audience) Tasks(ctx context.Context, contactID string) ([]Task, error) {
	db := a.Store.On(ctx)
	at, err := followups.ShopZone(db)
	if err != nil {
		return nil, err
	}
	var out []Task
	err = db.Raw(`SELECT n.id, n.says, n.contact_id, coalesce(nullif(c.name, ''), c.email) AS name, n.due_on, n.due_on < (?::timestamptz AT TIME ZONE ?)::date AS late
		FROM notes n JOIN contacts c ON c.id = n.contact_id WHERE n.done_at IS NULL AND n.due_on IS NOT NULL AND ? IN ('', n.contact_id) ORDER BY n.due_on, n.at LIMIT 50`, a.Store.Now(), followups.Zone(at).String(), contactID).Scan(&out).Error
	if err != nil {
		return nil, fmt.Errorf("read what is to be done: %w", err)
	}
	return out, nil
}
