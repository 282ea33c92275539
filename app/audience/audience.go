// Package audience is who letters go to: lists, the people on them, what they agreed to and
// what is known of them.
package audience

import (
	"context"
	"errors"

	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/app/news"
	"chrysagon/app/queue"
	"chrysagon/core/mailing"
	"chrysagon/core/origin"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Audience is the use cases of those to whom letters go.
type Audience struct {
	Store     *store.Store
	Followups *followups.Keeper
	Mail      *mail.Sender
	News      *news.Hub
	Queue     queue.Queue
	Origins   *origin.Origins
}

// noPerson is said of a link or an address that leads to nobody.
const noPerson = "There is nobody here by this link. It was copied in part, or they have been erased."

// key is the store's own, by which links in letters are signed and addresses hushed.
func (a *Audience) key(ctx context.Context) ([]byte, error) {
	shop, err := a.Store.Shop(ctx)
	return shop.SealKey, err
}

// Wishes is the whole address of the page where somebody says what they want.
func (a *Audience) Wishes(key []byte, contactID, listID string) string {
	return a.Origins.Shop + "/letters/" + mailing.Pass{Contact: contactID, List: listID}.Write(key)
}

// ContactOf reads a person.
func ContactOf(db *gorm.DB, id string) (store.Contact, error) {
	return store.One[store.Contact](db.Where("id = ?", id), noPerson)
}

// MemberOf reads how somebody stands to a list; nil: never was on it.
func MemberOf(tx *gorm.DB, listID, contactID string) (*store.Member, error) {
	row, err := store.One[store.Member](tx.Where("list_id = ? AND contact_id = ?", listID, contactID), noPerson)
	if errors.Is(err, refusal.ErrNotFound) {
		return nil, nil //nolint:nilnil // never was on it
	}
	return &row, err
}
