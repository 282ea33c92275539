package testkit

import (
	"context"
	"fmt"
	"os"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"
)

func TestWhatEarlierRunsLeftBehindGoes(t *testing.T) {
	admin := cluster(t)
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, admin)
	require.NoError(t, err)
	defer func() { _ = conn.Close(ctx) }()

	mine := fmt.Sprintf("test_%d_0", os.Getpid())
	// No process bears a number beyond the kernel's own bound of 2^22.
	left := []string{"test_4194305_1", "template_of_another_state", "template_of_another_state_new"}
	for _, name := range append([]string{mine}, left...) {
		_, err := conn.Exec(ctx, "CREATE DATABASE "+name+" TEMPLATE template0")
		require.NoError(t, err)
	}
	defer func() { _, _ = conn.Exec(ctx, "DROP DATABASE "+mine) }()

	_, err = conn.Exec(ctx, "SELECT pg_advisory_lock(180)")
	require.NoError(t, err)
	sweep(t, ctx, conn)
	_, err = conn.Exec(ctx, "SELECT pg_advisory_unlock(180)")
	require.NoError(t, err)

	rows, err := conn.Query(ctx, "SELECT datname FROM pg_database")
	require.NoError(t, err)
	there, err := pgx.CollectRows(rows, pgx.RowTo[string])
	require.NoError(t, err)
	require.Contains(t, there, mine)
	for _, name := range left {
		require.NotContains(t, there, name)
	}
}
