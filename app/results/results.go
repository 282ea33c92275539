// Package results tells what came of pages.
package results

import (
	"context"
	"fmt"
	"log/slog"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/app/events"
	"chrysagon/core/money"
	"chrysagon/core/route"
	"chrysagon/store"
)

// Reader reads results.
type Reader struct {
	Drafts *drafts.Reader
	Log    *slog.Logger
	Store  *store.Store
}

// Stair is one step of the results' staircase.
type Stair struct {
	Step    route.Step
	Reached int64       // visitors, or buyers once paid, who came here
	Passed  int64       // of them, those who bought or accepted, here
	Revenue money.Money // what was charged here, less what went back
}

// Results is what came of a campaign's funnel in a span of time.
type Results struct {
	Stairs   []Stair
	Visitors int64       // different browsers that came in, each once, by when they came first
	Orders   int64       // paid
	Revenue  money.Money // less what went back
	Refunded money.Money // what went back of these orders
	Average  money.Money // revenue by order, rounded half away from zero; zero while there is none
	Offered  int64       // orders whose buyer answered the upsell
	Taken    int64       // of them, those who accepted
	Daily    []Day
	Latest   []Sale
	Letters  []Letter
	Beside   []Seen // live pages of the campaign that stand outside its funnel
}

// Seen is how many different browsers saw a page.
type Seen struct {
	Name, Address string
	Visitors      int64
}

// Day is one day's orders and revenue, in the store's zone.
type Day struct {
	Date    time.Time
	Orders  int64
	Revenue money.Money
}

// Sale is one line of the newest sales.
type Sale struct {
	Number int64
	Name   string
	Items  string
	Total  money.Money
	At     time.Time
}

// Results computes what came of a campaign since a moment.
func (reader *Reader) Results(ctx context.Context, campaignID string, since time.Time) (Results, error) {
	funnel, err := reader.Drafts.DraftFunnel(ctx, campaignID)
	if err != nil {
		return Results{}, err
	}
	shop, err := reader.Store.Shop(ctx)
	if err != nil {
		return Results{}, err
	}
	r := Results{Revenue: money.Of(0, shop.Currency), Refunded: money.Of(0, shop.Currency), Average: money.Of(0, shop.Currency)}
	var sums struct{ Orders, Revenue, Refunded int64 }
	err = reader.Store.On(ctx).Raw(`SELECT count(*) AS orders, coalesce(sum(total_minor - refunded_minor), 0) AS revenue, coalesce(sum(refunded_minor), 0) AS refunded
		FROM orders WHERE campaign_id = ? AND state = 'paid' AND paid_at >= ?`, campaignID, since).Scan(&sums).Error
	if err != nil {
		return r, fmt.Errorf("add up the orders: %w", err)
	}
	r.Orders, r.Revenue.Minor, r.Refunded.Minor = sums.Orders, sums.Revenue, sums.Refunded
	if r.Orders > 0 {
		r.Average.Minor = (2*r.Revenue.Minor + r.Orders) / (2 * r.Orders)
	}
	seen, err := reader.seen(ctx, campaignID, since)
	if err != nil {
		return r, err
	}
	r.Visitors = seen[""].Visitors // whoever came in at two steps is one visitor
	for _, s := range funnel.Steps {
		stair, err := reader.stair(ctx, s, since, r.Orders, shop.Currency, seen[s.ID])
		if err != nil {
			return r, err
		}
		if s.Kind.Offers() {
			r.Offered += stair.Reached
			r.Taken += stair.Passed
		}
		r.Stairs = append(r.Stairs, stair)
	}
	if r.Daily, err = reader.daily(ctx, campaignID, since, shop); err != nil {
		return r, err
	}
	if r.Latest, err = reader.latest(ctx, campaignID, shop.Currency); err != nil {
		return r, err
	}
	if r.Letters, err = reader.letters(ctx, campaignID, since, shop.Currency); err != nil {
		return r, err
	}
	r.Beside, err = reader.beside(ctx, campaignID, since)
	return r, err
}

// beside counts who saw the live pages that stand outside the funnel, the most
// seen first.
func (reader *Reader) beside(ctx context.Context, campaignID string, since time.Time) ([]Seen, error) {
	var list []Seen
	err := reader.Store.On(ctx).Raw(`SELECT p.name, l.address, (SELECT count(DISTINCT visitor) FROM events WHERE page_id = p.id AND step_id = '' AND kind = ? AND at >= ?) AS visitors
		FROM live_pages l JOIN pages p ON p.id = l.page_id
		WHERE l.campaign_id = ? AND NOT EXISTS (SELECT FROM steps s WHERE s.page_id = p.id) ORDER BY visitors DESC, p.name LIMIT 50`, events.View, since, campaignID).Scan(&list).Error
	if err != nil {
		return nil, fmt.Errorf("count who saw the pages outside the funnel: %w", err)
	}
	return list, nil
}

// seenStep is how many visitors first came to a step, and of how many anything came.
type seenStep struct {
	StepID          string
	Visitors, Moved int64
}

