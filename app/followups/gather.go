package followups

import (
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/followup"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// How much is taken up at once, and how far back what begins a follow-up may lie.
const (
	gatherAtOnce = 200
	gatherSince  = 30 * 24 * time.Hour
	// lateBy is how late a letter may still go that was due before its reader was on the list,
	// or before it was known that the line begins for them.
	lateBy = time.Hour
)

// LookUp is the job that looks for what begins follow-ups.
type LookUp struct{}

// Kind names the job in the queue.
func (LookUp) Kind() string { return "look_up" }

// Gather takes up what happened elsewhere since it was asked last: who did what a follow-up
// begins with, and is on its list, begins it, once, whatever is killed between.
func (k *Keeper) Gather(ctx context.Context) error {
	var lines []store.Followup
	if err := k.Store.On(ctx).Where("begins AND list_id IS NOT NULL AND line -> 'begins' ->> 'what' <> ?", followup.Joined).Order("id").Find(&lines).Error; err != nil {
		return fmt.Errorf("read what begins follow-ups: %w", err)
	}
	for _, l := range lines {
		if err := k.gather(ctx, l); err != nil {
			return fmt.Errorf("begin the follow-up %q: %w", l.Name, err)
		}
	}
	return nil
}

// deeds say, for each happening that begins a line or on which a letter hangs, who did it when: email, at, and since when
// it is known, of the thing @of (or of any, where it is empty), from the moment @since on.
var deeds = map[followup.Happening]string{
	followup.Submitted: `SELECT lower(email) AS email, at, at AS known FROM leads WHERE kind <> 'appointment' AND at >= @since AND (@of = '' OR page_id = @of)`,
	followup.Booked:    `SELECT lower(email) AS email, at, at AS known FROM leads WHERE kind = 'appointment' AND at >= @since AND (@of = '' OR page_id = @of)`,
	followup.Meets:     `SELECT lower(email) AS email, slot_at AS at, at AS known FROM leads WHERE slot_at >= @now AND (@of = '' OR page_id = @of)`,
	followup.Bought: `SELECT lower(o.email) AS email, o.paid_at AS at, o.paid_at AS known FROM orders o WHERE o.state = 'paid' AND o.paid_at >= @since
		AND (@of = '' OR EXISTS (SELECT FROM order_lines l WHERE l.order_id = o.id AND l.variant_id = @of))`,
	followup.Declined: `SELECT lower(o.email) AS email, y.at, y.at AS known FROM answers y JOIN orders o ON o.id = y.order_id JOIN steps s ON s.id = y.step_id
		WHERE y.outcome = 'declined' AND y.at >= @since AND (@of = '' OR s.page_id = @of)`,
	followup.Unfinished: `SELECT lower(email) AS email, at, at AS known FROM unfinished WHERE at >= @since AND (@of = '' OR page_id = @of)`,
	followup.Joined:     `SELECT lower(c.email) AS email, m.on_at AS at, m.on_at AS known FROM members m JOIN contacts c ON c.id = m.contact_id WHERE m.state = 'on' AND m.on_at >= @since AND (@of = '' OR m.list_id = @of)`,
	followup.Clicked: `SELECT lower(c.email) AS email, p.clicked_at AS at, p.clicked_at AS known FROM postings p JOIN contacts c ON c.id = p.contact_id
		WHERE p.clicked_at >= @since AND (@of = '' OR p.letter_id = @of)`,
}

// gather begins a line for those who are on its list and did what begins it.
func (k *Keeper) gather(ctx context.Context, row store.Followup) error {
	db, now := k.Store.On(ctx), k.Store.Now()
	f, err := k.lineOf(db, row)
	if err != nil {
		return err
	}
	at, err := ShopZone(db)
	if err != nil {
		return err
	}
	did, args := deeds[f.Begins.What], map[string]any{"of": f.Begins.Of, "since": later(row.Since, now.Add(-gatherSince)), "now": now, "list": row.ListID, "line": row.ID, "most": gatherAtOnce}
	switch f.Begins.What {
	case followup.Nears:
		ends, err := k.endOf(db, f.Begins.Of)
		if err != nil || ends.IsZero() || !now.Before(ends) || now.Before(f.Begins.Before(ends, Zone(at))) {
			return err
		}
		did, args["at"] = `SELECT lower(c.email) AS email, CAST(@at AS timestamptz) AS at, CAST(@at AS timestamptz) AS known FROM contacts c`, f.Begins.Before(ends, Zone(at))
	case followup.Meets:
		args["until"] = now.AddDate(0, 0, f.Begins.Days)
		did += ` AND slot_at <= @until`
	default:
	}
	if did == "" {
		return nil
	}
	for {
		var found []struct {
			store.Contact
			At, Known time.Time
		}
		err := db.Raw(`SELECT c.*, min(d.at) AS at, greatest(min(d.known), max(m.on_at)) AS known FROM (`+did+`) d JOIN contacts c ON lower(c.email) = d.email JOIN members m ON m.contact_id = c.id AND m.list_id = @list AND m.state = 'on'
			WHERE NOT EXISTS (SELECT FROM followings g WHERE g.followup_id = @line AND g.contact_id = c.id) GROUP BY c.id ORDER BY min(d.at), c.id LIMIT @most`, args).Scan(&found).Error
		if err != nil {
			return err
		}
		for _, one := range found {
			if f.Begins.What == followup.Meets {
				one.At = f.Begins.Before(one.At, Zone(one.Zone, at)).UTC()
			}
			err := k.Store.In(ctx, func(tx *gorm.DB) error {
				e := followup.Event{What: f.Begins.What, Of: f.Begins.Of, At: one.At}
				return k.Begin(tx, row, one.Contact, e, later(row.Since, one.Known).Add(-lateBy))
			})
			if err != nil {
				return err
			}
		}
		if len(found) < gatherAtOnce {
			return nil
		}
	}
}

// endOf is when a deadline that is the same for all ends; zero: it is none, or gone.
func (k *Keeper) endOf(db *gorm.DB, id string) (time.Time, error) {
	row, err := store.One[store.Deadline](db.Where("id = ?", id), "There is no such deadline.")
	if errors.Is(err, refusal.ErrNotFound) {
		return time.Time{}, nil
	}
	if err != nil {
		return time.Time{}, err
	}
	if row.Kind != string(deadline.Fixed) || row.At == nil {
		return time.Time{}, nil
	}
	return *row.At, nil
}

// later is the later of a moment that may not be known and another.
func later(a *time.Time, b time.Time) time.Time {
	if a != nil && a.After(b) {
		return *a
	}
	return b
}
