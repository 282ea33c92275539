package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// Now is the moment, cut to what PostgreSQL keeps.
func (s *Store) Now() time.Time { return s.Clock().UTC().Truncate(time.Microsecond) }

// NoShop is said where the database holds no store yet.
const NoShop = "The store is not set up; start with “make demo”."

// Shop reads the store's own row.
func (s *Store) Shop(ctx context.Context) (Shop, error) {
	return One[Shop](s.On(ctx), NoShop)
}

// SetMoment tells the triggers that write the ledger when a change is, and why.
func SetMoment(tx *gorm.DB, at time.Time, why string) error {
	return tx.Exec("SELECT set_config('chrysagon.moment', ?, true), set_config('chrysagon.why', ?, true)", at.Format(time.RFC3339Nano), why).Error
}
