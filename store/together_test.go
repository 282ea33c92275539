package store_test

import (
	"testing"

	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// togethers compares lists of rows read by themselves and read together.
func togethers(t *testing.T, s *store.Store) map[string]func(*testing.T) {
	t.Helper()
	return map[string]func(*testing.T){
		"offers": same[store.Offer](s, "SELECT * FROM offers ORDER BY id"), "deadlines": same[store.Deadline](s, "SELECT * FROM deadlines ORDER BY id"),
		"shelves": same[store.Shelf](s, "SELECT * FROM shelves ORDER BY id"), "campaigns": same[store.Campaign](s, "SELECT * FROM campaigns ORDER BY id"),
		"ledger": same[store.LedgerEntry](s, "SELECT * FROM price_ledger ORDER BY variant_id, since"), "routes": same[store.Route](s, "SELECT * FROM routes ORDER BY from_step, outcome"),
		"pages": same[store.Page](s, "SELECT * FROM pages ORDER BY id"),
	}
}

func same[T any](s *store.Store, sql string) func(*testing.T) {
	return func(t *testing.T) {
		var alone, together, again []T
		require.NoError(t, s.DB.Raw(sql).Scan(&alone).Error)
		require.NoError(t, store.Together(s.DB, store.Part{SQL: sql, Into: &together}, store.Part{SQL: sql + " LIMIT ?", Args: []any{1}, Into: &again}))
		require.NotEmpty(t, alone)
		require.Len(t, together, len(alone))
		assert.Len(t, again, 1, "the values of each part go to their own")
		for i := range alone {
			assert.EqualExportedValues(t, alone[i], together[i])
		}
	}
}
