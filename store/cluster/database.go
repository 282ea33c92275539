package cluster

import (
	"context"
	"errors"
	"fmt"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

const duplicateDatabase = "42P04" // PostgreSQL, appendix A: duplicate_database

func createDatabase(ctx context.Context, url, name string) error {
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		return fmt.Errorf("reach the database server: %w", err)
	}
	defer func() { _ = conn.Close(ctx) }()
	_, err = conn.Exec(ctx, "CREATE DATABASE "+pgx.Identifier{name}.Sanitize())
	var refused *pgconn.PgError
	if errors.As(err, &refused) && refused.Code == duplicateDatabase {
		return nil
	}
	if err != nil {
		return fmt.Errorf("make the database %s: %w", name, err)
	}
	return nil
}
