// Package returns keeps what mail servers say of letters: which came back, which were
// complained of, and which addresses are not written to again because of it.
package returns

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/ports"
	"chrysagon/core/bounce"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Keeper keeps it.
type Keeper struct {
	Store *store.Store
}

// Complaints is the local part of the address to which mailbox providers send complaints
// that name the letter alone.
const Complaints = "complaints"

// How often a letter is sent anew that came back for now, and how long after.
const (
	mostAnew  = 3
	anewAfter = 4 * time.Hour
)

// Known tells whether the store has made an address, by what stands before its @.
func (k *Keeper) Known(ctx context.Context, local string) (bool, error) {
	if strings.EqualFold(local, Complaints) {
		return true, nil
	}
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return false, err
	}
	_, ours := mailing.ReadBack(shop.SealKey, local)
	return ours, nil
}

// Take reads what was returned to an address, and does what follows. What is no report, or of
// a letter that is gone, changes nothing.
func (k *Keeper) Take(ctx context.Context, local string, raw []byte) error {
	report, err := bounce.Read(raw)
	if err != nil || report.Kind == bounce.Nothing {
		return nil //nolint:nilerr // what cannot be read will not be read at another try either
	}
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return err
	}
	id, ours := mailing.ReadBack(shop.SealKey, local)
	if strings.EqualFold(local, Complaints) && report.Kind == bounce.Complaint {
		id, _, ours = strings.Cut(report.MessageID, "@") // known to nobody but us and its reader
	}
	if !ours {
		return nil
	}
	return k.note(ctx, shop.SealKey, id, report)
}

// Refused notes that a server took a letter at no try, as it was handed over.
func (k *Keeper) Refused(ctx context.Context, id string, no *ports.Refused) error {
	if !no.Address { // it says nothing of the address
		return nil
	}
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return err
	}
	return k.note(ctx, shop.SealKey, id, bounce.Report{Kind: bounce.ForGood, Status: no.Status, Says: no.Says})
}

// note keeps a report on a letter by its ID, and does what follows.
func (k *Keeper) note(ctx context.Context, key []byte, id string, r bounce.Report) error {
	err := k.Store.In(ctx, func(tx *gorm.DB) error {
		row := store.Return{ID: store.NewID(), Kind: string(r.Kind), Status: r.Status, Says: r.Says, At: k.Store.Now()}
		to, attempt, err := k.receiver(tx, id)
		if errors.Is(err, refusal.ErrNotFound) {
			return k.ofOrder(tx, key, id, row)
		}
		if err != nil {
			return err
		}
		row.PostingID, row.Attempt = &id, attempt
		if done := keep(tx, row); done.Error != nil || done.RowsAffected == 0 {
			return done.Error
		}
		if r.Kind == bounce.ForNow {
			return k.anew(tx, id, attempt)
		}
		return k.hush(tx, key, to, r.Kind)
	})
	if err != nil {
		return fmt.Errorf("keep what a mail server said: %w", err)
	}
	return nil
}

// errSending says that a letter is being sent this moment, so that what is said of it must
// come again once that is known to have ended.
var errSending = errors.New("the letter is being sent")

// receiver is to whom a letter was sent, and at which try; its row is locked.
func (k *Keeper) receiver(tx *gorm.DB, id string) (string, int, error) {
	var rows []struct {
		Email string
		Tries int
		Taken bool
	}
	err := tx.Raw("SELECT c.email, p.tries, coalesce(p.sent_at IS NULL AND p.dropped = '' AND p.taken_until > ?, false) AS taken FROM postings p JOIN contacts c ON c.id = p.contact_id WHERE p.id = ? FOR UPDATE OF p", k.Store.Now(), id).Scan(&rows).Error
	switch {
	case err != nil:
		return "", 0, err
	case len(rows) == 0:
		return "", 0, refusal.Of(refusal.ErrNotFound, "There is no such letter.")
	case rows[0].Taken:
		return "", 0, errSending
	}
	return rows[0].Email, rows[0].Tries, nil
}

// keep writes a report down, unless it came before.
func keep(tx *gorm.DB, row store.Return) *gorm.DB {
	return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&row)
}

