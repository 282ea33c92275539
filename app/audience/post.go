package audience

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/core/followup"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/pieces/form"
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
func (a *Audience) SendDue(ctx context.Context) (int, error) {
	if a.Ports.Post == nil {
		return 0, nil // what is due waits for a mail server
	}
	if err := a.open(ctx); err != nil {
		return 0, err
	}
	sent := 0
	for ctx.Err() == nil {
		now := a.Store.Now()
		var due []store.Posting
		err := a.Store.On(ctx).Raw(`UPDATE postings SET taken_until = ?, tries = tries + 1 WHERE id IN (
			SELECT id FROM postings WHERE sent_at IS NULL AND dropped = '' AND due_at <= ? AND (taken_until IS NULL OR taken_until <= ?) ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED)
			RETURNING *`, now.Add(takenFor), now, now, atOnce).Scan(&due).Error
		if err != nil {
			return sent, fmt.Errorf("take the letters that are due: %w", err)
		}
		if len(due) == 0 {
			return sent, nil
		}
		for _, p := range due {
			went, err := a.send(ctx, p)
			if err != nil {
				a.Log.Warn("a letter was not sent", "posting", p.ID, "error", err)
			}
			if went {
				sent++
			}
		}
	}
	return sent, nil
}

// send sends one letter that was taken, or says why it does not.
func (a *Audience) send(ctx context.Context, p store.Posting) (bool, error) {
	l, still, err := a.compose(ctx, p)
	if err != nil {
		return false, errors.Join(err, a.later(ctx, p))
	}
	if still.why != "" {
		return false, a.settle(ctx, p, map[string]any{"dropped": still.why, "taken_until": nil})
	}
	if !still.at.IsZero() {
		return false, a.settle(ctx, p, map[string]any{"due_at": still.at, "taken_until": nil, "tries": 0})
	}
	err = a.Mail.Send(ctx, l)
	var no *ports.Refused
	if errors.As(err, &no) {
		return false, errors.Join(a.settle(ctx, p, map[string]any{"dropped": no.Error(), "subject": l.Subject, "taken_until": nil}), a.Returns.Refused(ctx, p.ID, no))
	}
	if err != nil {
		return false, errors.Join(err, a.later(ctx, p))
	}
	return true, a.settle(ctx, p, map[string]any{"sent_at": a.Store.Now(), "subject": l.Subject, "taken_until": nil})
}

func (a *Audience) settle(ctx context.Context, p store.Posting, how map[string]any) error {
	// A program that ends must still be able to say what it has sent.
	return a.Store.On(context.WithoutCancel(ctx)).Model(&store.Posting{}).Where("id = ?", p.ID).Updates(how).Error
}

// later tries a letter again after a time that grows, and gives it up in the end.
func (a *Audience) later(ctx context.Context, p store.Posting) error {
	if p.Tries >= mostTry {
		return a.settle(ctx, p, map[string]any{"dropped": fmt.Sprintf("it could not be sent in %d tries", p.Tries), "taken_until": nil})
	}
	return a.settle(ctx, p, map[string]any{"taken_until": a.Store.Now().Add(time.Minute << min(p.Tries, 10))})
}

// still is whether a letter may go now: a reason why it never does, or a later moment.
type still struct {
	why string
	at  time.Time
}

// compose writes a letter that is due, if it may still go.
func (a *Audience) compose(ctx context.Context, p store.Posting) (ports.Letter, still, error) {
	db := a.Store.On(ctx)
	shop, err := a.Store.Shop(ctx)
	if err != nil {
		return ports.Letter{}, still{}, err
	}
	who, err := contact(db, p.ContactID)
	if errors.Is(err, refusal.ErrNotFound) {
		return ports.Letter{}, still{why: "they were erased"}, nil
	}
	if err != nil {
		return ports.Letter{}, still{}, err
	}
	row, err := store.One[store.List](db.Where("id = ?", p.ListID), "There is no such list.")
	if errors.Is(err, refusal.ErrNotFound) {
		return ports.Letter{}, still{why: "its list is gone"}, nil
	}
	if err != nil {
		return ports.Letter{}, still{}, err
	}
	list := factbook.ListOf(row)
	stop, err := a.may(db, p, list, who, shop)
	if err != nil || stop != (still{}) {
		return ports.Letter{}, stop, err
	}
	base := ports.Letter{
		ID: p.ID, FromName: cmp.Or(list.FromName, shop.Name), From: shop.ContactEmail, ReplyTo: list.ReplyTo, To: who.Email,
		Unsubscribe: a.wishes(shop.SealKey, who.ID, list.ID) + "/off",
	}
	switch p.Kind {
	case "confirm":
		base.Unsubscribe = ""
		return a.confirming(base, list, who, shop), still{}, nil
	case "gift":
		return a.gift(ctx, base, list, who, shop)
	}
	return a.letter(ctx, base, p, list, who, shop)
}

