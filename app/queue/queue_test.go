package queue_test

import (
	"errors"
	"testing"

	"chrysagon/app/queue"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

type job struct{}

func (job) Kind() string { return "a_job" }

// A job is put in with the change that causes it, or not at all.
func TestAJobGoesWithItsChange(t *testing.T) {
	c := testkit.Use(t)
	q, err := queue.NewQueue(c.Store)
	require.NoError(t, err)
	jobs := func() int64 { return c.Number("SELECT count(*) FROM river_job WHERE kind = 'a_job'") }
	no := errors.New("no")
	err = c.Store.In(t.Context(), func(tx *gorm.DB) error {
		require.NoError(t, q.Put(tx, job{}))
		return no
	})
	require.ErrorIs(t, err, no)
	assert.Zero(t, jobs())
	require.NoError(t, c.Store.In(t.Context(), func(tx *gorm.DB) error { return q.Put(tx, job{}) }))
	assert.Equal(t, int64(1), jobs())
	require.Error(t, q.Put(c.Store.On(t.Context()), job{}), "outside a transaction none can be put in")
}
