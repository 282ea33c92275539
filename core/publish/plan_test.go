package publish_test

import (
	"testing"
	"time"

	"chrysagon/core/publish"

	"github.com/stretchr/testify/assert"
)

func TestPlansThatCannotBeKeptAreRefused(t *testing.T) {
	now := time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)
	at := func(hours int) time.Time { return now.Add(time.Duration(hours) * time.Hour) }
	for _, c := range []struct {
		plan publish.Plan
		live bool
		says string
	}{
		{publish.Plan{From: at(1)}, false, ""}, {publish.Plan{From: at(1), Until: at(2), Back: true}, true, ""}, {publish.Plan{Until: at(2)}, false, ""},
		{publish.Plan{From: now}, true, "has passed"}, {publish.Plan{From: at(2), Until: at(2)}, true, "before it begins"}, {publish.Plan{Until: at(-1)}, true, "end has passed"},
		{publish.Plan{From: at(24 * 800)}, true, "two years"}, {publish.Plan{From: at(1), Until: at(2), Back: true}, false, "Nothing is live"},
	} {
		if c.says == "" {
			assert.Empty(t, c.plan.Fault(now, c.live))
		} else {
			assert.Contains(t, c.plan.Fault(now, c.live), c.says)
		}
	}
}
