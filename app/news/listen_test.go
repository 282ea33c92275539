package news_test

import (
	"context"
	"log/slog"
	"testing"

	"chrysagon/app/news"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What the database tells is heard; while the connection is lost nothing that was
// read counts as fresh, and once it is there again everything counts as changed.
func TestTheDatabaseIsHeardAgain(t *testing.T) {
	s := testkit.DB(t)
	h := &news.Hub{Store: s, Log: slog.New(slog.DiscardHandler)}
	l := h.Subscribe()
	ctx, end := context.WithCancel(t.Context())
	done := make(chan struct{})
	go func() { defer close(done); h.Listen(ctx) }()
	next := func() []news.News { <-l.Ready(); return l.Take() }

	assert.Equal(t, []news.News{{Topic: news.FactsChanged}}, next(), "at first, everything counts as changed")
	require.NoError(t, s.DB.Exec("SELECT pg_notify('chrysagon', 'sale')").Error)
	assert.Equal(t, []news.News{{Topic: news.SaleMade}}, next())
	_, heard := h.Age("")
	assert.True(t, heard)

	require.NoError(t, s.DB.Exec("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query ILIKE 'listen%' AND datname = current_database()").Error)
	assert.Equal(t, []news.News{{Topic: news.FactsChanged}}, next())
	_, heard = h.Age("")
	assert.True(t, heard)

	end()
	<-done
	_, heard = h.Age("")
	assert.False(t, heard, "who does not listen knows nothing")
}
