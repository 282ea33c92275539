package routes

import (
	"context"
	"fmt"
	"time"

	"chrysagon/core/followup"
	"chrysagon/core/money"
	"chrysagon/store"
)

// Post is a follow-up as it stands on the map: at which step it begins, and to which its
// letters lead.
type Post struct {
	ID, Name string
	What     followup.Happening
	From     string   // step with which it begins
	To       []string // steps to which its letters lead
	Letters  int
	Begins   bool // it begins for people now
	Sent     int64
	Clicked  int64
	Orders   int64
	Revenue  money.Money
}

// posts are the follow-ups of a campaign that begin with what people do at its steps: joining
// a list by its form or checkout, sending its form, leaving its checkout, declining it, buying
// what it sells, booking by it. Others begin elsewhere, and stand on no map.
func (k *Keeper) posts(ctx context.Context, campaignID string, since time.Time, currency string) ([]Post, error) {
	var rows []struct {
		ID, Name, What                 string
		From                           string
		To                             store.StringList
		Letters                        int
		Begins                         bool
		Sent, Clicked, Orders, Revenue int64
	}
	err := k.Store.On(ctx).Raw(`SELECT f.id, f.name, coalesce(nullif(f.line -> 'begins' ->> 'what', ''), 'joined') AS what, s.id AS "from", f.begins, jsonb_array_length(f.line -> 'steps') AS letters,
			ARRAY(SELECT DISTINCT t.id FROM jsonb_array_elements(f.line -> 'steps') step JOIN pages l ON l.id = step ->> 'letter' JOIN steps t ON t.campaign_id = f.campaign_id
				WHERE (position('"page:' || t.page_id || '"' IN l.manuscript::text) > 0 OR position('"page:' || t.page_id || '\"' IN l.manuscript::text) > 0) AND t.id <> s.id ORDER BY 1)::text[] AS "to",
			coalesce(c.sent, 0) AS sent, coalesce(c.clicked, 0) AS clicked, coalesce(o.orders, 0) AS orders, coalesce(o.revenue, 0) AS revenue
		FROM followups f JOIN steps s ON s.campaign_id = f.campaign_id JOIN pages p ON p.id = s.page_id
		LEFT JOIN (SELECT followup_id, count(*) AS sent, count(clicked_at) AS clicked FROM postings WHERE sent_at >= @since GROUP BY followup_id) c ON c.followup_id = f.id
		LEFT JOIN (SELECT t.followup_id, count(*) AS orders, sum(r.total_minor - r.refunded_minor) AS revenue FROM orders r JOIN postings t ON t.id = r.posting_id
			WHERE r.state = 'paid' AND r.paid_at >= @since GROUP BY t.followup_id) o ON o.followup_id = f.id
		WHERE f.campaign_id = @campaign AND CASE coalesce(nullif(f.line -> 'begins' ->> 'what', ''), 'joined')
			WHEN 'joined' THEN p.manuscript::text LIKE '%"list": "' || f.list_id || '"%'
			WHEN 'bought' THEN p.purpose = 'sales' AND (coalesce(f.line -> 'begins' ->> 'of', '') = '' OR p.manuscript::text LIKE '%"' || (f.line -> 'begins' ->> 'of') || '"%')
			WHEN 'declined' THEN p.purpose IN ('upsell', 'downsell') AND coalesce(f.line -> 'begins' ->> 'of', '') IN ('', p.id)
			WHEN 'unfinished' THEN p.manuscript::text LIKE '%"kind": "checkout"%' AND coalesce(f.line -> 'begins' ->> 'of', '') IN ('', p.id)
			WHEN 'submitted' THEN p.manuscript::text LIKE '%"kind": "form"%' AND coalesce(f.line -> 'begins' ->> 'of', '') IN ('', p.id)
			WHEN 'booked' THEN p.manuscript::text LIKE '%"kind": "appointment"%' AND coalesce(f.line -> 'begins' ->> 'of', '') IN ('', p.id)
			ELSE false END
		ORDER BY f.created_at, f.id, s.position LIMIT 100`, map[string]any{"campaign": campaignID, "since": since}).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read which letters go out from steps: %w", err)
	}
	out := make([]Post, len(rows))
	for i, r := range rows {
		out[i] = Post{
			ID: r.ID, Name: r.Name, What: followup.Happening(r.What), From: r.From, To: r.To, Letters: r.Letters, Begins: r.Begins,
			Sent: r.Sent, Clicked: r.Clicked, Orders: r.Orders, Revenue: money.Of(r.Revenue, currency),
		}
	}
	return out, nil
}
