package results

import (
	"context"
	"fmt"
	"time"

	"chrysagon/core/money"
)

// Letter is what came of one letter of a campaign. An order is credited to the letter by
// whose link its browser came last before it.
type Letter struct {
	ID, Name string
	Line     string // the follow-up in which it stands; empty: none
	Nth      int    // its place in that, from 1
	Sent     int64
	Opened   int64 // a guess: many mail programs load pictures unseen, or never
	Clicked  int64
	Orders   int64
	Revenue  money.Money // less what went back
	Each     money.Money // for each letter sent, rounded half away from zero
}

// letters are those of a campaign of which any was sent since a moment, the best first.
func (reader *Reader) letters(ctx context.Context, campaignID string, since time.Time, currency string) ([]Letter, error) {
	var rows []struct {
		ID, Name, Line                       string
		Nth                                  int
		Sent, Opened, Clicked, Orders, Minor int64
	}
	err := reader.Store.On(ctx).Raw(`SELECT p.id, p.name, coalesce(f.name, '') AS line, coalesce(f.nth, 0) AS nth, s.sent, s.opened, s.clicked, coalesce(o.orders, 0) AS orders, coalesce(o.minor, 0) AS minor
		FROM pages p
		JOIN (SELECT letter_id, count(*) AS sent, count(opened_at) AS opened, count(clicked_at) AS clicked FROM postings WHERE sent_at >= @since AND letter_id IS NOT NULL GROUP BY letter_id) s ON s.letter_id = p.id
		LEFT JOIN (SELECT t.letter_id, count(*) AS orders, sum(r.total_minor - r.refunded_minor) AS minor FROM orders r JOIN postings t ON t.id = r.posting_id
			WHERE r.state = 'paid' AND r.paid_at >= @since AND t.sent_at >= @since GROUP BY t.letter_id) o ON o.letter_id = p.id
		LEFT JOIN LATERAL (SELECT f.name, step.nth FROM followups f, jsonb_array_elements(f.line -> 'steps') WITH ORDINALITY AS step(of, nth)
			WHERE f.campaign_id = p.campaign_id AND step.of ->> 'letter' = p.id ORDER BY f.created_at, f.id LIMIT 1) f ON true
		WHERE p.campaign_id = @campaign ORDER BY minor DESC, s.sent DESC, p.name LIMIT 50`, map[string]any{"since": since, "campaign": campaignID}).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read what came of letters: %w", err)
	}
	var out []Letter
	for _, r := range rows {
		out = append(out, Letter{
			ID: r.ID, Name: r.Name, Line: r.Line, Nth: r.Nth, Sent: r.Sent, Opened: r.Opened, Clicked: r.Clicked, Orders: r.Orders,
			Revenue: money.Of(r.Minor, currency), Each: money.Of((2*r.Minor+r.Sent)/(2*r.Sent), currency),
		})
	}
	return out, nil
}
