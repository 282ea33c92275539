package hours_test

import (
	"testing"
	"time"

	"chrysagon/core/hours"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var workshop = []hours.Span{
	{Days: hours.Days["weekdays"], Opens: 10 * 60, Closes: 13 * 60},
	{Days: hours.Days["weekdays"], Opens: 15 * 60, Closes: 19 * 60},
	{Days: hours.Days["saturday"], Opens: 22 * 60, Closes: 2 * 60}, // a night flight, past midnight
}

func at(t require.TestingT, wall, zone string) time.Time {
	loc, err := time.LoadLocation(zone)
	require.NoError(t, err)
	moment, err := time.ParseInLocation("2006-01-02 15:04", wall, loc)
	require.NoError(t, err)
	return moment
}

// Wall times worked out by hand; 2026-11-23 is a Monday.
func TestOpenNow(t *testing.T) {
	for wall, want := range map[string]struct {
		open    bool
		changes string
	}{
		"2026-11-23 09:59": {false, "2026-11-23 10:00"},
		"2026-11-23 10:00": {true, "2026-11-23 13:00"},
		"2026-11-23 13:00": {false, "2026-11-23 15:00"},
		"2026-11-27 19:00": {false, "2026-11-28 22:00"},
		"2026-11-29 01:59": {true, "2026-11-29 02:00"},
		"2026-11-29 02:00": {false, "2026-11-30 10:00"},
	} {
		n, err := hours.At(workshop, at(t, wall, "Europe/Lisbon"), "Europe/Lisbon")
		require.NoError(t, err)
		assert.Equal(t, want.open, n.Open, wall)
		assert.Equal(t, want.changes, n.Changes.In(at(t, wall, "Europe/Lisbon").Location()).Format("2006-01-02 15:04"), wall)
	}
}

// On the day summer time begins the shop opens at ten by the wall, an hour
// sooner by the sun (IANA time zone database: Europe/Lisbon, 2026-03-29 01:00).
func TestClockChangesMoveNoDoor(t *testing.T) {
	daily := []hours.Span{{Days: hours.Days["daily"], Opens: 10 * 60, Closes: 11 * 60}}
	n, err := hours.At(daily, at(t, "2026-03-28 11:00", "Europe/Lisbon"), "Europe/Lisbon")
	require.NoError(t, err)
	assert.Equal(t, 22*time.Hour, n.Changes.Sub(at(t, "2026-03-28 11:00", "Europe/Lisbon")))
	assert.Equal(t, "2026-03-29 09:00", n.Changes.UTC().Format("2006-01-02 15:04"))
}

func TestNoHoursAreNeverOpen(t *testing.T) {
	n, err := hours.At(nil, time.Unix(0, 0), "UTC")
	require.NoError(t, err)
	assert.Equal(t, hours.Now{}, n)
	_, err = hours.At(nil, time.Unix(0, 0), "Atlantis/Centre")
	require.Error(t, err)
}

func TestClocksAreRead(t *testing.T) {
	for text, want := range map[string]int{"9": 540, "09:30": 570, "9.30": 570, "18h": 1080, "24:00": 1440, "0:05": 5} {
		got, err := hours.Clock(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "25:00", "nine", "9:75", "-1"} {
		_, err := hours.Clock(text)
		require.Error(t, err, text)
	}
}

// Nothing changes before it is said to, and then something does.
func TestNothingChangesBeforeItIsSaidTo(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		zone := rapid.SampledFrom([]string{"Europe/Lisbon", "America/New_York", "Australia/Lord_Howe", "UTC"}).Draw(t, "zone")
		moment := time.Unix(rapid.Int64Range(1_760_000_000, 1_830_000_000).Draw(t, "moment"), 0)
		now, err := hours.At(workshop, moment, zone)
		require.NoError(t, err)
		before, err := hours.At(workshop, now.Changes.Add(-time.Second), zone)
		require.NoError(t, err)
		assert.Equal(t, now.Open, before.Open)
		after, err := hours.At(workshop, now.Changes, zone)
		require.NoError(t, err)
		assert.NotEqual(t, now.Open, after.Open)
	})
}