// ofOrder keeps a report on an order's own mail.
func (k *Keeper) ofOrder(tx *gorm.DB, key []byte, id string, row store.Return) error {
	var to []string
	if err := tx.Raw("SELECT o.email FROM mails m JOIN orders o ON o.id = m.order_id WHERE m.id = ?", id).Scan(&to).Error; err != nil || len(to) == 0 {
		return err
	}
	row.MailID = &id
	if err := keep(tx, row).Error; err != nil {
		return err
	}
	if row.Kind == string(bounce.ForGood) {
		if err := tx.Exec("UPDATE mails SET refused = ? WHERE id = ? AND refused = ''", strings.TrimSpace("it came back: "+row.Status+" "+row.Says), id).Error; err != nil {
			return err
		}
	}
	return k.hush(tx, key, to[0], bounce.Kind(row.Kind))
}

// hush sees to it that an address which is gone, or complained, gets no more letters. Mails
// about its orders are still tried: they are owed.
func (k *Keeper) hush(tx *gorm.DB, key []byte, email string, kind bounce.Kind) error {
	why := map[bounce.Kind]string{bounce.ForGood: "gone", bounce.Complaint: "complained"}[kind]
	if why == "" {
		return nil
	}
	return tx.Exec("INSERT INTO hushed (hush, why, at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", mailing.Hush(key, email), why, k.Store.Now()).Error
}

// anew sends a letter once more that came back for now, some hours later, under the same
// Message-ID; after some times it is given up.
func (k *Keeper) anew(tx *gorm.DB, id string, attempt int) error {
	if attempt >= mostAnew {
		return tx.Exec("UPDATE postings SET dropped = ?, sent_at = NULL WHERE id = ?", fmt.Sprintf("it came back %d times", attempt), id).Error
	}
	return tx.Exec("UPDATE postings SET sent_at = NULL, taken_until = NULL, due_at = ? WHERE id = ?", k.Store.Now().Add(anewAfter), id).Error
}

// Lift lets an address be written to again that was gone; what its reader asked for is theirs
// to lift.
func (k *Keeper) Lift(ctx context.Context, email string) error {
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return err
	}
	done := k.Store.On(ctx).Exec("DELETE FROM hushed WHERE hush = ? AND why = 'gone'", mailing.Hush(shop.SealKey, email))
	if done.Error == nil && done.RowsAffected == 0 {
		return refusal.Of(refusal.ErrConflict, "This address is not held back because letters came back.")
	}
	return done.Error
}

// Lately is what mail servers said last.
type Lately struct {
	store.Return
	Email, Subject, ContactID, OrderID string
}

// Lately reads it, the last first, and counts each kind over 30 days.
func (k *Keeper) Lately(ctx context.Context, most int) ([]Lately, map[bounce.Kind]int, error) {
	db := k.Store.On(ctx)
	var out []Lately
	err := db.Raw(`SELECT r.*, coalesce(c.email, o.email) AS email, coalesce(p.subject, m.subject) AS subject, coalesce(c.id, '') AS contact_id, coalesce(o.id, '') AS order_id
		FROM returns r LEFT JOIN postings p ON p.id = r.posting_id LEFT JOIN contacts c ON c.id = p.contact_id
		LEFT JOIN mails m ON m.id = r.mail_id LEFT JOIN orders o ON o.id = m.order_id ORDER BY r.at DESC, r.id LIMIT ?`, most).Scan(&out).Error
	if err != nil {
		return nil, nil, fmt.Errorf("read what came back: %w", err)
	}
	var counts []struct {
		Kind string
		N    int
	}
	if err := db.Raw("SELECT kind, count(*) AS n FROM returns WHERE at >= ? GROUP BY kind", k.Store.Now().AddDate(0, 0, -30)).Scan(&counts).Error; err != nil {
		return nil, nil, fmt.Errorf("count what came back: %w", err)
	}
	sums := map[bounce.Kind]int{}
	for _, c := range counts {
		sums[bounce.Kind(c.Kind)] = c.N
	}
	return out, sums, nil
}