// seen counts the visitors of each step, and under "" those of all, from the hours
// into which walks are rolled up: each visitor once, in the hour in which they came first.
func (reader *Reader) seen(ctx context.Context, campaignID string, since time.Time) (map[string]seenStep, error) {
	// Whole hours from those; the beginning of a first one that is not whole, one by one.
	whole := since.UTC().Truncate(time.Hour)
	if whole.Before(since) {
		whole = whole.Add(time.Hour)
	}
	began, from := events.Since(whole)
	var rows []seenStep
	err := reader.Store.On(ctx).Raw(`SELECT step_id, coalesce(sum(visitors) FILTER (WHERE outcome = ''), 0) AS visitors, coalesce(sum(visitors) FILTER (WHERE outcome = '*'), 0) AS moved
			FROM walk_hours WHERE campaign_id = ? AND `+began+` GROUP BY step_id
		UNION ALL SELECT step_id, count(*), count(*) FILTER (WHERE moved) FROM walk_steps WHERE campaign_id = ? AND first_at >= ? AND first_at < ? GROUP BY step_id
		UNION ALL SELECT '', count(*), 0 FROM walks WHERE campaign_id = ? AND counted AND begun_at >= ? AND begun_at < ?`,
		append(append([]any{campaignID}, from...), campaignID, since, whole, campaignID, since, whole)...).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("count the visitors: %w", err)
	}
	out := map[string]seenStep{}
	for _, r := range rows {
		sum := out[r.StepID]
		out[r.StepID] = seenStep{r.StepID, sum.Visitors + r.Visitors, sum.Moved + r.Moved}
	}
	return out, nil
}

// stair counts one step. Steps before the payment count visitors; steps after it count
// orders, from the orders' own tables. Orders, answers and revenue belong to the step at
// which they happened.
func (reader *Reader) stair(ctx context.Context, s route.Step, since time.Time, orders int64, currency string, seen seenStep) (Stair, error) {
	stair := Stair{Step: s, Revenue: money.Of(0, currency)}
	err := reader.Store.On(ctx).Raw(`SELECT coalesce(sum(p.amount_minor - p.refunded_minor), 0) FROM payments p JOIN orders o ON o.id = p.order_id
		WHERE p.step_id = ? AND p.state = 'charged' AND o.paid_at >= ?`, s.ID, since).Scan(&stair.Revenue.Minor).Error
	if err != nil {
		return stair, fmt.Errorf("add up the step %q: %w", s.Name, err)
	}
	switch {
	case s.Kind == route.Sales:
		stair.Reached = seen.Visitors
		err = reader.Store.On(ctx).Raw(`SELECT count(*) FROM orders WHERE step_id = ? AND state = 'paid' AND paid_at >= ?`, s.ID, since).Scan(&stair.Passed).Error
	case s.Kind.Offers():
		var counts struct{ Reached, Passed int64 }
		err = reader.Store.On(ctx).Raw(`SELECT count(*) AS reached, count(*) FILTER (WHERE n.outcome = 'accepted') AS passed
			FROM answers n JOIN orders o ON o.id = n.order_id WHERE n.step_id = ? AND o.paid_at >= ?`, s.ID, since).Scan(&counts).Error
		stair.Reached, stair.Passed = counts.Reached, counts.Passed
	case s.Kind == route.ThankYou:
		stair.Reached, stair.Passed = orders, orders // every order comes here
	default:
		stair.Reached, stair.Passed = seen.Visitors, seen.Moved
	}
	if err != nil {
		return stair, fmt.Errorf("count the step %q: %w", s.Name, err)
	}
	return stair, nil
}

func (reader *Reader) daily(ctx context.Context, campaignID string, since time.Time, shop store.Shop) ([]Day, error) {
	var rows []struct {
		Day             time.Time
		Orders, Revenue int64
	}
	err := reader.Store.On(ctx).Raw(`SELECT d::date AS day, count(o.id) AS orders, coalesce(sum(o.total_minor - o.refunded_minor), 0) AS revenue
		FROM generate_series((?::timestamptz AT TIME ZONE ?)::date, (?::timestamptz AT TIME ZONE ?)::date, interval '1 day') d
		LEFT JOIN orders o ON o.campaign_id = ? AND o.state = 'paid' AND (o.paid_at AT TIME ZONE ?)::date = d::date AND o.paid_at >= ?
		GROUP BY 1 ORDER BY 1`, since, shop.Zone, reader.Store.Now(), shop.Zone, campaignID, shop.Zone, since).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("add up the days: %w", err)
	}
	days := make([]Day, len(rows))
	for i, r := range rows {
		days[i] = Day{Date: r.Day, Orders: r.Orders, Revenue: money.Of(r.Revenue, shop.Currency)}
	}
	return days, nil
}

func (reader *Reader) latest(ctx context.Context, campaignID, currency string) ([]Sale, error) {
	var rows []struct {
		Number, TotalMinor int64
		Name, Items        string
		PaidAt             time.Time
	}
	err := reader.Store.On(ctx).Raw(`SELECT o.number, o.name, o.total_minor - o.refunded_minor AS total_minor, o.paid_at, (SELECT string_agg(l.name, ', ' ORDER BY p.asked_at, l.position)
		FROM order_lines l JOIN payments p ON p.id = l.payment_id AND p.state = 'charged' WHERE l.order_id = o.id) AS items
		FROM orders o WHERE o.campaign_id = ? AND o.state = 'paid' ORDER BY o.paid_at DESC LIMIT 8`, campaignID).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the newest sales: %w", err)
	}
	sales := make([]Sale, len(rows))
	for i, r := range rows {
		sales[i] = Sale{Number: r.Number, Name: r.Name, Items: r.Items, Total: money.Of(r.TotalMinor, currency), At: r.PaidAt}
	}
	return sales, nil
}
