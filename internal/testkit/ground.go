package testkit

import (
	"context"
	"testing"

	"chrysagon/store"

	"github.com/stretchr/testify/require"
)

// ground is the database on which a program of a test stands, for what its use cases
// do not tell.
type ground struct {
	db *store.Store
	t  testing.TB
}

// Number reads one number from the database.
func (g ground) Number(query string, args ...any) int64 {
	g.t.Helper()
	var n int64
	require.NoError(g.t, g.db.Pool.QueryRow(context.Background(), query, args...).Scan(&n))
	return n
}

// Text reads one text from the database.
func (g ground) Text(query string, args ...any) string {
	g.t.Helper()
	var text string
	require.NoError(g.t, g.db.Pool.QueryRow(context.Background(), query, args...).Scan(&text))
	return text
}

// Exec changes the database.
func (g ground) Exec(query string, args ...any) {
	g.t.Helper()
	_, err := g.db.Pool.Exec(context.Background(), query, args...)
	require.NoError(g.t, err)
}
