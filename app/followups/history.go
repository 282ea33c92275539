package followups

import (
	"fmt"
	"time"

	"chrysagon/core/followup"
	"chrysagon/store"

	"gorm.io/gorm"
)

// history is what happened to somebody that a line listens to: since it began for them, and
// what its letters hang on, at any time.
func history(db *gorm.DB, line store.Followup, f followup.Followup, who store.Contact, began time.Time) ([]followup.Event, error) {
	var rows []struct {
		What, Of string
		At       time.Time
	}
	err := db.Raw(`SELECT 'left' AS what, list_id AS of, off_at AS at FROM members WHERE contact_id = @who AND off_at >= @began AND state = 'off'
		UNION ALL SELECT 'bought', l.variant_id, o.paid_at FROM orders o JOIN order_lines l ON l.order_id = o.id WHERE lower(o.email) = lower(@email) AND o.state = 'paid' AND o.paid_at >= @began
		UNION ALL SELECT 'clicked', letter_id, clicked_at FROM postings WHERE contact_id = @who AND letter_id IS NOT NULL AND clicked_at >= @began
		UNION ALL SELECT 'wrote', letter_id, sent_at FROM postings WHERE contact_id = @who AND letter_id IS NOT NULL AND sent_at >= @before AND followup_id IS DISTINCT FROM @line`,
		map[string]any{"who": who.ID, "email": who.Email, "began": began, "before": began.AddDate(0, 0, -1), "line": line.ID}).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read what somebody did: %w", err)
	}
	out := []followup.Event{{What: f.Begins.What, Of: f.Begins.Of, At: began}}
	for _, r := range rows {
		out = append(out, followup.Event{What: followup.Happening(r.What), Of: r.Of, At: r.At})
	}
	for _, o := range f.HangsOn() {
		at, err := firstDid(db, o, who.Email)
		if err != nil {
			return nil, err
		}
		if !at.IsZero() {
			out = append(out, followup.Event{What: o.Did, Of: o.Of, At: at})
		}
	}
	return out, nil
}

// firstDid is when somebody first did what a letter hangs on; zero: never.
func firstDid(db *gorm.DB, o followup.Only, email string) (time.Time, error) {
	var at []time.Time
	err := db.Raw("SELECT d.at FROM ("+deeds[o.Did]+") d WHERE d.email = lower(@email) ORDER BY d.at LIMIT 1",
		map[string]any{"of": o.Of, "since": time.Unix(0, 0), "email": email}).Scan(&at).Error
	if err != nil || len(at) == 0 {
		return time.Time{}, err
	}
	return at[0], nil
}
