package followups

import (
	"errors"
	"time"

	"chrysagon/core/followup"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Standing is whether a letter of a follow-up may go now: a reason why it never does, or a
// later moment. The zero Standing lets it go.
type Standing struct {
	Why string
	At  time.Time
}

// Stands says what a follow-up makes of one of its letters now.
func (k *Keeper) Stands(db *gorm.DB, p store.Posting, who store.Contact, shopZone string, now time.Time) (Standing, error) {
	row, err := store.One[store.Followup](db.Where("id = ?", p.FollowupID), "There is no such follow-up.")
	if errors.Is(err, refusal.ErrNotFound) {
		return Standing{Why: "its follow-up is gone"}, nil
	}
	if err != nil {
		return Standing{}, err
	}
	var on store.Following
	if err := db.Where("followup_id = ? AND contact_id = ?", row.ID, who.ID).Take(&on).Error; err != nil {
		return Standing{}, err
	}
	f, err := k.lineOf(db, row)
	if err != nil {
		return Standing{}, err
	}
	did, err := history(db, row, f, who, on.BeganAt)
	if err != nil {
		return Standing{}, err
	}
	zone := Zone(who.Zone, shopZone)
	if f.Until.IsZero() {
		if f.Until, err = ownEnd(db, row, who, zone, on.BeganAt, now); err != nil {
			return Standing{}, err
		}
	}
	for _, told := range f.Tell(did, zone) {
		if told.Letter != *p.LetterID {
			continue
		}
		switch {
		case told.Outcome != followup.Sent:
			return Standing{Why: told.Why}, nil
		case told.At.After(now):
			return Standing{At: told.At.UTC()}, nil
		}
		return Standing{}, nil
	}
	return Standing{Why: "it is no longer in the follow-up"}, nil
}
