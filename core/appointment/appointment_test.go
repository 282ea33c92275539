package appointment_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/hours"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var mornings = []hours.Span{{Days: []time.Weekday{time.Friday, time.Sunday}, Opens: 9 * 60, Closes: 10*60 + 15}}

func at(text string) time.Time {
	t, err := time.Parse(time.RFC3339, text)
	if err != nil {
		panic(err)
	}
	return t
}

func TestFreeSlotsKeepToTheHoursAndToWhatIsTaken(t *testing.T) {
	// Friday the 27th of November 2026, half past nine in Lisbon.
	taken := []appointment.Slot{{At: at("2026-11-29T09:15:00Z"), Minutes: 20}}
	free, err := appointment.Free(mornings, taken, at("2026-11-27T09:30:00Z"), 6, 30, "Europe/Lisbon")
	require.NoError(t, err)
	var got []string
	for _, s := range free {
		got = append(got, s.At.UTC().Format(time.RFC3339))
	}
	assert.Empty(t, got, "half past nine has begun, ten would end after closing, and both of Sunday overlap what is taken")

	free, err = appointment.Free(mornings, taken, at("2026-11-27T09:29:59Z"), 6, 15, "Europe/Lisbon")
	require.NoError(t, err)
	got = nil
	for _, s := range free {
		got = append(got, s.At.UTC().Format("Mon 15:04"))
	}
	assert.Equal(t, []string{"Fri 09:30", "Fri 09:45", "Fri 10:00", "Sun 09:00", "Sun 09:45", "Sun 10:00"}, got)
}

// Clocks in Lisbon go forward on 28 March 2027 (Directive 2000/84/EC, Art. 2:
// the last Sunday of March, 01:00 UTC): nine on the wall is 08:00 UTC then.
func TestSlotsStandOnTheWallClock(t *testing.T) {
	free, err := appointment.Free(mornings, nil, at("2027-03-25T12:00:00Z"), 4, 75, "Europe/Lisbon")
	require.NoError(t, err)
	require.Len(t, free, 2)
	assert.Equal(t, "2027-03-26T09:00:00Z", free[0].At.UTC().Format(time.RFC3339))
	assert.Equal(t, "2027-03-28T08:00:00Z", free[1].At.UTC().Format(time.RFC3339))
}

func TestWhatCannotBeListedIsRefused(t *testing.T) {
	for _, c := range []struct {
		days, minutes int
		zone          string
	}{{0, 30, "UTC"}, {90, 30, "UTC"}, {7, 1, "UTC"}, {7, 30, "Nowhere/Land"}} {
		_, err := appointment.Free(mornings, nil, at("2026-11-27T09:30:00Z"), c.days, c.minutes, c.zone)
		require.Error(t, err)
	}
}

// The file is read by another library than the one that wrote it.
func TestTheCalendarFileIsSound(t *testing.T) {
	long := strings.Repeat("Bring the kite, its line, and warm gloves; rain, or shine. ", 4) + "\nÀ bientôt 🪁"
	text := appointment.Calendar(appointment.Meeting{
		Slot: appointment.Slot{At: at("2026-11-27T09:30:00Z"), Minutes: 30}, ID: "abc", Title: "Fitting, by phone; at Gustwell", Note: long,
		Where: "4 Sailmakers’ Row, Gustwell", Host: "hello@gustwell.example", With: "Gustwell Kiteworks", Noted: at("2026-11-23T12:00:00Z"),
	})
	for line := range strings.SplitSeq(strings.TrimSuffix(text, "\r\n"), "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "RFC 5545, 3.1: lines have at most 75 octets")
	}
	calendar, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	require.NoError(t, ical.NewEncoder(&strings.Builder{}).Encode(calendar), "the encoder checks which properties RFC 5545 asks for and allows once")
	events := calendar.Events()
	require.Len(t, events, 1)
	start, err := events[0].DateTimeStart(time.UTC)
	require.NoError(t, err)
	end, err := events[0].DateTimeEnd(time.UTC)
	require.NoError(t, err)
	assert.Equal(t, at("2026-11-27T09:30:00Z"), start)
	assert.Equal(t, 30*time.Minute, end.Sub(start))
	for name, want := range map[string]string{"UID": "abc@chrysagon", "SUMMARY": "Fitting, by phone; at Gustwell", "DESCRIPTION": long, "LOCATION": "4 Sailmakers’ Row, Gustwell"} {
		got, err := events[0].Props.Text(name)
		require.NoError(t, err)
		assert.Equal(t, want, got, name)
	}
}
