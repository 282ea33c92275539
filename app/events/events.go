// Package events notes what visitors do on pages: one table of kinds, one call.
package events

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

// Kind says what a visitor did. Orders, answers and leads are no events: they
// have tables of their own, and are counted there.
type Kind string

// The kinds. A new one is one line here, and is asked for where it is counted.
const (
	View Kind = "view" // they saw a page
)

// Event is something that a visitor did on a page.
type Event struct {
	Kind              Kind
	Visitor           string // "" is nobody, and is not kept
	PageID, EditionID string
	StepID            string // where the page stands in its funnel; "" outside one
}

// Recorder writes events in batches. The same event of a visitor counts once a
// batch.
type Recorder struct {
	Log   *slog.Logger
	Store *store.Store
	Tick  <-chan time.Time // writes whenever it ticks

	in    chan Event
	month time.Time // the last one whose tables were made
}

// New makes a recorder.
func New(s *store.Store, log *slog.Logger, tick <-chan time.Time) *Recorder {
	return &Recorder{Log: log, Store: s, Tick: tick, in: make(chan Event, 8192)}
}

// mostWaiting is how many events wait while the database cannot be reached.
const mostWaiting = 65536

// Note takes an event. It never waits: should the writer fall far behind, events
// are dropped and orders are not.
func (r *Recorder) Note(e Event) {
	if e.Visitor == "" || e.PageID == "" {
		return
	}
	select {
	case r.in <- e:
	default:
	}
}

// Run writes until the context ends, then writes the rest.
func (r *Recorder) Run(ctx context.Context) {
	batch := map[Event]time.Time{}
	flush := func(ctx context.Context) {
		if len(batch) == 0 {
			return
		}
		if err := r.Partitions(ctx); err != nil {
			r.Log.Warn("a month of events has no table of its own", "error", err) // they go into the common one
		}
		lost, err := r.write(ctx, batch)
		if err != nil && len(batch) < mostWaiting {
			r.Log.Warn("events wait for the database", "events", len(batch), "error", err)
			return
		}
		if lost > 0 || err != nil {
			r.Log.Warn("events were not written", "events", lost, "error", err)
		}
		clear(batch)
	}
	take := func(e Event) {
		if _, known := batch[e]; !known {
			batch[e] = r.Store.Now()
		}
	}
	for {
		select {
		case e := <-r.in:
			take(e)
		case <-r.Tick:
			flush(ctx)
		case <-ctx.Done():
			for len(r.in) > 0 { // nobody else takes from it
				take(<-r.in)
			}
			last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 2*time.Second)
			flush(last)
			cancel()
			return
		}
	}
}

// write writes a batch. An event that cannot be kept is lost alone: lost counts
// those. An error is of the database, and nothing was written.
func (r *Recorder) write(ctx context.Context, batch map[Event]time.Time) (lost int, err error) {
	rows := make([][]any, 0, len(batch))
	for e, at := range batch {
		rows = append(rows, []any{at, string(e.Kind), e.Visitor, e.PageID, e.StepID, e.EditionID})
	}
	err = pgx.BeginFunc(ctx, r.Store.Pool, func(tx pgx.Tx) error {
		lost, err = copyIn(ctx, tx, rows)
		return err
	})
	if err != nil {
		return 0, fmt.Errorf("write events: %w", err)
	}
	return lost, nil
}

// copyIn copies rows in, in halves where something among them is refused.
func copyIn(ctx context.Context, tx pgx.Tx, rows [][]any) (lost int, err error) {
	err = pgx.BeginFunc(ctx, tx, func(tx pgx.Tx) error {
		_, err := tx.CopyFrom(ctx, pgx.Identifier{"events"}, []string{"at", "kind", "visitor", "page_id", "step_id", "edition_id"}, pgx.CopyFromRows(rows))
		return err
	})
	var refused *pgconn.PgError
	// Classes 22, 23: the data are at fault (PostgreSQL's manual, appendix A).
	if !errors.As(err, &refused) || (refused.Code[:2] != "22" && refused.Code[:2] != "23") {
		return 0, err
	}
	if len(rows) == 1 {
		return 1, nil
	}
	first, err := copyIn(ctx, tx, rows[:len(rows)/2])
	if err != nil {
		return 0, err
	}
	second, err := copyIn(ctx, tx, rows[len(rows)/2:])
	return first + second, err
}

// Partitions makes the tables that take this month's and the next month's
// events, once a month.
func (r *Recorder) Partitions(ctx context.Context) error {
	now := r.Store.Now()
	if now.Month() == r.month.Month() && now.Year() == r.month.Year() {
		return nil
	}
	if err := store.MakePartitions(ctx, r.Store, now); err != nil {
		return err
	}
	r.month = now
	return nil
}
