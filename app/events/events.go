// Package events notes which pages visitors see, and rolls up what came of them, by the hour and the day.
package events

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync"
	"time"

	"chrysagon/core/source"
	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

// Kind says what a visitor did: they saw a page, or an outcome came of it.
type Kind string

// View is that they saw a page. The outcomes are those of core/route.
const View Kind = "view"

// Event is that a visitor saw a page. What comes of it is kept where it happens
// (walks.Leave), so that none of it is ever lost.
type Event struct {
	Visitor           string // "" is nobody, and is not kept
	PageID, EditionID string
	CampaignID        string
	StepID            string // where the page stands in its funnel; "" outside one
	Source            source.Source
}

// Recorder writes events in batches, and rolls up what came of visitors. The same
// event of a visitor counts once a batch.
type Recorder struct {
	Log   *slog.Logger
	Store *store.Store
	Tick  <-chan time.Time // writes whenever it ticks

	in      chan Event
	rolling sync.Mutex
	month   time.Time           // the last one whose tables were made
	sources map[string][]string // of each campaign, as far as they are told apart
}

// New makes a recorder.
func New(s *store.Store, log *slog.Logger, tick <-chan time.Time) *Recorder {
	return &Recorder{Log: log, Store: s, Tick: tick, in: make(chan Event, 8192), sources: map[string][]string{}}
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
		defer r.rollUp(ctx)
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
		rows = append(rows, []any{at, e.Visitor, e.CampaignID, e.EditionID, e.PageID, e.StepID, "", e.Source.Name, e.Source.Medium, e.Source.Campaign})
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
		_, err := tx.CopyFrom(ctx, pgx.Identifier{"footprints"},
			[]string{"at", "visitor", "campaign_id", "edition_id", "page_id", "step_id", "outcome", "source", "medium", "by_campaign"}, pgx.CopyFromRows(rows))
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
