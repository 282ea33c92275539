package audience

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/core/followup"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Joining is somebody who joins a list by a form.
type Joining struct {
	ListID    string
	Email     string
	Name      string
	Zone      string // IANA name, as their browser says; empty: not known
	Consent   string // the words they agreed to beside the list's own
	PageID    string
	EditionID string
	Source    string
	At        time.Time
}

// Join puts somebody on a list, within the transaction that keeps what they sent; where the
// list confirms, only once they have. Joining twice is joining once; it ends a pause. An
// address that must not be written to joins nothing.
func (a *Audience) Join(tx *gorm.DB, in Joining) error {
	row, err := store.One[store.List](tx.Where("id = ?", in.ListID), "There is no such list.")
	if errors.Is(err, refusal.ErrNotFound) {
		return nil // it was taken away since the page went out; the lead is kept
	}
	if err != nil {
		return err
	}
	list := factbook.ListOf(row)
	var shop store.Shop
	if err := tx.Select("seal_key").Take(&shop).Error; err != nil {
		return err
	}
	if never, err := IsHushed(tx, shop.SealKey, in.Email); err != nil || never {
		return err // anybody could type their address; they themselves say so by the link of a letter they have
	}
	var who store.Contact
	err = tx.Raw(`INSERT INTO contacts (id, email, name, zone, first_at) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (lower(email)) DO UPDATE SET name = CASE WHEN EXCLUDED.name <> '' THEN EXCLUDED.name ELSE contacts.name END,
			zone = CASE WHEN EXCLUDED.zone <> '' THEN EXCLUDED.zone ELSE contacts.zone END, paused_until = NULL
		RETURNING *`, store.NewID(), in.Email, in.Name, in.Zone, in.At).Scan(&who).Error
	if err != nil {
		return fmt.Errorf("keep a contact: %w", err)
	}
	return a.step(tx, list, who, mailing.Joined, in.At, &in)
}

// step lets an event change how somebody stands to a list, and does what follows from it.
// The member's row is locked, so that two presses at once are one after the other.
func (a *Audience) step(tx *gorm.DB, list mailing.List, who store.Contact, e mailing.Event, at time.Time, in *Joining) error {
	if err := tx.Exec("SELECT FROM contacts WHERE id = ? FOR UPDATE", who.ID).Error; err != nil {
		return err
	}
	was, err := MemberOf(tx, list.ID, who.ID)
	if err != nil {
		return err
	}
	now, state := store.Member{ListID: list.ID, ContactID: who.ID, AskedAt: at}, mailing.Stranger
	if was != nil {
		now, state = *was, mailing.State(was.State)
	}
	next := state.After(e, list)
	if in != nil {
		now.Consent, now.Source = words.Tidy(in.Consent), in.Source
		if !strings.Contains(now.Consent, list.Agreed()) { // a checkout says both beside one tick
			now.Consent = words.Tidy(list.Agreed() + " " + in.Consent)
		}
		now.PageID, now.EditionID = factbook.Ref(in.PageID), factbook.Ref(in.EditionID)
	}
	if next == state && (e != mailing.Joined || next == mailing.Asked) {
		if e == mailing.Joined { // asked again: the mail is sent again, not more than once in ten minutes
			return a.askAgain(tx, list, who, at)
		}
		return nil
	}
	now.State = string(next)
	switch {
	case next == mailing.On && state != mailing.On:
		now.OnAt = &at
	case next == mailing.Off && state != mailing.Off:
		now.OffAt = &at
	case next == mailing.Asked:
		now.AskedAt = at
	}
	if err := tx.Save(&now).Error; err != nil {
		return fmt.Errorf("keep who is on a list: %w", err)
	}
	switch {
	case next == mailing.Asked:
		return a.put(tx, store.Posting{ContactID: who.ID, Kind: "confirm", ListID: &list.ID, DueAt: at})
	case next == mailing.On && state != mailing.On:
		return a.arrived(tx, list, who, at)
	}
	return nil
}

