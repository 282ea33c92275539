package events

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/source"
	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
)

// together is how many footprints are rolled up at once.
const together = 5000

// rollUp rolls up what waits.
func (r *Recorder) rollUp(ctx context.Context) {
	for {
		n := 0
		err := store.Again(func() (err error) {
			n, err = r.RollUp(ctx)
			return err
		})
		if err != nil && !errors.Is(err, context.Canceled) {
			r.Log.Warn("what came of visitors waits to be rolled up", "error", err)
		}
		if err != nil || n < together {
			return
		}
	}
}

// prints are footprints by column, as statements take them.
type prints struct {
	ID                                                  []int64
	At                                                  []time.Time
	Visitor, Campaign, Edition, Page, Step, Outcome, To []string
	Orders, Minor                                       []int64
	Source, Medium, ByCampaign, Walk, Kind, Name        []string
}

// RollUp takes footprints out, and counts them in the same transaction, so that each
// counts once: events keep them as they were; a walk, a step of it and an outcome there
// are new once for each visitor; and what is new is added to its hour.
func (r *Recorder) RollUp(ctx context.Context) (int, error) {
	r.rolling.Lock()
	defer r.rolling.Unlock()
	n := 0
	err := pgx.BeginFunc(ctx, r.Store.Pool, func(tx pgx.Tx) error {
		p, err := r.take(ctx, tx)
		if err != nil || len(p.ID) == 0 {
			return err
		}
		n = len(p.ID)
		if err := p.elsewhere(ctx, tx); err != nil {
			return err
		}
		for _, one := range counting {
			if _, err := tx.Exec(ctx, "WITH prints AS ("+printed+") "+one.sql, p.args()...); err != nil {
				return fmt.Errorf("roll up %s: %w", one.what, err)
			}
		}
		return nil
	})
	return n, err
}

