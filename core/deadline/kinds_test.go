package deadline_test

import (
	"testing"
	"time"

	"chrysagon/core/deadline"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func at(text string) time.Time {
	t, err := time.Parse(time.RFC3339, text)
	if err != nil {
		panic(err)
	}
	return t
}

// Examples of RFC 5545, section 3.8.5.3, in its zone America/New_York.
func TestRepeatingExamplesOfRFC5545(t *testing.T) {
	const zone = "America/New_York"
	for rule, want := range map[string][]string{
		"FREQ=DAILY;COUNT=10": {"1997-09-02T09:00:00-04:00", "1997-09-03T09:00:00-04:00"},
		// Every other week on Monday, Wednesday and Friday until 24 December 1997.
		"FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR": {"1997-09-03T09:00:00-04:00", "1997-09-05T09:00:00-04:00", "1997-09-15T09:00:00-04:00"},
		// Monthly on the first Friday for 10 occurrences, across the clock change of 26 October.
		"FREQ=MONTHLY;COUNT=10;BYDAY=1FR": {"1997-09-05T09:00:00-04:00", "1997-10-03T09:00:00-04:00", "1997-11-07T09:00:00-05:00"},
		// Monthly on the third-to-the-last day of the month, forever.
		"FREQ=MONTHLY;BYMONTHDAY=-3": {"1997-09-28T09:00:00-04:00", "1997-10-29T09:00:00-05:00", "1997-11-28T09:00:00-05:00"},
		// Every Friday the 13th, forever.
		"FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13": {"1998-02-13T09:00:00-05:00", "1998-03-13T09:00:00-05:00", "1998-11-13T09:00:00-05:00"},
		// U.S. Presidential Election day.
		"FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8": {"2000-11-07T09:00:00-05:00", "2004-11-02T09:00:00-05:00"},
		// The second-to-last weekday of the month.
		"FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2": {"1997-09-29T09:00:00-04:00", "1997-10-30T09:00:00-05:00"},
		// Every 90 minutes for 4 occurrences.
		"FREQ=MINUTELY;INTERVAL=90;COUNT=4": {"1997-09-02T09:00:00-04:00", "1997-09-02T10:30:00-04:00", "1997-09-02T12:00:00-04:00", "1997-09-02T13:30:00-04:00"},
	} {
		d := deadline.Deadline{Kind: deadline.Repeats, Zone: zone, Start: "1997-09-02T09:00", Rule: rule}
		if rule == "FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8" {
			d.Start = "1996-11-05T09:00"
			want = append([]string{"1996-11-05T09:00:00-05:00"}, want...)
		}
		got, err := d.Occurrences(len(want))
		require.NoError(t, err, rule)
		require.Len(t, got, len(want), rule)
		for i := range want {
			assert.True(t, at(want[i]).Equal(got[i]), "%s: %s, not %s", rule, got[i], want[i])
		}
	}
	// “UNTIL” is in UTC: 24 December, 00:00 UTC is the 23rd in New York, so the
	// last is Monday 22 December.
	d := deadline.Deadline{Kind: deadline.Repeats, Zone: zone, Start: "1997-09-02T09:00", Rule: "FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR"}
	all, err := d.Occurrences(1000)
	require.NoError(t, err)
	assert.True(t, at("1997-12-22T09:00:00-05:00").Equal(all[len(all)-1]))
}

func TestARepeatingDeadlineRunsBeforeItsOccurrence(t *testing.T) {
	// Fridays at 18:00, from two days before. Lisbon.
	d := deadline.Deadline{ID: "friday", Kind: deadline.Repeats, Zone: "Europe/Lisbon", Start: "2026-11-06T18:00", Rule: "FREQ=WEEKLY;BYDAY=FR;COUNT=4", Runs: 48 * time.Hour}
	for moment, want := range map[string]struct {
		at   string
		runs bool
	}{
		"2026-11-25T17:59:59Z": {"2026-11-27T18:00:00Z", false},
		"2026-11-25T18:00:00Z": {"2026-11-27T18:00:00Z", true},
		"2026-11-27T17:59:59Z": {"2026-11-27T18:00:00Z", true},
		"2026-11-27T18:00:00Z": {"2026-11-27T18:00:00Z", false}, // the last one: over for good
		"2026-11-20T18:00:00Z": {"2026-11-27T18:00:00Z", false},
	} {
		i, err := d.For(deadline.Visitor{}, at(moment))
		require.NoError(t, err)
		assert.True(t, at(want.at).Equal(i.At), "%s: %s", moment, i.At)
		assert.Equal(t, want.runs, i.Runs(at(moment)), moment)
	}
}

// A local time that the change of clocks skips, or has twice: RFC 5545, 3.3.5,
// through 3.3.10. Lisbon, 28 March and 31 October 2027.
func TestRepeatingAcrossClockChanges(t *testing.T) {
	d := deadline.Deadline{Kind: deadline.Repeats, Zone: "Europe/Lisbon", Start: "2027-03-27T01:30", Rule: "FREQ=DAILY;COUNT=3"}
	got, err := d.Occurrences(3)
	require.NoError(t, err)
	assert.Equal(t, "2027-03-27T01:30:00Z 2027-03-28T01:30:00Z 2027-03-29T00:30:00Z", join(got), "skipped: forward by the gap, to 02:30 summer time")
	d.Start = "2027-10-30T01:30"
	got, err = d.Occurrences(3)
	require.NoError(t, err)
	assert.Equal(t, "2027-10-30T00:30:00Z 2027-10-31T00:30:00Z 2027-11-01T01:30:00Z", join(got), "twice: the first")
}

func join(list []time.Time) string {
	text := ""
	for i, t := range list {
		if i > 0 {
			text += " "
		}
		text += t.UTC().Format("2006-01-02T15:04:05Z")
	}
	return text
}

func TestMidnightInTheVisitorsZone(t *testing.T) {
	d := deadline.Deadline{Kind: deadline.Midnight, Zone: "Europe/Lisbon", Day: "2026-11-27"}
	for zone, want := range map[string]string{
		"":                 "2026-11-28T00:00:00Z", // not known: the store's
		"Europe/Lisbon":    "2026-11-28T00:00:00Z",
		"America/New_York": "2026-11-28T05:00:00Z",
		"Asia/Tokyo":       "2026-11-27T15:00:00Z",
		"Asia/Kathmandu":   "2026-11-27T18:15:00Z", // +05:45
	} {
		i, err := d.For(deadline.Visitor{Zone: zone}, at("2026-11-20T12:00:00Z"))
		require.NoError(t, err)
		assert.Equal(t, want, i.At.Format("2006-01-02T15:04:05Z"), zone)
		assert.True(t, i.Personal)
	}
	// Beirut skips midnight of 28 March 2027 (clocks go from 00:00 to 01:00): the
	// day ends as the next begins.
	d.Day = "2027-03-27"
	i, err := d.For(deadline.Visitor{Zone: "Asia/Beirut"}, at("2027-03-20T12:00:00Z"))
	require.NoError(t, err)
	assert.Equal(t, "2027-03-27T22:00:00Z", i.At.Format("2006-01-02T15:04:05Z"))
	d.Day = "" // every day
	i, err = d.For(deadline.Visitor{Zone: "Asia/Tokyo"}, at("2026-11-20T16:00:00Z"))
	require.NoError(t, err)
	assert.Equal(t, "2026-11-21T15:00:00Z", i.At.Format("2006-01-02T15:04:05Z"), "already the 21st there")
}

// A span counts from the first sight and never starts again.
func TestASpanDoesNotStartAgain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		first := at("2026-11-20T12:00:00Z")
		span := time.Duration(rapid.IntRange(1, 72*60).Draw(t, "minutes")) * time.Minute
		d := deadline.Deadline{Kind: deadline.Span, Zone: "UTC", Span: span}
		later := first.Add(time.Duration(rapid.Int64Range(0, int64(200*time.Hour)).Draw(t, "later")))
		i, err := d.For(deadline.Visitor{FirstSeen: first}, later)
		require.NoError(t, err)
		require.True(t, i.At.Equal(first.Add(span)))
		require.Equal(t, later.Sub(first) >= span, i.Passed(later))
	})
}

