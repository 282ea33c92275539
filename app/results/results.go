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
	Visitors int64       // different browsers that saw an entrance
	Orders   int64       // paid
	Revenue  money.Money // less what went back
	Refunded money.Money // what went back of these orders
	Average  money.Money // revenue by order, rounded half away from zero; zero while there is none
	Offered  int64       // orders whose buyer answered the upsell
	Taken    int64       // of them, those who accepted
	Daily    []Day
	Latest   []Sale
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
	var entrances []string
	for _, s := range funnel.Steps {
		stair, err := reader.stair(ctx, s, since, r.Orders, shop.Currency)
		if err != nil {
			return r, err
		}
		if s.Kind == route.Sales {
			entrances = append(entrances, s.ID)
		}
		if s.Kind == route.UpsellAt {
			r.Offered += stair.Reached
			r.Taken += stair.Passed
		}
		r.Stairs = append(r.Stairs, stair)
	}
	// Whoever saw two entrances is one visitor.
	if err := reader.Store.On(ctx).Raw(`SELECT count(DISTINCT visitor) FROM events WHERE step_id = ANY(?::text[]) AND kind = ? AND at >= ?`, store.TextArray(entrances), events.View, since).Scan(&r.Visitors).Error; err != nil {
		return r, fmt.Errorf("count the visitors: %w", err)
	}
	if r.Daily, err = reader.daily(ctx, campaignID, since, shop); err != nil {
		return r, err
	}
	if r.Latest, err = reader.latest(ctx, campaignID, shop.Currency); err != nil {
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

// stair counts one step. Steps before the payment count browsers that saw
// them; steps after it count orders, from the orders' own tables. Orders, answers
// and revenue belong to the step at which they happened.
func (reader *Reader) stair(ctx context.Context, s route.Step, since time.Time, orders int64, currency string) (Stair, error) {
	stair := Stair{Step: s, Revenue: money.Of(0, currency)}
	err := reader.Store.On(ctx).Raw(`SELECT coalesce(sum(p.amount_minor - p.refunded_minor), 0) FROM payments p JOIN orders o ON o.id = p.order_id
		WHERE p.step_id = ? AND p.state = 'charged' AND o.paid_at >= ?`, s.ID, since).Scan(&stair.Revenue.Minor).Error
	if err != nil {
		return stair, fmt.Errorf("add up the step %q: %w", s.Name, err)
	}
	switch s.Kind {
	case route.Sales:
		err = reader.Store.On(ctx).Raw(`SELECT count(DISTINCT visitor) FROM events WHERE step_id = ? AND kind = ? AND at >= ?`, s.ID, events.View, since).Scan(&stair.Reached).Error
		if err == nil {
			err = reader.Store.On(ctx).Raw(`SELECT count(*) FROM orders WHERE step_id = ? AND state = 'paid' AND paid_at >= ?`, s.ID, since).Scan(&stair.Passed).Error
		}
	case route.UpsellAt:
		var counts struct{ Reached, Passed int64 }
		err = reader.Store.On(ctx).Raw(`SELECT count(*) AS reached, count(*) FILTER (WHERE n.outcome = 'accepted') AS passed
			FROM answers n JOIN orders o ON o.id = n.order_id WHERE n.step_id = ? AND o.paid_at >= ?`, s.ID, since).Scan(&counts).Error
		stair.Reached, stair.Passed = counts.Reached, counts.Passed
	case route.ThankYou:
		stair.Reached, stair.Passed = orders, orders // every order comes here
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
