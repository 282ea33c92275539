package postroom

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/app/audience"
	"chrysagon/app/factbook"
	"chrysagon/app/followups"
	"chrysagon/app/ports"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// How letters are sent: how many are taken at once, for how long nobody else may take them,
// and how often a mail server is tried that does not take one.
const (
	atOnce   = 20
	takenFor = time.Minute
	mostTry  = 8
)

// SendDue sends what is due, until nothing is or the context ends, and returns how many
// letters went. Several copies of the program can do so at once. One that was killed
// half-way leaves its letters to be taken again a minute later, under the same Message-ID.
func (r *Room) SendDue(ctx context.Context) (int, error) {
	if r.Ports.Post == nil {
		return 0, nil // what is due waits for a mail server
	}
	if err := r.open(ctx); err != nil {
		return 0, err
	}
	sent := 0
	for ctx.Err() == nil {
		now := r.Store.Now()
		var due []store.Posting
		err := r.Store.On(ctx).Raw(`UPDATE postings SET taken_until = ?, tries = tries + 1 WHERE id IN (
			SELECT id FROM postings WHERE sent_at IS NULL AND dropped = '' AND due_at <= ? AND (taken_until IS NULL OR taken_until <= ?) ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED)
			RETURNING *`, now.Add(takenFor), now, now, atOnce).Scan(&due).Error
		if err != nil {
			return sent, fmt.Errorf("take the letters that are due: %w", err)
		}
		if len(due) == 0 {
			return sent, nil
		}
		for _, p := range due {
			went, err := r.send(ctx, p)
			if err != nil {
				r.Log.Warn("a letter was not sent", "posting", p.ID, "error", err)
			}
			if went {
				sent++
			}
		}
	}
	return sent, nil
}

// send sends one letter that was taken, or says why it does not.
func (r *Room) send(ctx context.Context, p store.Posting) (bool, error) {
	l, stands, err := r.compose(ctx, p)
	if err != nil {
		return false, errors.Join(err, r.later(ctx, p))
	}
	if stands.Why != "" {
		return false, r.settle(ctx, p, map[string]any{"dropped": stands.Why, "taken_until": nil})
	}
	if !stands.At.IsZero() {
		return false, r.settle(ctx, p, map[string]any{"due_at": stands.At, "taken_until": nil, "tries": 0})
	}
	err = r.Mail.Send(ctx, l)
	var no *ports.Refused
	if errors.As(err, &no) {
		return false, errors.Join(r.settle(ctx, p, map[string]any{"dropped": no.Error(), "subject": l.Subject, "taken_until": nil}), r.Returns.Refused(ctx, p.ID, no))
	}
	if err != nil {
		return false, errors.Join(err, r.later(ctx, p))
	}
	return true, r.settle(ctx, p, map[string]any{"sent_at": r.Store.Now(), "subject": l.Subject, "taken_until": nil})
}

func (r *Room) settle(ctx context.Context, p store.Posting, how map[string]any) error {
	// A program that ends must still be able to say what it has sent.
	return r.Store.On(context.WithoutCancel(ctx)).Model(&store.Posting{}).Where("id = ?", p.ID).Updates(how).Error
}

// later tries a letter again after a time that grows, and gives it up in the end.
func (r *Room) later(ctx context.Context, p store.Posting) error {
	if p.Tries >= mostTry {
		return r.settle(ctx, p, map[string]any{"dropped": fmt.Sprintf("it could not be sent in %d tries", p.Tries), "taken_until": nil})
	}
	return r.settle(ctx, p, map[string]any{"taken_until": r.Store.Now().Add(time.Minute << min(p.Tries, 10))})
}

// compose writes a letter that is due, if it may still go.
func (r *Room) compose(ctx context.Context, p store.Posting) (ports.Letter, followups.Standing, error) {
	db := r.Store.On(ctx)
	shop, err := r.Store.Shop(ctx)
	if err != nil {
		return ports.Letter{}, followups.Standing{}, err
	}
	who, err := audience.ContactOf(db, p.ContactID)
	if errors.Is(err, refusal.ErrNotFound) {
		return ports.Letter{}, followups.Standing{Why: "they were erased"}, nil
	}
	if err != nil {
		return ports.Letter{}, followups.Standing{}, err
	}
	row, err := store.One[store.List](db.Where("id = ?", p.ListID), "There is no such list.")
	if errors.Is(err, refusal.ErrNotFound) {
		return ports.Letter{}, followups.Standing{Why: "its list is gone"}, nil
	}
	if err != nil {
		return ports.Letter{}, followups.Standing{}, err
	}
	list := factbook.ListOf(row)
	stop, err := r.may(db, p, list, who, shop)
	if err != nil || stop != (followups.Standing{}) {
		return ports.Letter{}, stop, err
	}
	base := ports.Letter{
		ID: p.ID, FromName: cmp.Or(list.FromName, shop.Name), From: shop.ContactEmail, ReplyTo: list.ReplyTo, To: who.Email,
		Unsubscribe: r.Audience.Wishes(shop.SealKey, who.ID, list.ID) + "/off",
	}
	switch p.Kind {
	case "confirm":
		base.Unsubscribe = ""
		asks, err := r.confirming(base, list, who, shop)
		return asks, followups.Standing{}, err
	case "gift":
		return r.gift(ctx, base, list, who, shop)
	}
	return r.letter(ctx, base, p, list, who, shop)
}

// may says whether a letter may still go to somebody: what they did since it was planned
// counts, up to this moment.
func (r *Room) may(db *gorm.DB, p store.Posting, list mailing.List, who store.Contact, shop store.Shop) (followups.Standing, error) {
	never, err := audience.IsHushed(db, shop.SealKey, who.Email)
	if err != nil {
		return followups.Standing{}, err
	}
	is, err := audience.MemberOf(db, list.ID, who.ID)
	if err != nil {
		return followups.Standing{}, err
	}
	person := mailing.Person{Hushed: never}
	if is != nil {
		person.State = mailing.State(is.State)
	}
	now := r.Store.Now()
	if p.Kind == "confirm" {
		if person.Hushed || person.State != mailing.Asked {
			return followups.Standing{Why: "it needs no confirming any more"}, nil
		}
		return followups.Standing{}, nil
	}
	if who.PausedUntil != nil {
		person.Paused = *who.PausedUntil
	}
	if why, may := person.May(now); !may {
		if now.Before(person.Paused) && !person.Hushed && person.State == mailing.On {
			return followups.Standing{At: person.Paused}, nil
		}
		return followups.Standing{Why: why}, nil
	}
	if p.FollowupID == nil {
		return followups.Standing{}, nil
	}
	return r.Followups.Stands(db, p, who, shop.Zone, now)
}