// wishes is the whole address of the page where somebody says what they want.
func (a *Audience) wishes(key []byte, contactID, listID string) string {
	return a.Origins.Shop + "/letters/" + mailing.Pass{Contact: contactID, List: listID}.Write(key)
}

// may says whether a letter may still go to somebody: what they did since it was planned
// counts, up to this moment.
func (a *Audience) may(db *gorm.DB, p store.Posting, list mailing.List, who store.Contact, shop store.Shop) (still, error) {
	never, err := hushed(db, shop.SealKey, who.Email)
	if err != nil {
		return still{}, err
	}
	is, err := member(db, list.ID, who.ID)
	if err != nil {
		return still{}, err
	}
	person := mailing.Person{Hushed: never}
	if is != nil {
		person.State = mailing.State(is.State)
	}
	now := a.Store.Now()
	if p.Kind == "confirm" {
		if person.Hushed || person.State != mailing.Asked {
			return still{why: "it needs no confirming any more"}, nil
		}
		return still{}, nil
	}
	if who.PausedUntil != nil {
		person.Paused = *who.PausedUntil
	}
	if why, may := person.May(now); !may {
		if now.Before(person.Paused) && !person.Hushed && person.State == mailing.On {
			return still{at: person.Paused}, nil
		}
		return still{why: why}, nil
	}
	if p.FollowupID == nil {
		return still{}, nil
	}
	return a.onLine(db, p, who, shop, now)
}

// onLine says what a follow-up makes of one of its letters now.
func (a *Audience) onLine(db *gorm.DB, p store.Posting, who store.Contact, shop store.Shop, now time.Time) (still, error) {
	row, err := store.One[store.Followup](db.Where("id = ?", p.FollowupID), "There is no such follow-up.")
	if errors.Is(err, refusal.ErrNotFound) {
		return still{why: "its follow-up is gone"}, nil
	}
	if err != nil {
		return still{}, err
	}
	var on store.Following
	if err := db.Where("followup_id = ? AND contact_id = ?", row.ID, who.ID).Take(&on).Error; err != nil {
		return still{}, err
	}
	f, err := a.lineOf(db, row)
	if err != nil {
		return still{}, err
	}
	did, err := history(db, row, f.Begins, who, on.BeganAt)
	if err != nil {
		return still{}, err
	}
	if f.Until.IsZero() {
		if f.Until, err = ownEnd(db, row, who, now); err != nil {
			return still{}, err
		}
	}
	for _, told := range f.Tell(did, zone(who.Zone, shop.Zone)) {
		if told.Letter != *p.LetterID {
			continue
		}
		switch {
		case told.Outcome != followup.Sent:
			return still{why: told.Why}, nil
		case told.At.After(now):
			return still{at: told.At.UTC()}, nil
		}
		return still{}, nil
	}
	return still{why: "it is no longer in the follow-up"}, nil
}

// confirming asks somebody whether they want the letters of a list.
func (a *Audience) confirming(base ports.Letter, list mailing.List, who store.Contact, shop store.Shop) ports.Letter {
	base.Subject = form.Confirming(base.FromName)
	greets := "Hello,"
	if who.Name != "" {
		greets = "Hello " + who.Name + ","
	}
	base.Text = fmt.Sprintf("%s\n\nsomebody, we hope you, typed this address on our page. If it was you, open this page and press its button:\n\n%s\n\n%s\n\nIf it was not you, do nothing: without the button no letter follows.\n\n%s\n%s\n",
		greets, a.wishes(shop.SealKey, who.ID, list.ID)+"/confirm", list.Why, shop.LegalName, shop.LegalAddress)
	base.HTML = mail.PlainHTML(base.Text)
	return base
}
