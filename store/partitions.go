package store

import (
	"context"
	"fmt"
	"time"
)

// MakePartitions makes the monthly tables around a moment: the month before,
// its own and the next.
func MakePartitions(ctx context.Context, s *Store, moment time.Time) error {
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