// take takes the oldest footprints out of their table.
func (r *Recorder) take(ctx context.Context, tx pgx.Tx) (prints, error) {
	var p prints
	rows, err := tx.Query(ctx, `DELETE FROM footprints WHERE id IN (SELECT id FROM footprints ORDER BY id LIMIT $1 FOR UPDATE SKIP LOCKED)
		RETURNING id, at, visitor, campaign_id, edition_id, page_id, step_id, outcome, to_step, orders, money_minor, source, medium, by_campaign`, together)
	if err != nil {
		return p, fmt.Errorf("take footprints: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var f store.Footprint
		if err := rows.Scan(&f.ID, &f.At, &f.Visitor, &f.CampaignID, &f.EditionID, &f.PageID, &f.StepID, &f.Outcome, &f.ToStep, &f.Orders, &f.MoneyMinor, &f.Source, &f.Medium, &f.ByCampaign); err != nil {
			return p, fmt.Errorf("read a footprint: %w", err)
		}
		p.add(f)
	}
	if err := rows.Err(); err != nil {
		return p, fmt.Errorf("take footprints: %w", err)
	}
	rows.Close()
	return p, r.known(ctx, tx, &p)
}

func (p *prints) add(f store.Footprint) {
	kind, name := string(View), ""
	if f.Outcome != "" {
		kind, name, _ = strings.Cut(f.Outcome, ":") // of a call to action, what was pressed
	}
	p.ID, p.At, p.Visitor, p.Campaign = append(p.ID, f.ID), append(p.At, f.At), append(p.Visitor, f.Visitor), append(p.Campaign, f.CampaignID)
	p.Edition, p.Page, p.Step, p.Outcome, p.To = append(p.Edition, f.EditionID), append(p.Page, f.PageID), append(p.Step, f.StepID), append(p.Outcome, f.Outcome), append(p.To, f.ToStep)
	p.Orders, p.Minor = append(p.Orders, int64(f.Orders)), append(p.Minor, f.MoneyMinor)
	p.Source, p.Medium, p.ByCampaign = append(p.Source, f.Source), append(p.Medium, f.Medium), append(p.ByCampaign, f.ByCampaign)
	p.Walk, p.Kind, p.Name = append(p.Walk, store.NewID()), append(p.Kind, kind), append(p.Name, name)
}

// known gives the sources of a campaign that are too many one name together.
func (r *Recorder) known(ctx context.Context, tx pgx.Tx, p *prints) error {
	for i, name := range p.Source {
		if name == "" {
			name = source.Direct
		}
		list, read := r.sources[p.Campaign[i]]
		if !read {
			rows, err := tx.Query(ctx, "SELECT DISTINCT source FROM walk_hours WHERE campaign_id = $1 AND span = 'day' AND step_id = '' LIMIT $2", p.Campaign[i], source.MostNames)
			if err != nil {
				return fmt.Errorf("read the sources: %w", err)
			}
			if list, err = pgx.CollectRows(rows, pgx.RowTo[string]); err != nil {
				return fmt.Errorf("read the sources: %w", err)
			}
		}
		if !slices.Contains(list, name) {
			if len(list) >= source.MostNames {
				name = source.Other
			} else {
				list = append(list, name)
			}
		}
		r.sources[p.Campaign[i]], p.Source[i] = list, name
	}
	return nil
}

// elsewhere finds views of pages to which the funnel of another campaign led the
// visitor: they are steps of that walk.
func (p *prints) elsewhere(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `SELECT v.id, w.campaign_id, w.edition_id, w.step_id
		FROM unnest($1::bigint[], $2::text[], $3::text[], $4::text[], $5::text[]) AS v(id, visitor, page_id, campaign_id, outcome)
		JOIN walks w ON w.visitor = v.visitor AND w.campaign_id <> v.campaign_id
		JOIN steps s ON s.id = w.step_id AND s.page_id = v.page_id
		WHERE v.outcome = '' AND NOT EXISTS (SELECT FROM walks o WHERE o.visitor = v.visitor AND o.campaign_id = v.campaign_id AND o.moved_at > w.moved_at)`,
		p.ID, p.Visitor, p.Page, p.Campaign, p.Outcome)
	if err != nil {
		return fmt.Errorf("look for pages of other funnels: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var id int64
		var campaign, edition, step string
		if err := rows.Scan(&id, &campaign, &edition, &step); err != nil {
			return err
		}
		i := slices.Index(p.ID, id)
		p.Campaign[i], p.Edition[i], p.Step[i] = campaign, edition, step
	}
	return rows.Err()
}

func (p *prints) args() []any {
	return []any{p.At, p.Visitor, p.Campaign, p.Edition, p.Page, p.Step, p.Outcome, p.To, p.Orders, p.Minor, p.Source, p.Medium, p.ByCampaign, p.Walk, p.Kind, p.Name}
}

const printed = `SELECT * FROM unnest($1::timestamptz[], $2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[], $9::bigint[], $10::bigint[],
	$11::text[], $12::text[], $13::text[], $14::text[], $15::text[], $16::text[])
	AS p(at, visitor, campaign_id, edition_id, page_id, step_id, outcome, to_step, orders, minor, source, medium, by_campaign, walk, kind, name)`

// counting are the statements, in their order; each adds what is new to its hour.
// Hours are locked in the order of their key.
var counting = []struct{ what, sql string }{
	{"events", `INSERT INTO events (at, kind, visitor, page_id, step_id, edition_id, name, to_step, source)
		SELECT at, kind, visitor, page_id, step_id, edition_id, name, to_step, source FROM prints`},
	{"walks", `INSERT INTO walks (campaign_id, visitor, id, edition_id, begun_at, source, medium, by_campaign, landing, step_id, moved_at, counted)
		SELECT DISTINCT ON (campaign_id, visitor) campaign_id, visitor, walk, edition_id, at, source, medium, by_campaign, step_id, step_id, at, false
		FROM prints WHERE step_id <> '' ORDER BY campaign_id, visitor, at, source = 'direct', outcome
		ON CONFLICT (campaign_id, visitor) DO UPDATE SET source = EXCLUDED.source, medium = EXCLUDED.medium, by_campaign = EXCLUDED.by_campaign WHERE NOT walks.counted AND walks.source = ''`},
	{"who came in", `, fresh AS (UPDATE walks w SET counted = true FROM (SELECT DISTINCT campaign_id, visitor FROM prints WHERE step_id <> '') p
			WHERE w.campaign_id = p.campaign_id AND w.visitor = p.visitor AND NOT w.counted RETURNING w.campaign_id, w.begun_at, w.source, w.landing)
		INSERT INTO walk_hours (campaign_id, span, hour, step_id, source, outcome, to_step, visitors)
		SELECT campaign_id, span, date_trunc(span, begun_at, 'UTC'), '', source, '', landing, count(*) FROM fresh, ` + spans + ` GROUP BY 1, 2, 3, 5, 7 ORDER BY 1, 2, 3, 5, 7 ` + added},
	{"steps", `, fresh AS (INSERT INTO walk_steps (campaign_id, visitor, step_id, first_at)
			SELECT campaign_id, visitor, step_id, min(at) FROM prints WHERE step_id <> '' GROUP BY 1, 2, 3 ORDER BY 1, 2, 3
			ON CONFLICT DO NOTHING RETURNING campaign_id, visitor, step_id, first_at)
		INSERT INTO walk_hours (campaign_id, span, hour, step_id, source, outcome, to_step, visitors)
		SELECT f.campaign_id, span, date_trunc(span, f.first_at, 'UTC'), f.step_id, w.source, '', '', count(*)
		FROM fresh f JOIN walks w ON w.campaign_id = f.campaign_id AND w.visitor = f.visitor CROSS JOIN ` + spans + ` GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5 ` + added},
	{"outcomes", `, fresh AS (INSERT INTO walk_outcomes (campaign_id, visitor, step_id, outcome, to_step, at)
			SELECT campaign_id, visitor, step_id, outcome, to_step, min(at) FROM (
				SELECT campaign_id, visitor, step_id, outcome, '' AS to_step, at FROM prints WHERE step_id <> '' AND outcome <> '' AND minor >= 0
				UNION ALL SELECT campaign_id, visitor, step_id, outcome, to_step, at FROM prints WHERE step_id <> '' AND outcome <> '' AND to_step <> '') o
			GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5 ON CONFLICT DO NOTHING RETURNING campaign_id, visitor, step_id, outcome, to_step)
		INSERT INTO walk_hours (campaign_id, span, hour, step_id, source, outcome, to_step, visitors)
		SELECT f.campaign_id, span, date_trunc(span, s.first_at, 'UTC'), f.step_id, w.source, f.outcome, f.to_step, count(*)
		FROM fresh f JOIN walk_steps s ON s.campaign_id = f.campaign_id AND s.visitor = f.visitor AND s.step_id = f.step_id
			JOIN walks w ON w.campaign_id = f.campaign_id AND w.visitor = f.visitor CROSS JOIN ` + spans + ` GROUP BY 1, 2, 3, 4, 5, 6, 7 ORDER BY 1, 2, 3, 4, 5, 6, 7 ` + added},
	{"who went on", `, fresh AS (UPDATE walk_steps s SET moved = true FROM (SELECT DISTINCT campaign_id, visitor, step_id FROM prints WHERE step_id <> '' AND outcome <> '' AND minor >= 0) p
			WHERE s.campaign_id = p.campaign_id AND s.visitor = p.visitor AND s.step_id = p.step_id AND NOT s.moved RETURNING s.campaign_id, s.visitor, s.step_id, s.first_at)
		INSERT INTO walk_hours (campaign_id, span, hour, step_id, source, outcome, to_step, visitors)
		SELECT f.campaign_id, span, date_trunc(span, f.first_at, 'UTC'), f.step_id, w.source, '*', '', count(*)
		FROM fresh f JOIN walks w ON w.campaign_id = f.campaign_id AND w.visitor = f.visitor CROSS JOIN ` + spans + ` GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5 ` + added},
	{"what they brought", ` INSERT INTO walk_hours (campaign_id, span, hour, step_id, source, outcome, to_step, orders, money_minor)
		SELECT p.campaign_id, span, date_trunc(span, s.first_at, 'UTC'), p.step_id, w.source, 'money', '', sum(p.orders), sum(p.minor)
		FROM prints p JOIN walk_steps s ON s.campaign_id = p.campaign_id AND s.visitor = p.visitor AND s.step_id = p.step_id
			JOIN walks w ON w.campaign_id = p.campaign_id AND w.visitor = p.visitor CROSS JOIN ` + spans + ` WHERE p.orders <> 0 OR p.minor <> 0
		GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5 ` + added},
}

// spans are the hour and the day to which each is added: a long span is read by days.
const spans = "(VALUES ('hour'), ('day')) AS spans(span)"

const added = `ON CONFLICT (campaign_id, span, hour, step_id, source, outcome, to_step) DO UPDATE
	SET visitors = walk_hours.visitors + EXCLUDED.visitors, orders = walk_hours.orders + EXCLUDED.orders, money_minor = walk_hours.money_minor + EXCLUDED.money_minor`
