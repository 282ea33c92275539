package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"

	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/database"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNewer says that a newer program has migrated this database.
var ErrNewer = errors.New("the database is newer than this program; start the program that last used it, or a newer one")

// Migrate brings the database up to this program: its own tables and those of
// the job queue.
func (s *Store) Migrate(ctx context.Context) error {
	if err := MigrateFS(ctx, s.SQL, migrations, "chrysagon_version"); err != nil {
		return err
	}
	return migrateQueue(ctx, s.Pool)
}

// MigrateFS applies the versioned SQL in a folder "migrations" of files and
// keeps account of it in a table.
func MigrateFS(ctx context.Context, db *sql.DB, files embed.FS, table string) error {
	folder, err := fs.Sub(files, "migrations")
	if err != nil {
		return fmt.Errorf("open the migrations: %w", err)
	}
	account, err := database.NewStore(goose.DialectPostgres, table)
	if err != nil {
		return fmt.Errorf("prepare the migrations: %w", err)
	}
	provider, err := goose.NewProvider("", db, folder, goose.WithStore(account), goose.WithDisableGlobalRegistry(true))
	if err != nil {
		return fmt.Errorf("prepare the migrations: %w", err)
	}
	have, want, err := provider.GetVersions(ctx)
	if err != nil {
		return fmt.Errorf("read the database's version: %w", err)
	}
	if have > want {
		return fmt.Errorf("version %d of the database, %d of the program: %w", have, want, ErrNewer)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("migrate the database: %w", err)
	}
	return nil
}

func migrateQueue(ctx context.Context, pool *pgxpool.Pool) error {
	m, err := rivermigrate.New(riverpgxv5.New(pool), nil)
	if err != nil {
		return fmt.Errorf("prepare the queue's migrations: %w", err)
	}
	if _, err := m.Migrate(ctx, rivermigrate.DirectionUp, nil); err != nil {
		return fmt.Errorf("migrate the job queue: %w", err)
	}
	return nil
}
