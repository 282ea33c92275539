package main

import (
	"context"
	"fmt"
	"sync/atomic"
	"time"

	"chrysagon/app"
	"chrysagon/app/routes"
	"chrysagon/demo"
	"chrysagon/internal/server"
	"chrysagon/store"

	"github.com/valyala/fasthttp"
)

const (
	walkers   = 1_500_000
	newcomers = 10_000.0 / 60 // visitors each second
)

// walks measures what writing walks costs a published page, how many visitors a
// second a fork can lead, and the map and the results at ten million events.
func walks(ctx context.Context, a *app.App, address string) error {
	if err := demo.Season(ctx, a.Store, server.Neighbour(80), time.Now()); err != nil {
		return err
	}
	a.News.FactsChanged()
	if err := written(address, a.Origins.Shop); err != nil {
		return err
	}
	if _, err := a.Store.Pool.Exec(ctx, "INSERT INTO links (id, campaign_id, name, slug, source, route_id, created_at) VALUES ('bench', 'frost-lanterns', 'Bench', 'bench-fork', 'Bench', 'two-bridges', now()) ON CONFLICT DO NOTHING"); err != nil {
		return err
	}
	if err := pressed(address, a.Origins.Shop); err != nil {
		return err
	}
	events, err := season(ctx, a.Store)
	if err != nil {
		return err
	}
	for what, look := range map[string]func() error{
		"the map": func() error {
			_, err := a.Routes.Map(ctx, "frost-lanterns", routes.Window{Since: time.Now().AddDate(0, 0, -90)})
			return err
		},
		"its rates, of one source": func() error {
			_, err := a.Routes.Rates(ctx, "frost-lanterns", routes.Window{Since: time.Now().AddDate(0, 0, -90), Source: "source 3"})
			return err
		},
		"the results": func() error {
			_, err := a.Results.Results(ctx, "frost-lanterns", time.Now().AddDate(0, 0, -90))
			return err
		},
	} {
		took, err := middle(9, look)
		if err != nil {
			return err
		}
		report(fmt.Sprintf("%s at %.1f million events", what, float64(events)/1e6), "%s", "under 200 ms", took.Round(time.Millisecond))
	}
	return nil
}

// written holds a page that ten thousand new visitors a minute see, each of them
// written down, against the same page seen by who was there before, in turns.
func written(address, shop string) error {
	req := fasthttp.AcquireRequest()
	req.SetRequestURI(shop + "/first-gust")
	req.Header.Set("Accept-Encoding", "br")
	c := client(address)
	fresh, begun := atomic.Int64{}, time.Now()
	var with, without []float64
	for range rounds {
		a, err := hammerAs(c, req, fasthttp.StatusOK, func() string {
			if due := int64(time.Since(begun).Seconds() * newcomers); fresh.Load() < due {
				return fmt.Sprintf("bench%021d", fresh.Add(1))
			}
			return "abcdefghijklmnopqrstuvwxyz"
		})
		if err != nil {
			return fmt.Errorf("a page with newcomers: %w", err)
		}
		b, err := hammerAs(c, req, fasthttp.StatusOK, func() string { return "abcdefghijklmnopqrstuvwxyz" })
		if err != nil {
			return fmt.Errorf("a page without newcomers: %w", err)
		}
		with, without = append(with, a), append(without, b)
	}
	report("a page that 10,000 new visitors a minute see", "%.0f/s; without them %.0f/s; ratio %.2f", "ratio at least 0.9", median(with), median(without), median(with)/median(without))
	return nil
}

// pressed measures how many visitors a second are led through a fork, each assigned
// and kept.
func pressed(address, shop string) error {
	req := fasthttp.AcquireRequest()
	req.SetRequestURI(shop + "/to/bench-fork")
	n := atomic.Int64{}
	rate, err := hammerAs(client(address), req, fasthttp.StatusSeeOther, func() string { return fmt.Sprintf("press%021d", n.Add(1)) })
	if err != nil {
		return fmt.Errorf("a fork: %w", err)
	}
	report("new visitors led through a fork by a tracked link, each counted, assigned and kept", "%.0f/s", "167/s is 10,000 a minute", rate)
	return nil
}

// season fills in a season of walks: three steps and what came of each for so many
// visitors, rolled up as they would have been.
func season(ctx context.Context, s *store.Store) (int64, error) {
	for _, sql := range []string{
		`INSERT INTO walks (campaign_id, visitor, id, edition_id, begun_at, source, landing, step_id, moved_at, counted)
			SELECT 'frost-lanterns', 'season-' || i, 'season-' || i, 'frost-2', now() - (i % 7776000) * interval '1 second', 'source ' || i % 12, 'seven-knots', 'night-flight', now(), true
			FROM generate_series(1, $1::int) i`,
		`INSERT INTO walk_steps SELECT 'frost-lanterns', 'season-' || i, step, now() - (i % 7776000) * interval '1 second', true
			FROM generate_series(1, $1::int) i, unnest(ARRAY['seven-knots', 'first-gust', 'night-flight']) step`,
		`INSERT INTO events (at, kind, visitor, page_id, step_id, edition_id) SELECT now() - (i % 7776000) * interval '1 second', kind, 'season-' || i, step, step, 'frost-2'
			FROM generate_series(1, $1::int) i, unnest(ARRAY['seven-knots', 'first-gust', 'night-flight']) step, unnest(ARRAY['view', 'clicked']) kind
			UNION ALL SELECT now() - (i % 7776000) * interval '1 second', 'view', 'late-' || i, 'night-flight', 'night-flight', 'frost-2' FROM generate_series(1, $1::int * 2 / 3) i`,
		`INSERT INTO walk_hours (campaign_id, span, hour, step_id, source, outcome, to_step, visitors)
			SELECT 'frost-lanterns', 'hour', h, step, 'source ' || n, outcome, '', 1 + $1::int / 300000 FROM generate_series(date_trunc('hour', now() - interval '90 days', 'UTC'), now(), interval '1 hour') h,
				unnest(ARRAY['seven-knots', 'first-gust', 'ask-the-wind', 'night-flight', 'quiver-bag', 'one-kite-sleeve', 'thank-you']) step, generate_series(0, 11) n, unnest(ARRAY['', '*', 'clicked:yes']) outcome
			ON CONFLICT DO NOTHING`,
		`INSERT INTO walk_hours (campaign_id, span, hour, step_id, source, outcome, to_step, visitors)
			SELECT campaign_id, 'day', date_trunc('day', hour, 'UTC'), step_id, source, outcome, to_step, sum(visitors) FROM walk_hours WHERE span = 'hour' AND $1::int > 0 GROUP BY 1, 3, 4, 5, 6, 7 ON CONFLICT DO NOTHING`,
	} {
		args := []any{walkers}
		if _, err := s.Pool.Exec(ctx, sql, args...); err != nil {
			return 0, fmt.Errorf("fill in a season: %w", err)
		}
	}
	if _, err := s.Pool.Exec(ctx, "ANALYZE"); err != nil {
		return 0, err
	}
	var n int64
	return n, s.Pool.QueryRow(ctx, "SELECT count(*) FROM events").Scan(&n)
}
