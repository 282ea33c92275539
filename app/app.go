// Package app is what the program does: one use case, one transaction. It
// reads and writes through store and decides nothing that core can decide.
package app

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Kinds of refusal. The edge turns each into a page, a fragment or a problem
// document; the error's text is the sentence shown.
var (
	ErrNotFound = errors.New("not found")
	ErrInvalid  = errors.New("invalid")
	ErrConflict = errors.New("conflict")
	ErrRefused  = errors.New("refused")
	ErrTooMany  = errors.New("too many tries")
)

// Refusal is an error whose text is meant for the person at the screen.
type Refusal struct {
	Kind error
	Say  string
}

func (r Refusal) Error() string { return r.Say }
func (r Refusal) Unwrap() error { return r.Kind }

func refuse(kind error, say string, args ...any) error {
	return Refusal{Kind: kind, Say: fmt.Sprintf(say, args...)}
}

// Origins are the addresses under which the parts of the program are reached.
type Origins struct {
	Studio, Shop, Till, Letterbox, Book string
}

// App is the program's use cases with all they need.
type App struct {
	Store    *store.Store
	Render   *render.Renderer
	Clock    func() time.Time
	Payments Payments
	Post     Post
	Book     Appointments // nil: no appointments are given
	Queue    Queue
	Origins  Origins
	Log      *slog.Logger
	// WebhookSecret verifies what the till sends.
	WebhookSecret string

	editions sync.Map     // edition ID -> *Edition; editions never change
	trees    sync.Map     // page ID -> readTree
	kept     atomic.Int64 // readings among them
	hub      hub
	life     life
}

// Now is the moment, cut to what PostgreSQL keeps.
func (a *App) Now() time.Time { return a.Clock().UTC().Truncate(time.Microsecond) }

// db is the database as a use case reaches it: within the transaction that its
// context carries, or by itself.
func (a *App) db(ctx context.Context) *gorm.DB {
	if tx, ok := ctx.Value(txKey{}).(*gorm.DB); ok {
		return tx.WithContext(ctx)
	}
	return a.Store.DB.WithContext(ctx)
}

type txKey struct{}

// within lets everything that is read under a context be read in a transaction.
func within(ctx context.Context, tx *gorm.DB) context.Context {
	return context.WithValue(ctx, txKey{}, tx)
}

// NewID makes an identifier: short, unguessable enough to be unique.
func NewID() string { return strings.ToLower(rand.Text()[:16]) }

// NewSecret makes a token of 130 random bits.
func NewSecret() string { return strings.ToLower(rand.Text()) }

// one reads a single row, or refuses with a sentence when there is none.
func one[T any](q *gorm.DB, say string) (T, error) {
	var row T
	err := q.Take(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return row, refuse(ErrNotFound, "%s", say)
	}
	return row, err
}
