package routes

import (
	"context"
	"fmt"
	"time"

	"chrysagon/app/events"
	"chrysagon/core/route"
	"chrysagon/store"
)

// Figures are what came of a campaign's walks: of those who first came to a step in
// the window, so that what came of them is always a part of them.
type Figures struct {
	Came    []Came // by source, the most first
	Walks   int64  // different visitors
	Steps   map[string]Stepped
	Ways    map[Way]int64 // visitors who were led from step to step
	Orders  int64
	Revenue int64 // minor units, less what went back
	Margin  map[string]Earned
}

// Came is how many visitors came in by a source, and at which step.
type Came struct {
	Source, Landing string
	Visitors        int64
}

// Stepped is what became of a step's visitors.
type Stepped struct {
	Visitors int64
	Moved    int64 // something came of them
	Begun    int64 // of those who left: they left their address in the checkout, and agreed to be written to
	Here     int64 // nothing yet, and they came so lately that it still may
	Orders   int64
	Minor    int64                   // what they brought here, less what went back
	Outcomes map[route.Outcome]int64 // visitors, each once for each outcome
}

// Left is how many went away: nothing came of them in the store's minutes.
func (s Stepped) Left() int64 { return max(0, s.Visitors-s.Moved-s.Here) }

// Way leads from a step to another.
type Way struct {
	From    string
	Outcome route.Outcome
	To      string
}

// Earned is what was charged on a step, and what is left of it after tax, reductions
// and what the goods cost.
type Earned struct{ Minor, Margin int64 }

// Rates reads the figures alone, without what the map says of pages and paths.
func (k *Keeper) Rates(ctx context.Context, campaignID string, w Window) (Figures, error) {
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return Figures{}, err
	}
	return k.figures(ctx, campaignID, w, shop.LeftMinutes)
}

// figures reads them, from the hours into which walks are rolled up.
func (k *Keeper) figures(ctx context.Context, campaignID string, w Window, minutes int) (Figures, error) {
	f := Figures{Steps: map[string]Stepped{}, Ways: map[Way]int64{}, Margin: map[string]Earned{}}
	var hours []struct {
		StepID, Outcome, ToStep string
		Visitors, Orders, Minor int64
	}
	var waiting []struct {
		StepID string
		Here   int64
	}
	var earned []struct {
		StepID        string
		Minor, Margin int64
	}
	var begun []struct {
		StepID string
		Begun  int64
	}
	since := w.Since.UTC().Truncate(time.Hour)
	began, from := events.Since(since)
	err := store.Together(k.Store.On(ctx),
		store.Part{SQL: `SELECT step_id, outcome, to_step, sum(visitors) AS visitors, sum(orders) AS orders, sum(money_minor) AS minor FROM walk_hours
			WHERE campaign_id = ? AND step_id <> '' AND (? = '' OR source = ?) AND ` + began + ` GROUP BY 1, 2, 3`, Args: append([]any{campaignID, w.Source, w.Source}, from...), Into: &hours},
		store.Part{SQL: `SELECT source, to_step AS landing, sum(visitors) AS visitors FROM walk_hours
			WHERE campaign_id = ? AND step_id = '' AND ` + began + ` GROUP BY 1, 2 ORDER BY 3 DESC, 1, 2`, Args: append([]any{campaignID}, from...), Into: &f.Came},
		store.Part{SQL: `SELECT s.step_id, count(*) AS here FROM walk_steps s JOIN walks v ON v.campaign_id = s.campaign_id AND v.visitor = s.visitor
			WHERE s.campaign_id = ? AND NOT s.moved AND s.first_at > ? AND (? = '' OR v.source = ?) GROUP BY 1`,
			Args: []any{campaignID, k.Store.Now().Add(-time.Duration(minutes) * time.Minute), w.Source, w.Source}, Into: &waiting},
		store.Part{SQL: `SELECT p.step_id, sum(l.quantity * l.price_minor - l.off_minor) AS minor,
				sum(l.quantity * l.price_minor - l.off_minor - CASE WHEN p.tax_included THEN l.tax_minor ELSE 0 END - l.quantity * coalesce(v.cost_minor, 0)) AS margin
			FROM payments p JOIN orders o ON o.id = p.order_id JOIN order_lines l ON l.payment_id = p.id LEFT JOIN variants v ON v.id = l.variant_id
			WHERE o.campaign_id = ? AND p.state = 'charged' AND p.settled_at >= ? GROUP BY 1`, Args: []any{campaignID, since}, Into: &earned},
		store.Part{SQL: `SELECT u.step_id, count(*) AS begun FROM unfinished u LEFT JOIN walks v ON v.campaign_id = u.campaign_id AND v.visitor = u.visitor
			WHERE u.campaign_id = ? AND u.consent <> '' AND u.at >= ? AND u.at <= ? AND (? = '' OR v.source = ?) GROUP BY 1`,
			Args: []any{campaignID, since, k.Store.Now().Add(-time.Duration(minutes) * time.Minute), w.Source, w.Source}, Into: &begun},
	)
	if err != nil {
		return f, fmt.Errorf("read what came of walks: %w", err)
	}
	for _, h := range hours {
		f.add(h.StepID, h.Outcome, h.ToStep, h.Visitors, h.Orders, h.Minor)
	}
	for _, h := range waiting {
		s := f.step(h.StepID)
		s.Here = h.Here
		f.Steps[h.StepID] = s
	}
	for _, h := range begun {
		s := f.step(h.StepID)
		s.Begun = h.Begun
		f.Steps[h.StepID] = s
	}
	for _, c := range f.Came {
		if w.Source == "" || c.Source == w.Source {
			f.Walks += c.Visitors
		}
	}
	for _, e := range earned {
		f.Margin[e.StepID] = Earned{e.Minor, e.Margin}
	}
	return f, nil
}

func (f *Figures) step(id string) Stepped {
	s, ok := f.Steps[id]
	if !ok {
		s.Outcomes = map[route.Outcome]int64{}
	}
	return s
}

func (f *Figures) add(step, outcome, to string, visitors, orders, minor int64) {
	s := f.step(step)
	switch {
	case outcome == "":
		s.Visitors += visitors
	case outcome == "*":
		s.Moved += visitors
	case outcome == "money":
		s.Orders += orders
		s.Minor += minor
		f.Orders += orders
		f.Revenue += minor
	case to == "":
		s.Outcomes[route.Outcome(outcome)] += visitors
	default:
		f.Ways[Way{step, route.Outcome(outcome), to}] += visitors
	}
	f.Steps[step] = s
}