// arrived does what follows once somebody is on a list: it hands out what the list gives,
// and begins the follow-ups that it begins.
func (a *Audience) arrived(tx *gorm.DB, list mailing.List, who store.Contact, at time.Time) error {
	if list.Gives != "" || list.Code != "" {
		if err := a.put(tx, store.Posting{ContactID: who.ID, Kind: "gift", ListID: &list.ID, DueAt: at}); err != nil {
			return err
		}
	}
	var lines []store.Followup
	if err := tx.Where("list_id = ? AND begins AND coalesce(line -> 'begins' ->> 'what', 'joined') IN ('', 'joined')", list.ID).Order("id").Find(&lines).Error; err != nil {
		return fmt.Errorf("read what a list begins: %w", err)
	}
	for _, l := range lines {
		if err := a.Followups.Begin(tx, l, who, followup.Event{What: followup.Joined, Of: list.ID, At: at}, time.Time{}); err != nil {
			return err
		}
	}
	return nil
}

// askAgain sends the mail that asks to confirm once more, but not more than once in ten
// minutes: else a form could be used to flood somebody.
func (a *Audience) askAgain(tx *gorm.DB, list mailing.List, who store.Contact, at time.Time) error {
	var lately int64
	err := tx.Model(&store.Posting{}).Where("contact_id = ? AND list_id = ? AND kind = 'confirm' AND due_at > ?", who.ID, list.ID, at.Add(-10*time.Minute)).Count(&lately).Error
	if err != nil || lately > 0 {
		return err
	}
	return a.put(tx, store.Posting{ContactID: who.ID, Kind: "confirm", ListID: &list.ID, DueAt: at})
}

// put keeps a letter to be sent, and has what is due sent.
func (a *Audience) put(tx *gorm.DB, p store.Posting) error {
	p.ID = store.NewID()
	if err := tx.Create(&p).Error; err != nil {
		return fmt.Errorf("keep a letter to be sent: %w", err)
	}
	return a.Queue.Put(tx, mail.SendPost{})
}

// Asked is who a link in a letter is about, and how they stand.
type Asked struct {
	Contact store.Contact
	List    mailing.List // of no ID where the link is of no one list
	State   mailing.State
	Lists   []Standing
	Hushed  bool
	Given   store.Handout // what the list hands out, once they are on it
	Leads   string        // address of the published page to which the list leads on; empty: none
}

// Standing is how somebody stands to one list.
type Standing struct {
	mailing.List
	State mailing.State
}

// Who reads who a link in a letter is about.
func (a *Audience) Who(ctx context.Context, text string) (Asked, error) {
	key, err := a.key(ctx)
	if err != nil {
		return Asked{}, err
	}
	p, ours := mailing.ReadPass(key, text)
	if !ours {
		return Asked{}, refusal.Of(refusal.ErrNotFound, noPerson)
	}
	db := a.Store.On(ctx)
	out := Asked{}
	if out.Contact, err = ContactOf(db, p.Contact); err != nil {
		return out, err
	}
	var rows []struct {
		store.List
		State string
	}
	if err := db.Raw("SELECT l.*, m.state FROM members m JOIN lists l ON l.id = m.list_id WHERE m.contact_id = ? ORDER BY l.name", p.Contact).Scan(&rows).Error; err != nil {
		return out, fmt.Errorf("read somebody's lists: %w", err)
	}
	for _, r := range rows {
		s := Standing{factbook.ListOf(r.List), mailing.State(r.State)}
		if out.Lists = append(out.Lists, s); s.ID == p.List {
			out.List, out.State = s.List, s.State
		}
	}
	if out.Hushed, err = IsHushed(db, key, out.Contact.Email); err != nil {
		return out, err
	}
	if out.State == mailing.On && out.List.Gives != "" {
		err = db.Where("id = ?", out.List.Gives).Omit("bytes").Limit(1).Find(&out.Given).Error
	}
	if err == nil && out.State == mailing.On && out.List.After != "" {
		err = db.Raw("SELECT address FROM live_pages WHERE page_id = ? LIMIT 1", out.List.After).Scan(&out.Leads).Error
	}
	return out, err
}

