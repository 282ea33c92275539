package deadline_test

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/deadline"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// The first two cases are the worked examples of RFC 5545, section 3.3.5: in
// New York, 2007-11-04 01:30 comes twice and means the first (EDT), and
// 2007-03-11 02:30 is skipped and means 03:30 EDT.
func TestResolveFollowsRFC5545(t *testing.T) {
	for _, c := range []struct{ local, zone, want string }{
		{"2007-11-04T01:30", "America/New_York", "2007-11-04T05:30:00Z"},
		{"2007-03-11T02:30", "America/New_York", "2007-03-11T07:30:00Z"},
		{"2026-11-27T23:59", "Europe/Lisbon", "2026-11-27T23:59:00Z"},
		{"2026-10-25T01:30", "Europe/Lisbon", "2026-10-25T00:30:00Z"},       // twice: summer time first
		{"2026-03-29T01:30", "Europe/Lisbon", "2026-03-29T01:30:00Z"},       // skipped: 02:30 summer time
		{"2026-04-05T01:45", "Australia/Lord_Howe", "2026-04-04T14:45:00Z"}, // a change of half an hour
		{"2011-12-30T12:00", "Pacific/Apia", "2011-12-30T22:00:00Z"},        // a whole day was skipped
		{"2026-06-01T00:00", "UTC", "2026-06-01T00:00:00Z"},
	} {
		got, err := deadline.Resolve(c.local, c.zone)
		require.NoError(t, err, c.local)
		assert.Equal(t, c.want, got.Format(time.RFC3339), "%s in %s", c.local, c.zone)
	}
}

func TestResolveRefusesNonsense(t *testing.T) {
	for _, c := range [][2]string{{"", "UTC"}, {"27 Nov", "UTC"}, {"2026-02-30T00:00", "UTC"}, {"2026-11-27T23:59", "Mars/Olympus"}, {"2026-11-27T23:59", ""}, {"2026-11-27T23:59", "Local"}} {
		_, err := deadline.Resolve(c[0], c[1])
		assert.Error(t, err, "%q in %q", c[0], c[1])
	}
}

func TestResolvedMomentsReadAsTheyWereWritten(t *testing.T) {
	zones := []string{"Europe/Lisbon", "America/New_York", "Asia/Kathmandu", "Australia/Lord_Howe", "America/St_Johns", "UTC"}
	rapid.Check(t, func(t *rapid.T) {
		zone := rapid.SampledFrom(zones).Draw(t, "zone")
		loc, err := time.LoadLocation(zone)
		require.NoError(t, err)
		at := time.Unix(rapid.Int64Range(946684800, 4102444800).Draw(t, "unix")/60*60, 0)
		wall := at.In(loc).Format(deadline.LocalLayout)
		got, err := deadline.Resolve(wall, zone)
		require.NoError(t, err)
		// A moment that exists is read back, or is the first of two that read the same.
		if got.In(loc).Format(deadline.LocalLayout) != wall || got.After(at) {
			t.Fatalf("%s in %s became %s", wall, zone, got)
		}
	})
}

func TestUntilIsADifferenceOfMoments(t *testing.T) {
	// Across Lisbon's change of 25 October 2026 a wall-clock day has 25 hours.
	from, err := deadline.Resolve("2026-10-24T23:59", "Europe/Lisbon")
	require.NoError(t, err)
	to, err := deadline.Resolve("2026-10-25T23:59", "Europe/Lisbon")
	require.NoError(t, err)
	assert.Equal(t, deadline.Left{Days: 1, Hours: 1}, deadline.Until(to, from))
	assert.Equal(t, deadline.Left{Passed: true}, deadline.Until(to, to), "the instant itself is over")
	assert.Equal(t, deadline.Left{Seconds: 1}, deadline.Until(to, to.Add(-1999*time.Millisecond)))
	assert.True(t, deadline.Instance{At: to}.Passed(to))
	assert.False(t, deadline.Instance{At: to}.Passed(to.Add(-time.Nanosecond)))
}

func ExampleUntil() {
	now := time.Date(2026, 11, 23, 12, 33, 0, 0, time.UTC)
	friday, _ := deadline.Resolve("2026-11-27T23:59", "Europe/Lisbon")
	left := deadline.Until(friday, now)
	fmt.Println(deadline.Written(friday, "Europe/Lisbon"), "—", left.Days, "days", left.Hours, "hours", left.Minutes, "minutes")
	// Output: Friday 27 November 2026, 23:59 — 4 days 11 hours 26 minutes
}
