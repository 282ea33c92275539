package background_test

import (
	"log/slog"
	"testing"

	"chrysagon/app/background"

	"github.com/stretchr/testify/assert"
)

// One fault ends nothing but itself; the end waits for what goes on, and tells it.
func TestTheEndWaitsForWhatGoesOn(t *testing.T) {
	w := &background.Work{Log: slog.New(slog.DiscardHandler)}
	done := false
	w.Do(func() { panic("a fault") })
	w.Do(func() {
		<-w.Life().Done()
		done = true
	})
	w.End()
	assert.True(t, done)
	assert.Error(t, w.Life().Err())
}
