package app_test

import (
	"context"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// that may still be at work is left alone.
func TestJobsOfAKilledProgramAreRescued(t *testing.T) {
	shop := testkit.Open(t)
	running := func(kind, age string) {
		shop.Exec(`INSERT INTO river_job (state, kind, args, queue, priority, max_attempts, attempt, attempted_at, attempted_by, created_at, scheduled_at)
			VALUES ('running', $1, '{}', 'default', 1, 25, 1, now() - $2::interval, '{gone}', now() - interval '1 hour', now() - interval '1 hour')`, kind, age)
	}
	running("send_mail", "26 seconds")
	running("send_lead", "1 hour")
	running("send_mail", "10 seconds")
	running("reconcile", "1 hour")
	n, err := shop.App.Rescue(ctx)
	require.NoError(t, err)
	assert.Equal(t, int64(2), n)
	assert.Equal(t, int64(2), shop.Number(`SELECT count(*) FROM river_job WHERE state = 'running'`))
}
