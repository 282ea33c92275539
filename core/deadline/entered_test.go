package deadline_test

import (
	"testing"
	"time"

	"chrysagon/core/deadline"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// However a moment is written, it is kept in one form; what is shown is read again.
func TestMomentsAreReadAsTheyAreWritten(t *testing.T) {
	for text, want := range map[string]string{
		"27 Nov 2026, 23:59": "2026-11-27T23:59", " 27  nov 2026 23:59": "2026-11-27T23:59", "27 November 2026, 23:59": "2026-11-27T23:59", "2026-11-27T23:59": "2026-11-27T23:59",
		"2026-11-27 23:59": "2026-11-27T23:59", "27.11.2026 23:59": "2026-11-27T23:59", "3/12/2026 08:00": "2026-12-03T08:00",
		"27 Nov 2026": "2026-11-27", "2026-11-27": "2026-11-27", "27.11.2026": "2026-11-27",
		"2026-11-27T23:59:30": "2026-11-27T23:59:30", "31 Nov 2026": "31 Nov 2026", "tomorrow": "tomorrow", "black_friday-10": "black_friday-10", "": "",
	} {
		assert.Equal(t, want, deadline.Entered(text), text)
	}
	rapid.Check(t, func(t *rapid.T) {
		at := time.Unix(rapid.Int64Range(0, 1<<33).Draw(t, "at"), 0).UTC()
		for _, kept := range []string{at.Format(deadline.LocalLayout), at.Format(time.DateOnly)} {
			assert.Equal(t, kept, deadline.Entered(deadline.Shown(kept)))
		}
	})
}
