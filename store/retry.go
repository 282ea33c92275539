package store

import (
	"context"
	"errors"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"
)

// tries is how often work is begun that the database gave up for somebody
// else's.
const tries = 4

// passing are the errors of PostgreSQL by which it gives up one of two
// transactions that met (its manual, appendix A): serialization_failure and
// deadlock_detected. The same work may succeed when it is done again.
var passing = map[string]bool{"40001": true, "40P01": true}

// Again does work once more, a few times, where the database gave it up for
// somebody else's. What it does outside the database must bear that.
func Again(do func() error) error {
	var err error
	for range tries {
		err = do()
		var given *pgconn.PgError
		if !errors.As(err, &given) || !passing[given.Code] {
			return err
		}
	}
	return err
}

// InAgain is [Store.In], done again as [Again] does.
func (s *Store) InAgain(ctx context.Context, do func(tx *gorm.DB) error) error {
	return Again(func() error { return s.In(ctx, do) })
}
