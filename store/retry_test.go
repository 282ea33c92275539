package store_test

import (
	"errors"
	"fmt"
	"testing"

	"chrysagon/store"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/stretchr/testify/assert"
)

// What the database gave up is done again, a few times; every other error is
// told at once.
func TestAgain(t *testing.T) {
	for _, c := range []struct {
		name   string
		err    error
		passes int // the try that succeeds; 0: none
		tries  int
	}{
		{"no error", nil, 1, 1},
		{"a deadlock once", fmt.Errorf("reserve: %w", &pgconn.PgError{Code: "40P01"}), 2, 2},
		{"a serialisation failure three times", &pgconn.PgError{Code: "40001"}, 4, 4},
		{"a deadlock for ever", &pgconn.PgError{Code: "40P01"}, 0, 4},
		{"another error", errors.New("gone"), 0, 1},
		{"a constraint", &pgconn.PgError{Code: "23514"}, 0, 1},
	} {
		t.Run(c.name, func(t *testing.T) {
			tries := 0
			err := store.Again(func() error {
				if tries++; tries == c.passes {
					return nil
				}
				return c.err
			})
			assert.Equal(t, c.tries, tries)
			if c.passes > 0 {
				assert.NoError(t, err)
			} else {
				assert.ErrorIs(t, err, c.err)
			}
		})
	}
}
