package app

import (
	"context"
	"fmt"
	"time"

	"chrysagon/store"

	"github.com/jackc/pgx/v5"
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
	app     *App
	tickets <-chan time.Time
}

// NewViews makes a writer that writes whenever tick ticks.
func (a *App) NewViews(tick <-chan time.Time) *Views {
	return &Views{in: make(chan Viewed, 8192), app: a, tickets: tick}
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
		if err := v.app.writeViews(ctx, batch); err != nil {
			v.app.Log.Warn("views were not written", "views", len(batch), "error", err)
		}
		clear(batch)
	}
	for {
		select {
		case w := <-v.in:
			if _, known := batch[w]; !known {
				batch[w] = v.app.Now()
			}
		case <-v.tickets:
			flush(ctx)
		case <-ctx.Done():
			last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 2*time.Second)
			flush(last)
			cancel()
			return
		}
	}
}

func (a *App) writeViews(ctx context.Context, batch map[Viewed]time.Time) error {
	rows := make([][]any, 0, len(batch))
	for w, at := range batch {
		rows = append(rows, []any{at, w.Visitor, w.StepID, w.EditionID, "view"})
	}
	_, err := a.Store.Pool.CopyFrom(ctx, pgx.Identifier{"events"},
		[]string{"at", "visitor", "step_id", "edition_id", "kind"}, pgx.CopyFromRows(rows))
	if err != nil {
		return fmt.Errorf("write views: %w", err)
	}
	return nil
}

// Partitions makes the tables that take this month's and the next month's
// events.
func (a *App) Partitions(ctx context.Context) error {
	return MakePartitions(ctx, a.Store, a.Now())
}

// MakePartitions makes the monthly tables around a moment: the month before,
// its own and the next.
func MakePartitions(ctx context.Context, s *store.Store, moment time.Time) error {
	first := time.Date(moment.Year(), moment.Month(), 1, 0, 0, 0, 0, time.UTC)
	for i := -1; i <= 1; i++ {
		from, to := first.AddDate(0, i, 0), first.AddDate(0, i+1, 0)
		_, err := s.Pool.Exec(ctx, fmt.Sprintf(
			`CREATE TABLE IF NOT EXISTS events_%s PARTITION OF events FOR VALUES FROM ('%s') TO ('%s')`,
			from.Format("2006_01"), from.Format(time.DateOnly), to.Format(time.DateOnly)))
		if err != nil {
			return fmt.Errorf("make the events' table of %s: %w", from.Format("January 2006"), err)
		}
	}
	return nil
}
