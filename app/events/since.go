package events

import "time"

// Since is the condition, in SQL, that a row of walk_hours began at a moment or later,
// with its arguments: hours up to the next midnight (UTC), then days.
func Since(since time.Time) (sql string, args []any) {
	since = since.UTC()
	day := since.Truncate(24 * time.Hour)
	if day.Before(since) {
		day = day.Add(24 * time.Hour)
	}
	return "(span = 'day' AND hour >= ? OR span = 'hour' AND hour >= ? AND hour < ?)", []any{day, since, day}
}
