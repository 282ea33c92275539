package audience

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/core/mailing"
	"chrysagon/store"
)

// tellAt is the hour, where the store is, from which it hears of those who joined the day
// before, for lists that tell of them once a day.
const tellAt = 8

// Tell tells the store who joined the lists of which it wants to hear.
func (a *Audience) Tell(ctx context.Context) error {
	db := a.Store.On(ctx)
	var lists []store.List
	if err := db.Where("tells <> ?", mailing.Never).Order("name").Find(&lists).Error; err != nil {
		return fmt.Errorf("read whom to tell of: %w", err)
	}
	if len(lists) == 0 {
		return nil
	}
	shop, err := a.Store.Shop(ctx)
	if err != nil {
		return err
	}
	for _, l := range lists {
		until := a.Store.Now()
		if mailing.Telling(l.Tells) == mailing.Daily {
			until = today(until, shop.Zone)
		}
		if err := a.tellOf(ctx, l, shop, until); err != nil {
			return err
		}
	}
	return nil
}

// today is the moment up to which those who joined are told of now: the beginning of the day
// once it is late enough to be read, else that of the day before.
func today(now time.Time, name string) time.Time {
	at := followups.Zone(name)
	local := now.In(at)
	day := local.Day()
	if local.Hour() < tellAt {
		day--
	}
	return time.Date(local.Year(), local.Month(), day, 0, 0, 0, 0, at)
}

// tellOf tells of those who joined one list before a moment and of whom nothing was said.
func (a *Audience) tellOf(ctx context.Context, l store.List, shop store.Shop, until time.Time) error {
	var who []struct{ ContactID, Email, Name string }
	err := a.Store.On(ctx).Raw(`UPDATE members m SET told_at = ? FROM contacts c WHERE c.id = m.contact_id AND m.list_id = ? AND m.state = 'on' AND m.told_at IS NULL AND m.on_at <= ?
		RETURNING m.contact_id, c.email, c.name`, a.Store.Now(), l.ID, until).Scan(&who).Error
	if err != nil || len(who) == 0 {
		return err
	}
	var text strings.Builder
	fmt.Fprintf(&text, "On the list “%s” since:\n\n", l.Name)
	var ids []string
	for _, w := range who {
		fmt.Fprintf(&text, "  %s  %s\n", w.Email, w.Name)
		ids = append(ids, w.ContactID)
	}
	subject := fmt.Sprintf("%d joined “%s”", len(who), l.Name)
	if len(who) == 1 {
		subject = who[0].Email + " joined “" + l.Name + "”"
	}
	if err := a.Mail.Send(ctx, mail.ToStore(shop, store.NewID(), subject, text.String(), "")); err != nil {
		back := a.Store.On(context.WithoutCancel(ctx)).Exec("UPDATE members SET told_at = NULL WHERE list_id = ? AND contact_id = ANY(?::text[])", l.ID, store.TextArray(ids)).Error
		return fmt.Errorf("tell the store who joined: %w", errors.Join(err, back))
	}
	return nil
}
