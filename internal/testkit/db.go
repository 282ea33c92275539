// Package testkit gives tests a database, a clock and a running program of
// their own.
package testkit

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
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
	admin := cluster(t)
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, admin)
	require.NoError(t, err)
	defer func() { _ = conn.Close(ctx) }()
	return clone(t, conn, admin, template(t, ctx, conn, admin))
}

// Empty is a migrated database with no store in it.
func Empty(t testing.TB) *store.Store {
	t.Helper()
	admin := cluster(t)
	conn, err := pgx.Connect(context.Background(), admin)
	require.NoError(t, err)
	defer func() { _ = conn.Close(context.Background()) }()
	s := clone(t, conn, admin, "template0")
	require.NoError(t, s.Migrate(context.Background()))
	return s
}

// cluster is the address of the database server beside which the tests run.
func cluster(t testing.TB) string {
	t.Helper()
	admin := os.Getenv("TEST_DATABASE_URL")
	if admin == "" {
		t.Fatal("TEST_DATABASE_URL is not set: run “make test”, or “bin/chrysagon with-cluster -- go test ./…”")
	}
	return admin
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

// template makes the template once for each state of the program's sources:
// the first test to come holds the lock, those of every package wait for it.
// What earlier states left behind goes then, or a season of work fills the disk.
func template(t testing.TB, ctx context.Context, conn *pgx.Conn, admin string) string {
	t.Helper()
	name := "template_" + sources()
	_, err := conn.Exec(ctx, "SELECT pg_advisory_lock(180)")
	require.NoError(t, err)
	defer func() { _, _ = conn.Exec(ctx, "SELECT pg_advisory_unlock(180)") }()
	var exists bool
	require.NoError(t, conn.QueryRow(ctx, "SELECT EXISTS (SELECT FROM pg_database WHERE datname = $1)", name).Scan(&exists))
	if exists {
		return name
	}
	sweep(t, ctx, conn)
	_, err = conn.Exec(ctx, "CREATE DATABASE "+name+"_new")
	require.NoError(t, err)
	s, err := store.Open(ctx, at(admin, name+"_new"), 4)
	require.NoError(t, err)
	defer s.Close()
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

// sweep drops the templates of other states, halves of one that could not be
// made, and the databases of test processes that were killed. Its caller holds the lock.
func sweep(t testing.TB, ctx context.Context, conn *pgx.Conn) {
	t.Helper()
	rows, err := conn.Query(ctx, "SELECT datname FROM pg_database WHERE datname LIKE 'template\\_%' OR datname LIKE 'test\\_%'")
	require.NoError(t, err)
	names, err := pgx.CollectRows(rows, pgx.RowTo[string])
	require.NoError(t, err)
	for _, name := range names {
		var pid, n int
		if _, err := fmt.Sscanf(name, "test_%d_%d", &pid, &n); err == nil && syscall.Kill(pid, 0) == nil {
			continue
		}
		// One that somebody is reading stays, and goes another time.
		_, _ = conn.Exec(ctx, "DROP DATABASE "+name)
	}
}

// sources tells the state of the sources that the demo store comes from: all of
// the program's but its tests.
var sources = sync.OnceValue(func() string {
	root, err := os.Getwd()
	for err == nil {
		if _, err := os.Stat(filepath.Join(root, "go.mod")); err == nil {
			break
		}
		if root == filepath.Dir(root) {
			panic("the tests do not stand in the program's folder")
		}
		root = filepath.Dir(root)
	}
	sum := sha256.New()
	err = filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		switch {
		case err != nil:
			return err
		case d.IsDir() && path != root && (strings.HasPrefix(d.Name(), ".") || slices.Contains([]string{"node_modules", "bin", "docs", "e2e", "testdata"}, d.Name())):
			return filepath.SkipDir
		case d.IsDir() || strings.HasSuffix(path, "_test.go"):
			return nil
		}
		source, err := os.ReadFile(path)
		_, _ = fmt.Fprintf(sum, "%s %d\n", path, len(source))
		_, _ = sum.Write(source)
		return err
	})
	if err != nil {
		panic(err)
	}
	return hex.EncodeToString(sum.Sum(nil)[:10])
})
