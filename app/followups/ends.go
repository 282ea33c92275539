package followups

import (
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/store"

	"gorm.io/gorm"
)

// EndFor is when a line ends for somebody of whose deadlines none is the same for all: the
// midnight of a day where they live, or the first end of a rule, as either stands when the line
// begins. A span ends with the letter that begins it, see [Keeper.Stands]; zero for one, and for
// a deadline that is the same for all.
func EndFor(d deadline.Deadline, zone *time.Location, began time.Time) (time.Time, error) {
	if d.Kind != deadline.Midnight && d.Kind != deadline.Repeats {
		return time.Time{}, nil
	}
	i, err := d.For(deadline.Visitor{Zone: zone.String()}, began)
	return i.At, err
}

// ownEnd is when a line ends for one person whose deadline is not the same for all; zero where
// it has not begun, or is none. A span counts from the first sight of it that is known of them,
// as it does in their letters and pages.
func ownEnd(db *gorm.DB, row store.Followup, who store.Contact, zone *time.Location, began, now time.Time) (time.Time, error) {
	var ends []store.Deadline
	if err := db.Where("id = ? AND kind <> ?", row.DeadlineID, deadline.Fixed).Find(&ends).Error; err != nil || len(ends) == 0 {
		return time.Time{}, err
	}
	d := factbook.DeadlineOf(ends[0])
	if d.Kind != deadline.Span {
		return EndFor(d, zone, began)
	}
	var first []time.Time
	err := db.Raw(`SELECT o.first_seen FROM sightings m JOIN sightings o ON o.deadline_id = m.deadline_id AND (o.visitor = m.visitor OR (m.email <> '' AND o.email = m.email))
		WHERE m.visitor = ? AND m.deadline_id = ? ORDER BY o.first_seen LIMIT 1`, SightOf(who.ID), d.ID).Scan(&first).Error
	if err != nil || len(first) == 0 {
		return time.Time{}, err
	}
	i, err := d.For(deadline.Visitor{FirstSeen: first[0]}, now)
	return i.At, err
}
