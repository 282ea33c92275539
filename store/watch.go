package store

import (
	"context"
	"log/slog"
	"strings"
	"sync/atomic"
	"time"

	"github.com/jackc/pgx/v5"
)

// Watch sees every statement: it counts them, shows them where that is asked for, and
// tells of those that took long.
type Watch struct {
	Log  *slog.Logger  // nil: nothing is told
	Slow time.Duration // statements that take longer are told of; 0: none are

	asked atomic.Int64
}

// Asked is how many statements were sent so far.
func (w *Watch) Asked() int64 { return w.asked.Load() }

type watched struct {
	sql   string
	began time.Time
}

type watchedKey struct{}

// TraceQueryStart notes a statement that begins.
func (w *Watch) TraceQueryStart(ctx context.Context, _ *pgx.Conn, q pgx.TraceQueryStartData) context.Context {
	w.asked.Add(1)
	if w.Log == nil {
		return ctx
	}
	return context.WithValue(ctx, watchedKey{}, watched{q.SQL, time.Now()})
}

// TraceQueryEnd tells of one that ended. Its values are left out: they can be secrets.
func (w *Watch) TraceQueryEnd(ctx context.Context, _ *pgx.Conn, q pgx.TraceQueryEndData) {
	was, ok := ctx.Value(watchedKey{}).(watched)
	if !ok {
		return
	}
	took := time.Since(was.began)
	level := slog.LevelDebug
	if w.Slow > 0 && took >= w.Slow {
		level = slog.LevelWarn
	}
	if !w.Log.Enabled(ctx, level) {
		return
	}
	args := []any{"took", took.Round(10 * time.Microsecond), "rows", q.CommandTag.RowsAffected(), "sql", strings.Join(strings.Fields(was.sql), " ")}
	if q.Err != nil {
		args = append(args, "error", q.Err)
	}
	w.Log.Log(ctx, level, map[bool]string{true: "a slow statement", false: "statement"}[level == slog.LevelWarn], args...)
}