// IsHushed tells whether an address must never be written to again.
func IsHushed(db *gorm.DB, key []byte, email string) (bool, error) {
	var n int64
	err := db.Model(&store.Hushed{}).Where("hush = ?", mailing.Hush(key, email)).Count(&n).Error
	return n > 0, err
}

// Confirm puts somebody on the list that their link is of. It is done by a press on a page:
// whoever merely opens links, as scanners of mail do, confirms nothing.
func (a *Audience) Confirm(ctx context.Context, text string) error {
	return a.answer(ctx, text, func(tx *gorm.DB, who Asked, at time.Time) error {
		if who.List.ID == "" {
			return refusal.Of(refusal.ErrNotFound, "The list that this link was for is gone.")
		}
		return a.step(tx, who.List, who.Contact, mailing.Confirmed, at, nil)
	})
}

// Wishes are what somebody wants of their letters.
type Wishes struct {
	On     map[string]bool // the lists they stay on, by ID
	Pause  int             // days without letters; 0: none
	AllOff bool            // never write to them again
}

// Leave takes somebody off the list of their link, or off all where it is of none: what
// the one press in a mail program does (RFC 8058).
func (a *Audience) Leave(ctx context.Context, text string) error {
	return a.answer(ctx, text, func(tx *gorm.DB, who Asked, at time.Time) error {
		for _, s := range who.Lists {
			if who.List.ID == "" || s.ID == who.List.ID {
				if err := a.step(tx, s.List, who.Contact, mailing.Left, at, nil); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// Prefer does what somebody wishes of their letters. It takes nobody onto a list that they
// had not joined, and holds at once, also for what waits to be sent.
func (a *Audience) Prefer(ctx context.Context, text string, w Wishes) error {
	return a.answer(ctx, text, func(tx *gorm.DB, who Asked, at time.Time) error {
		for _, s := range who.Lists {
			if s.State == mailing.On && (w.AllOff || !w.On[s.ID]) {
				if err := a.step(tx, s.List, who.Contact, mailing.Left, at, nil); err != nil {
					return err
				}
			}
			if s.State == mailing.Off && w.On[s.ID] && !w.AllOff { // they were on it before, and say so themselves
				if err := a.step(tx, mailing.List{ID: s.ID}, who.Contact, mailing.Joined, at, nil); err != nil {
					return err
				}
			}
		}
		var until *time.Time
		if w.Pause > 0 {
			pause := at.AddDate(0, 0, min(w.Pause, 365))
			until = &pause
		}
		if err := tx.Model(&store.Contact{}).Where("id = ?", who.Contact.ID).Update("paused_until", until).Error; err != nil {
			return err
		}
		key, err := a.key(store.Within(ctx, tx))
		if err != nil {
			return err
		}
		if w.AllOff {
			return tx.Exec("INSERT INTO hushed (hush, why, at) VALUES (?, 'all_off', ?) ON CONFLICT DO NOTHING", mailing.Hush(key, who.Contact.Email), at).Error
		}
		return tx.Exec("DELETE FROM hushed WHERE hush = ? AND why IN ('all_off', 'complained')", mailing.Hush(key, who.Contact.Email)).Error
	})
}

// answer does what a press on the page of a link asks, in one transaction.
func (a *Audience) answer(ctx context.Context, text string, do func(*gorm.DB, Asked, time.Time) error) error {
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		who, err := a.Who(store.Within(ctx, tx), text)
		if err != nil {
			return err
		}
		return do(tx, who, a.Store.Now())
	})
	if err != nil {
		return fmt.Errorf("answer a link in a letter: %w", err)
	}
	return nil
}
