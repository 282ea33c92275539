package store_test

import (
	"context"
	"testing"

	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

// Every field of a model is a column of the migrated schema, and every column
// has its field.
func TestModelsAndSchemaAgree(t *testing.T) {
	s := testkit.DB(t)
	for _, model := range store.Models() {
		stmt := &gorm.Statement{DB: s.DB}
		require.NoError(t, stmt.Parse(model))
		var columns []string
		require.NoError(t, s.DB.Raw(`SELECT column_name FROM information_schema.columns WHERE table_schema = 'public' AND table_name = ?`, stmt.Schema.Table).Scan(&columns).Error)
		assert.ElementsMatch(t, columns, stmt.Schema.DBNames, stmt.Schema.Table)
	}
}

func TestAnEditionCannotBeChanged(t *testing.T) {
	s := testkit.DB(t)
	err := s.DB.Exec(`UPDATE editions SET number = 7`).Error
	require.ErrorContains(t, err, "an edition cannot be changed")
}

func TestTheLedgerKeepsEveryPrice(t *testing.T) {
	s := testkit.DB(t)
	require.NoError(t, s.DB.Exec(`UPDATE variants SET price_minor = 7200 WHERE id = 'ember'`).Error)
	require.NoError(t, s.DB.Exec(`UPDATE variants SET stock = stock - 1 WHERE id = 'ember'`).Error)
	var prices []int64
	require.NoError(t, s.DB.Raw(`SELECT price_minor FROM price_ledger WHERE variant_id = 'ember' ORDER BY since`).Scan(&prices).Error)
	assert.Equal(t, []int64{6800, 5100, 5100}, prices, "each price once, and nothing for other changes; the offer's price stands until it is computed anew")
}

func TestTheLedgerGoesWithItsGoods(t *testing.T) {
	s := testkit.DB(t)
	left := func() (n int64) {
		require.NoError(t, s.DB.Raw(`SELECT count(*) FROM price_ledger WHERE variant_id NOT IN (SELECT id FROM variants)`).Scan(&n).Error)
		return n
	}
	require.NoError(t, s.DB.Exec(`INSERT INTO products (id, name, form) SELECT 'gone-' || i, 'Gone', 'physical' FROM generate_series(1, 3) i`).Error)
	require.NoError(t, s.DB.Exec(`INSERT INTO variants (id, product_id, sku, price_minor, stock) SELECT 'gone-' || i, 'gone-' || i, 'GONE-' || i, 100, 1 FROM generate_series(1, 3) i`).Error)
	require.NoError(t, s.DB.Exec(`DELETE FROM variants WHERE id = 'gone-1'`).Error)
	assert.Zero(t, left(), "a variant that is deleted by itself")
	require.NoError(t, s.DB.Exec(`DELETE FROM products WHERE id IN ('gone-2', 'gone-3')`).Error)
	assert.Zero(t, left(), "variants that go with their products")
}

func TestANewerDatabaseIsLeftAlone(t *testing.T) {
	s := testkit.DB(t)
	require.NoError(t, s.Migrate(context.Background()), "migrating twice changes nothing")
	require.NoError(t, s.DB.Exec(`INSERT INTO chrysagon_version (version_id, is_applied) VALUES (9999, true)`).Error)
	require.ErrorIs(t, s.Migrate(context.Background()), store.ErrNewer)
}

func TestStockCannotGoBelowWhatIsReserved(t *testing.T) {
	s := testkit.DB(t)
	require.NoError(t, s.DB.Exec(`UPDATE variants SET reserved = 5 WHERE id = 'ember'`).Error)
	require.Error(t, s.DB.Exec(`UPDATE variants SET stock = 4 WHERE id = 'ember'`).Error)
	require.Error(t, s.DB.Exec(`UPDATE variants SET stock = -1, reserved = 0 WHERE id = 'ember'`).Error)
}

// Reserving is all or nothing, and a payment that was settled holds nothing.
func TestReserveIsAllOrNothing(t *testing.T) {
	s := testkit.DB(t)
	reserved := func() (sum int64) {
		require.NoError(t, s.DB.Raw(`SELECT sum(reserved) FROM variants`).Scan(&sum).Error)
		return sum
	}
	for _, sql := range []string{
		`INSERT INTO orders (id, token, visitor, campaign_id, step_id, edition_id, state, name, email, currency, created_at)
			VALUES ('o', 'o', 'v', 'frost-lanterns', 'night-flight', 'frost-1', 'paying', 'n', 'e', 'EUR', now())`,
		`INSERT INTO payments (id, order_id, key, kind, step_id, state, amount_minor, asked_at) VALUES ('p', 'o', 'k', 'checkout', 'night-flight', 'asked', 1, now())`,
		`INSERT INTO order_lines (payment_id, position, order_id, variant_id, name, via, quantity, list_minor, price_minor) VALUES
			('p', 0, 'o', 'ember', 'Ember', 'page', 2, 1, 1), ('p', 1, 'o', 'quiver', 'Quiver', 'bump', 3, 1, 1), ('p', 2, 'o', 'plans', 'Plans', 'bump', 9, 1, 1)`,
		`UPDATE variants SET stock = 2 WHERE id = 'quiver'`,
	} {
		require.NoError(t, s.DB.Exec(sql).Error)
	}
	require.ErrorContains(t, s.DB.Exec(`SELECT reserve('p')`).Error, "Quiver")
	assert.Zero(t, reserved(), "two kites are not held when the bags are too few")
	require.NoError(t, s.DB.Exec(`UPDATE variants SET stock = 3 WHERE id = 'quiver'`).Error)
	require.NoError(t, s.DB.Exec(`SELECT reserve('p')`).Error)
	assert.Equal(t, int64(5), reserved(), "what is downloaded is not counted")
	require.NoError(t, s.DB.Exec(`UPDATE payments SET state = 'cancelled' WHERE id = 'p'`).Error)
	require.ErrorContains(t, s.DB.Exec(`SELECT reserve('p')`).Error, "settled")
}
