package people

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chrysagon/store"
)

// BuyerRow is somebody who ordered, with all their orders.
type BuyerRow struct {
	Email, Name string
	Orders      int
	Minor       int64 // paid, less what went back
	Last        time.Time
	First       time.Time
}

// Buyers lists everybody who ordered, who came last first.
func (people *People) Buyers(ctx context.Context, find string, most int) ([]BuyerRow, int, error) {
	sql, args := "", []any{}
	if find = strings.TrimSpace(find); find != "" {
		sql, args = " AND (name ILIKE ? OR email ILIKE ?)", []any{store.Pattern(find), store.Pattern(find)}
	}
	var count int
	if err := people.Store.On(ctx).Raw("SELECT count(DISTINCT lower(email)) FROM orders WHERE state = 'paid'"+sql, args...).Scan(&count).Error; err != nil {
		return nil, 0, fmt.Errorf("count the buyers: %w", err)
	}
	var rows []BuyerRow
	err := people.Store.On(ctx).Raw(`SELECT lower(email) AS email, (array_agg(name ORDER BY paid_at DESC))[1] AS name, count(*) AS orders,
		sum(total_minor - refunded_minor) AS minor, max(paid_at) AS last, min(paid_at) AS first
		FROM orders WHERE state = 'paid'`+sql+` GROUP BY lower(email) ORDER BY max(paid_at) DESC, 1 LIMIT ?`, append(args, most)...).Scan(&rows).Error
	if err != nil {
		return nil, 0, fmt.Errorf("read the buyers: %w", err)
	}
	return rows, count, nil
}
