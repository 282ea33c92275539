package season_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/core/season"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestCalendarsComeBackIn(t *testing.T) {
	stamp := time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)
	in := []season.Entry{
		{ID: "frost", Name: "Frost Lanterns; 25% off, for all", From: "2026-11-17", To: "2026-11-26"},
		{ID: "friday", Name: "Lantern Friday", At: time.Date(2026, 11, 27, 23, 59, 0, 0, time.UTC)},
	}
	text := season.WriteCalendar("Gustwell Kiteworks", in, stamp)
	// RFC 5545: 3.1 lines end with CRLF and have at most 75 octets; 3.6.1 DTEND of
	// whole days is the day after; 3.3.11 semicolons and commas are escaped.
	for line := range strings.SplitSeq(strings.TrimSuffix(text, "\r\n"), "\r\n") {
		assert.LessOrEqual(t, len(line), 75)
		assert.NotContains(t, line, "\n")
	}
	assert.Contains(t, text, "DTSTART;VALUE=DATE:20261117\r\n")
	assert.Contains(t, text, "DTEND;VALUE=DATE:20261127\r\n")
	assert.Contains(t, text, "DTSTART:20261127T235900Z\r\n")
	assert.Contains(t, text, `Frost Lanterns\; 25% off\, for all`)
	assert.Contains(t, text, "DTSTAMP:20261123T120000Z\r\n")
	out, err := season.ReadCalendar([]byte(text), "Europe/Lisbon")
	require.NoError(t, err)
	require.Len(t, out, 2)
	assert.Equal(t, in[0].Name, out[0].Name)
	assert.Equal(t, []string{"2026-11-17", "2026-11-26"}, []string{out[0].From, out[0].To})
	assert.True(t, in[1].At.Equal(out[1].At))
}

// The three forms of RFC 5545, 3.3.5, with its own example zone.
func TestTheFormsOfADateAndTime(t *testing.T) {
	calendar := func(lines ...string) []byte {
		return []byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\nBEGIN:VEVENT\r\nUID:a\r\nSUMMARY:x\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n")
	}
	for line, want := range map[string]string{
		"DTSTART:19980119T070000Z":                      "1998-01-19T07:00:00Z",
		"DTSTART;TZID=America/New_York:19980119T020000": "1998-01-19T07:00:00Z",
		"DTSTART:19980118T230000":                       "1998-01-18T23:00:00Z", // floating: in the store's zone
	} {
		out, err := season.ReadCalendar(calendar(line), "Europe/Lisbon")
		require.NoError(t, err)
		assert.Equal(t, want, out[0].At.Format(time.RFC3339), line)
	}
	for want, lines := range map[string][]string{
		"has no start": {"DTEND:20261127"}, "does not come after": {"DTSTART;VALUE=DATE:20261127", "DTEND;VALUE=DATE:20261127"},
		"not known by its IANA name": {"DTSTART;TZID=Moon Base:19980119T020000"}, "is not a date": {"DTSTART:2026112x"},
	} {
		_, err := season.ReadCalendar(calendar(lines...), "UTC")
		assert.ErrorContains(t, err, want)
	}
	_, err := season.ReadCalendar([]byte("hello"), "UTC")
	assert.ErrorContains(t, err, "not an iCalendar file")
}
