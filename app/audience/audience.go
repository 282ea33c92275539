// Package audience is who letters go to: lists, the people on them and what they agreed to,
// follow-ups, and the sending of each letter once.
package audience

import (
	"context"
	"errors"
	"log/slog"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/news"
	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/app/queue"
	"chrysagon/app/returns"
	"chrysagon/core/origin"
	"chrysagon/core/refusal"
	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Audience is the use cases of letters and of those who get them.
type Audience struct {
	Store      *store.Store
	Drafts     *drafts.Reader
	Facts      *factbook.Reader
	Publishing *publishing.Publisher
	Render     *render.Renderer
	Mail       *mail.Sender
	Returns    *returns.Keeper
	News       *news.Hub
	Ports      *ports.Ports
	Queue      queue.Queue
	Origins    *origin.Origins
	Log        *slog.Logger
}

// SendPost is the job that sends what is due.
type SendPost struct{}

// Kind names the job in the queue.
func (SendPost) Kind() string { return "send_post" }

// noPerson is said of a link or an address that leads to nobody.
const noPerson = "There is nobody here by this link. It was copied in part, or they have been erased."

// key is the store's own, by which links in letters are signed and addresses hushed.
func (a *Audience) key(ctx context.Context) ([]byte, error) {
	shop, err := a.Store.Shop(ctx)
	return shop.SealKey, err
}

// contact reads a person.
func contact(db *gorm.DB, id string) (store.Contact, error) {
	return store.One[store.Contact](db.Where("id = ?", id), noPerson)
}

// member reads how somebody stands to a list; nil: never was on it.
func member(tx *gorm.DB, listID, contactID string) (*store.Member, error) {
	row, err := store.One[store.Member](tx.Where("list_id = ? AND contact_id = ?", listID, contactID), noPerson)
	if errors.Is(err, refusal.ErrNotFound) {
		return nil, nil //nolint:nilnil // never was on it
	}
	return &row, err
}
