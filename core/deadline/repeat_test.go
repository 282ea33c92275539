package deadline_test

import (
	"testing"
	"time"

	"chrysagon/core/deadline"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func repeating(start, rule string) deadline.Deadline {
	return deadline.Deadline{Kind: deadline.Repeats, Zone: "Europe/Lisbon", Start: start, Rule: rule}
}

// RFC 5545, 3.3.10: what has no meaning there, and what never comes about.
func TestRulesThatNeverComeAboutAreRefused(t *testing.T) {
	for rule, say := range map[string]string{
		"FREQ=DAILY;UNTIL=20260101T000000Z":       "ends on",
		"FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30":     "none of its months has such a day",
		"FREQ=MINUTELY;BYMONTH=4;BYMONTHDAY=31":   "none of its months has such a day",
		"FREQ=MONTHLY;BYMONTHDAY=-31;BYMONTH=2,4": "none of its months has such a day",
		"FREQ=MONTHLY;BYDAY=FR;BYSETPOS=9":        "does not come about within 60 years",
		"FREQ=DAILY;COUNT=-1":                     "COUNT=-1; it must be a whole number from 1",
		"FREQ=DAILY;COUNT=0":                      "COUNT=0; it must be",
		"FREQ=DAILY;INTERVAL=0":                   "INTERVAL=0; it must be a whole number from 1",
		"FREQ=DAILY;INTERVAL=100000000000":        "INTERVAL=",
		"FREQ=SECONDLY":                           "every second",
	} {
		_, err := repeating("2026-11-27T10:00", rule).For(deadline.Visitor{}, time.Date(2026, 11, 23, 0, 0, 0, 0, time.UTC))
		assert.ErrorContains(t, err, say, rule)
	}
	for _, rule := range []string{"FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29", "FREQ=MONTHLY;BYMONTHDAY=31", "FREQ=DAILY;UNTIL=20261127", "FREQ=YEARLY;BYDAY=53MO", "FREQ=DAILY;COUNT=1"} {
		d := repeating("2026-11-27T00:00", rule)
		if rule == "FREQ=YEARLY;BYDAY=53MO" {
			d.Rule = "FREQ=YEARLY;BYWEEKNO=53;BYDAY=MO"
		}
		assert.NoError(t, d.Validate(), rule)
	}
}

// Without a length it runs since the last one, and before the first only since
// the rule starts.
func TestARepeatingDeadlineDoesNotRunSinceEver(t *testing.T) {
	d := repeating("2026-11-25T10:00", "FREQ=WEEKLY;BYDAY=FR") // starts on a Wednesday
	long := time.Date(2020, 1, 1, 0, 0, 0, 0, time.UTC)
	i, err := d.For(deadline.Visitor{}, long)
	require.NoError(t, err)
	assert.Equal(t, "2026-11-27T10:00:00Z", i.At.Format(time.RFC3339))
	assert.Equal(t, "2026-11-25T10:00:00Z", i.Opens.Format(time.RFC3339))
	assert.False(t, i.Runs(long))
	i, err = d.For(deadline.Visitor{}, time.Date(2026, 12, 1, 0, 0, 0, 0, time.UTC))
	require.NoError(t, err)
	assert.Equal(t, "2026-11-27T10:00:00Z", i.Opens.Format(time.RFC3339), "since the last one")
}

// ISO 8601-1: 24:00 is the end of the day; and what RFC 3339 cannot write.
func TestTheEdgesOfTheClock(t *testing.T) {
	at, err := deadline.Resolve("2026-11-27T24:00", "Europe/Lisbon")
	require.NoError(t, err)
	assert.Equal(t, "2026-11-28T00:00:00Z", at.Format(time.RFC3339))
	at, err = deadline.Resolve("2026-12-31T24:00:00", "UTC")
	require.NoError(t, err)
	assert.Equal(t, "2027-01-01T00:00:00Z", at.Format(time.RFC3339))
	for _, bad := range []string{"2026-11-27T24:01", "2026-02-30T24:00", "2026-11-27T25:00"} {
		_, err := deadline.Resolve(bad, "UTC")
		assert.ErrorContains(t, err, "not a date and time")
	}
	_, err = deadline.Resolve("9999-12-31T23:00", "Pacific/Honolulu")
	assert.ErrorContains(t, err, "outside the years 1 to 9999")
	_, err = deadline.Resolve("9999-12-31T23:00", "Pacific/Auckland")
	assert.NoError(t, err)
}
