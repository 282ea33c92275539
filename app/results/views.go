package results

import (
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

// Viewed notes that a visitor saw a step. It never waits: should the writer
// fall far behind, views are dropped and orders are not.
type Viewed struct {
	Visitor, StepID, EditionID string
}

// Views writes views in batches. The same visitor on the same step counts
// once a batch.
type Views struct {
	in      chan Viewed
	app     *Reader
	tickets <-chan time.Time
}

// mostWaiting is how many views wait while the database cannot be reached.
const mostWaiting = 65536

// NewViews makes a writer that writes whenever tick ticks.
func (reader *Reader) NewViews(tick <-chan time.Time) *Views {
	return &Views{in: make(chan Viewed, 8192), app: reader, tickets: tick}
}

// Note takes a view.
func (v *Views) Note(w Viewed) {
	if w.StepID == "" || w.Visitor == "" {
		return // a page of no funnel has no step whose visitors it could add to; and nobody is no visitor
	}
	select {
	case v.in <- w:
	default:
	}
}

// Run writes until the context ends, then writes the rest.
func (v *Views) Run(ctx context.Context) {
	batch := map[Viewed]time.Time{}
	flush := func(ctx context.Context) {
		if len(batch) == 0 {
			return
		}
		lost, err := v.app.writeViews(ctx, batch)
		if err != nil && len(batch) < mostWaiting {
			v.app.Log.Warn("views wait for the database", "views", len(batch), "error", err)
			return
		}
		if lost > 0 || err != nil {
			v.app.Log.Warn("views were not written", "views", lost, "error", err)
		}
		clear(batch)
	}
	take := func(w Viewed) {
		if _, known := batch[w]; !known {
			batch[w] = v.app.Store.Now()
		}
	}
	for {
		select {
		case w := <-v.in:
			take(w)
		case <-v.tickets:
			flush(ctx)
		case <-ctx.Done():
			for len(v.in) > 0 { // nobody else takes from it
				take(<-v.in)
			}
			last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 2*time.Second)
			flush(last)
			cancel()
			return
		}
	}
}

// writeViews writes a batch of views. One that cannot be kept is lost alone: lost
// counts those. An error is of the database, and nothing was written.
func (reader *Reader) writeViews(ctx context.Context, batch map[Viewed]time.Time) (lost int, err error) {
	rows := make([][]any, 0, len(batch))
	for w, at := range batch {
		rows = append(rows, []any{at, w.Visitor, w.StepID, w.EditionID, "view"})
	}
	err = pgx.BeginFunc(ctx, reader.Store.Pool, func(tx pgx.Tx) error {
		lost, err = copyViews(ctx, tx, rows)
		return err
	})
	if err != nil {
		return 0, fmt.Errorf("write views: %w", err)
	}
	return lost, nil
}

// copyViews copies rows in, in halves where something among them is refused.
func copyViews(ctx context.Context, tx pgx.Tx, rows [][]any) (lost int, err error) {
	err = pgx.BeginFunc(ctx, tx, func(tx pgx.Tx) error {
		_, err := tx.CopyFrom(ctx, pgx.Identifier{"events"}, []string{"at", "visitor", "step_id", "edition_id", "kind"}, pgx.CopyFromRows(rows))
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
	first, err := copyViews(ctx, tx, rows[:len(rows)/2])
	if err != nil {
		return 0, err
	}
	second, err := copyViews(ctx, tx, rows[len(rows)/2:])
	return first + second, err
}

// Partitions makes the tables that take this month's and the next month's
// events.
func (reader *Reader) Partitions(ctx context.Context) error {
	return store.MakePartitions(ctx, reader.Store, reader.Store.Now())
}
