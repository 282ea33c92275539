package store

import (
	"context"
	"errors"

	"chrysagon/core/refusal"

	"gorm.io/gorm"
)

// On is the database as a use case reaches it: within the transaction that its
// context carries, or by itself.
func (s *Store) On(ctx context.Context) *gorm.DB {
	if tx, ok := ctx.Value(txKey{}).(*gorm.DB); ok {
		return tx.WithContext(ctx)
	}
	return s.DB.WithContext(ctx)
}

type txKey struct{}

// Within lets everything that is read under a context be read in a transaction.
func Within(ctx context.Context, tx *gorm.DB) context.Context {
	return context.WithValue(ctx, txKey{}, tx)
}

// One reads a single row, or refuses with a sentence when there is none.
func One[T any](q *gorm.DB, say string) (T, error) {
	var row T
	err := q.Take(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return row, refusal.Of(refusal.ErrNotFound, "%s", say)
	}
	return row, err
}
