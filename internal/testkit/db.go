// Package testkit gives tests a database, a clock and a running program of
// their own.
package testkit

import (
	"context"
	"fmt"
	"os"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"chrysagon/demo"
	"chrysagon/internal/server"
	"chrysagon/store"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"
)

// Start is the moment at which the demo store of every test was loaded.
var Start = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

var clones atomic.Int64

// DB clones the migrated template database, with the demo store in it, for one
// test. Run tests by “make test”, or beside “chrysagon with-cluster”.
func DB(t testing.TB) *store.Store {
	t.Helper()
	admin := os.Getenv("TEST_DATABASE_URL")
	if admin == "" {
		t.Fatal("TEST_DATABASE_URL is not set: run “make test”, or “bin/chrysagon with-cluster -- go test ./…”")
	}
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, admin)
	require.NoError(t, err)
	defer func() { _ = conn.Close(ctx) }()
	return clone(t, conn, admin, template(t, ctx, conn, admin))
}

// Empty is a migrated database with no store in it.
func Empty(t testing.TB) *store.Store {
	t.Helper()
	admin := os.Getenv("TEST_DATABASE_URL")
	if admin == "" {
		t.Fatal("TEST_DATABASE_URL is not set: run “make test”, or “bin/chrysagon with-cluster -- go test ./…”")
	}
	conn, err := pgx.Connect(context.Background(), admin)
	require.NoError(t, err)
	defer func() { _ = conn.Close(context.Background()) }()
	s := clone(t, conn, admin, "template0")
	require.NoError(t, s.Migrate(context.Background()))
	return s
}

func clone(t testing.TB, conn *pgx.Conn, admin, template string) *store.Store {
	t.Helper()
	ctx := context.Background()
	name := fmt.Sprintf("test_%d_%d", os.Getpid(), clones.Add(1))
	_, err := conn.Exec(ctx, fmt.Sprintf("CREATE DATABASE %s TEMPLATE %s", name, template))
	require.NoError(t, err)
	s, err := store.Open(ctx, at(admin, name), 40)
	require.NoError(t, err)
	t.Cleanup(func() {
		s.Close()
		conn, err := pgx.Connect(ctx, admin)
		if err == nil {
			_, _ = conn.Exec(ctx, "DROP DATABASE "+name+" WITH (FORCE)")
			_ = conn.Close(ctx)
		}
	})
	return s
}

func at(admin, name string) string {
	return strings.Replace(admin, "/postgres?", "/"+name+"?", 1)
}

// template makes the template once for each build of the program: the first
// test to come holds the lock, the others wait for it.
func template(t testing.TB, ctx context.Context, conn *pgx.Conn, admin string) string {
	t.Helper()
	info, err := os.Stat(os.Args[0])
	require.NoError(t, err)
	name := fmt.Sprintf("template_%d_%d", info.ModTime().UnixNano(), info.Size())
	_, err = conn.Exec(ctx, "SELECT pg_advisory_lock(180)")
	require.NoError(t, err)
	defer func() { _, _ = conn.Exec(ctx, "SELECT pg_advisory_unlock(180)") }()
	var exists bool
	require.NoError(t, conn.QueryRow(ctx, "SELECT EXISTS (SELECT FROM pg_database WHERE datname = $1)", name).Scan(&exists))
	if exists {
		return name
	}
	_, err = conn.Exec(ctx, "CREATE DATABASE "+name+"_new")
	require.NoError(t, err)
	s, err := store.Open(ctx, at(admin, name+"_new"), 4)
	require.NoError(t, err)
	require.NoError(t, s.Migrate(ctx))
	for _, standIn := range server.StandIns {
		require.NoError(t, standIn.Migrate(ctx, s))
	}
	require.NoError(t, store.MakePartitions(ctx, s, Start))
	require.NoError(t, demo.Load(ctx, s, Start))
	s.Close()
	_, err = conn.Exec(ctx, fmt.Sprintf("ALTER DATABASE %s_new RENAME TO %s", name, name))
	require.NoError(t, err)
	return name
}
