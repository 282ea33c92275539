package store_test

import (
	"bytes"
	"log/slog"
	"testing"
	"time"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Statements are counted; slow ones are told of, and every one where that is asked for,
// without the values in them.
func TestStatementsAreWatched(t *testing.T) {
	s := testkit.Empty(t)
	var out bytes.Buffer
	s.Watch.Log, s.Watch.Slow = slog.New(slog.NewTextHandler(&out, nil)), time.Nanosecond
	before := s.Watch.Asked()
	require.NoError(t, s.DB.Exec("SELECT ?::text", "a secret").Error)
	assert.Equal(t, int64(1), s.Watch.Asked()-before)
	assert.Contains(t, out.String(), "a slow statement")
	assert.NotContains(t, out.String(), "a secret")
	out.Reset()
	s.Watch.Slow = time.Hour
	require.NoError(t, s.DB.Exec("SELECT 1").Error)
	assert.Empty(t, out.String(), "quick ones are not told of")
	s.Watch.Log = slog.New(slog.NewTextHandler(&out, &slog.HandlerOptions{Level: slog.LevelDebug}))
	require.Error(t, s.DB.Exec("SELECT nothing").Error)
	assert.Contains(t, out.String(), "SELECT nothing")
	assert.Contains(t, out.String(), "error=")
}

// Lists read together are what they are alone: no column is lost on the way, whatever
// its type.
func TestListsReadTogetherAreWhatTheyAreAlone(t *testing.T) {
	s := testkit.DB(t)
	for name, compare := range togethers(t, s) {
		t.Run(name, compare)
	}
}