func TestBadDeadlinesAreRefused(t *testing.T) {
	for want, d := range map[string]deadline.Deadline{
		"at: missing":                         {Zone: "UTC"},
		"zone":                                {Zone: "Mars/Olympus"},
		"kind":                                {Zone: "UTC", Kind: "someday"},
		"day":                                 {Zone: "UTC", Kind: deadline.Midnight, Day: "Friday"},
		"span":                                {Zone: "UTC", Kind: deadline.Span},
		"start":                               {Zone: "UTC", Kind: deadline.Repeats, Rule: "FREQ=DAILY"},
		"rule: \"FREQ=SOMETIMES\"":            {Zone: "UTC", Kind: deadline.Repeats, Start: "2026-01-01T00:00", Rule: "FREQ=SOMETIMES"},
		"cannot repeat every second":          {Zone: "UTC", Kind: deadline.Repeats, Start: "2026-01-01T00:00", Rule: "FREQ=SECONDLY"},
		"rule: \"FREQ=DAILY\\nDTSTART:1997\"": {Zone: "UTC", Kind: deadline.Repeats, Start: "2026-01-01T00:00", Rule: "FREQ=DAILY\nDTSTART:1997"},
		"grace":                               {Zone: "UTC", At: at("2026-11-27T00:00:00Z"), Grace: 48 * time.Hour},
	} {
		assert.ErrorContains(t, d.Validate(), want)
	}
	often := deadline.Deadline{Zone: "UTC", Kind: deadline.Repeats, Start: "1970-01-01T00:00", Rule: "FREQ=MINUTELY"}
	_, err := often.For(deadline.Visitor{}, at("2026-11-27T00:00:00Z"))
	assert.ErrorContains(t, err, "too often")
}
