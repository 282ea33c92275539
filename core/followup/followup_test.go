package followup_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"chrysagon/core/followup"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func lisbon(t require.TestingT) *time.Location {
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	return zone
}

// ofs is of what each happening is, in drawn histories.
var ofs = map[followup.Happening]string{
	followup.Joined: "guide", followup.Left: "guide", followup.Bought: "ember", followup.Clicked: "a", followup.Wrote: "news", followup.Submitted: "seven-knots",
	followup.Declined: "quiver-bag", followup.Unfinished: "night-flight", followup.Booked: "workshop", followup.Nears: "friday", followup.Meets: "workshop",
}

// begin draws what begins a line: most often joining.
func begin(t *rapid.T) followup.Begin {
	what := rapid.SampledFrom([]followup.Happening{
		followup.Joined, followup.Joined, followup.Joined, followup.Submitted, followup.Bought, followup.Declined, followup.Unfinished, followup.Clicked, followup.Booked, followup.Nears, followup.Meets,
	}).Draw(t, "begins")
	return followup.Begin{What: what, Of: ofs[what]}
}

// only draws to whom alone a letter is sent.
func only(t *rapid.T) followup.Only {
	o := followup.Only{Not: rapid.Bool().Draw(t, "not"), Did: rapid.SampledFrom(followup.Forks).Draw(t, "did")}
	if rapid.Bool().Draw(t, "of one") {
		o.Of = ofs[o.Did]
	}
	return o
}

func drawLine(t *rapid.T) followup.Followup {
	clock := rapid.Custom(func(t *rapid.T) *followup.Clock {
		return &followup.Clock{Hour: rapid.IntRange(0, 23).Draw(t, "hour"), Minute: rapid.IntRange(0, 59).Draw(t, "minute")}
	})
	f := followup.Followup{Begins: begin(t), List: "guide", Stays: rapid.Bool().Draw(t, "stays"), ADay: rapid.IntRange(0, 2).Draw(t, "a day"), Lapses: rapid.Bool().Draw(t, "lapses")}
	for i := range rapid.IntRange(1, 5).Draw(t, "steps") {
		s := followup.Step{Letter: string(rune('a' + i)), Days: rapid.IntRange(0, 3).Draw(t, "days"), Minutes: rapid.IntRange(0, 300).Draw(t, "minutes")}
		if rapid.Bool().Draw(t, "at a clock time") {
			s.Clock = clock.Draw(t, "clock")
		}
		if rapid.Bool().Draw(t, "only to some") {
			s.Only = only(t)
		}
		f.Steps = append(f.Steps, s)
	}
	if rapid.Bool().Draw(t, "hours") {
		f.Hours.From, f.Hours.To = &followup.Clock{Hour: rapid.IntRange(0, 11).Draw(t, "from")}, &followup.Clock{Hour: rapid.IntRange(12, 23).Draw(t, "to")}
	}
	if rapid.Bool().Draw(t, "week days") {
		f.Hours.Days = rapid.SliceOfNDistinct(rapid.SampledFrom([]time.Weekday{0, 1, 2, 3, 4, 5, 6}), 1, 7, rapid.ID).Draw(t, "days")
	}
	return f
}

// drawHistory draws what happened around the days on which clocks change in Lisbon, on
// 28 March and 25 October 2027.
func drawHistory(t *rapid.T) []followup.Event {
	from := rapid.SampledFrom([]time.Time{time.Date(2027, 3, 26, 0, 0, 0, 0, time.UTC), time.Date(2027, 10, 29, 0, 0, 0, 0, time.UTC)}).Draw(t, "from")
	moment := rapid.Custom(func(t *rapid.T) time.Time {
		return from.Add(time.Duration(rapid.IntRange(0, 9*24*60).Draw(t, "minutes in")) * time.Minute)
	})
	return rapid.SliceOfN(rapid.Custom(func(t *rapid.T) followup.Event {
		what := rapid.SampledFrom([]followup.Happening{
			followup.Joined, followup.Joined, followup.Left, followup.Bought, followup.Clicked, followup.Wrote, followup.Submitted, followup.Declined, followup.Unfinished, followup.Booked, followup.Nears, followup.Meets,
		}).Draw(t, "what")
		return followup.Event{What: what, Of: ofs[what], At: moment.Draw(t, "at")}
	}), 0, 7).Draw(t, "history")
}

// What somebody gets does not hang on the order in which events became known, nor on an
// event that comes twice.
func TestTheOrderOfArrivalDoesNotMatter(t *testing.T) {
	zone := lisbon(t)
	rapid.Check(t, func(t *rapid.T) {
		f, history := drawLine(t), drawHistory(t)
		told := f.Tell(history, zone)
		assert.Equal(t, told, f.Tell(rapid.Permutation(history).Draw(t, "arrived"), zone))
		for _, e := range history {
			if e.What != followup.Wrote { // each letter counts
				assert.Equal(t, told, f.Tell(append(history, e), zone))
			}
		}
	})
}

// Nobody gets a letter twice, none after the end, none outside of the hours, none after
// the deadline, and none before the one before it; on no day more than they may.
func TestNothingComesThatMayNot(t *testing.T) {
	zone := lisbon(t)
	rapid.Check(t, func(t *rapid.T) {
		f, history := drawLine(t), drawHistory(t)
		if rapid.Bool().Draw(t, "deadline") {
			f.Until = time.Date(2027, 3, 29, 22, 59, 0, 0, time.UTC)
		}
		require.Empty(t, f.Faults())
		told := f.Tell(history, zone)
		var began time.Time
		for _, e := range history {
			if e.What == f.Begins.What && (began.IsZero() || e.At.Before(began)) {
				began = e.At
			}
		}
		if began.IsZero() {
			assert.Empty(t, told)
			return
		}
		require.Len(t, told, len(f.Steps), "one word of each letter")
		last, days := began, map[string]int{}
		for i, one := range told {
			assert.Equal(t, i, one.Step)
			assert.False(t, one.At.Before(last), "step %d goes back in time", i)
			last = one.At
			if one.Outcome != followup.Sent {
				assert.NotEmpty(t, one.Why)
				continue
			}
			local := one.At.In(zone)
			days[local.Format(time.DateOnly)]++
			if len(f.Hours.Days) > 0 {
				assert.Contains(t, f.Hours.Days, local.Weekday())
			}
			if f.Hours.From != nil {
				minute := local.Hour()*60 + local.Minute()
				assert.GreaterOrEqual(t, minute, f.Hours.From.Hour*60)
				assert.Less(t, minute, f.Hours.To.Hour*60)
			}
			if !f.Until.IsZero() {
				assert.False(t, one.At.After(f.Until))
			}
			for _, e := range history {
				if !e.At.Before(began) && !e.At.After(one.At) {
					if !f.Stays && (f.Begins.What != followup.Bought || e.At.After(began)) {
						assert.NotEqual(t, followup.Bought, e.What, "bought before")
					}
					assert.NotEqual(t, followup.Left, e.What, "left before")
				}
			}
		}
		for _, e := range history {
			if e.What == followup.Wrote {
				days[e.At.In(zone).Format(time.DateOnly)] += 0
			}
		}
		if f.ADay > 0 {
			for d, n := range days {
				assert.LessOrEqual(t, n, f.ADay, d)
			}
		}
	})
}

func TestClockTimesKeepToTheClock(t *testing.T) {
	zone := lisbon(t)
	f := followup.Followup{
		Begins: followup.Begin{What: followup.Joined},
		Steps:  []followup.Step{{Letter: "a"}, {Letter: "b", Days: 1, Clock: &followup.Clock{Hour: 10}}, {Letter: "c", Days: 1, Clock: &followup.Clock{Hour: 1, Minute: 30}}},
	}
	// Clocks go forward in Lisbon on Sunday, 28 March 2027, at 1:00 (IANA tz database).
	began := time.Date(2027, 3, 26, 22, 0, 0, 0, zone)
	told := f.Tell([]followup.Event{{What: followup.Joined, At: began}}, zone)
	assert.Equal(t, "Sat 27 Mar 10:00 WET", told[1].At.Format("Mon 2 Jan 15:04 MST"))
	assert.Equal(t, 28, told[2].At.Day(), "half past one does not exist that night; it comes close to it")
	f.Hours = followup.Hours{From: &followup.Clock{Hour: 8}, To: &followup.Clock{Hour: 20}, Days: []time.Weekday{time.Monday, time.Tuesday}}
	told = f.Tell([]followup.Event{{What: followup.Joined, At: began}}, zone)
	assert.Equal(t, "Mon 29 Mar 08:00 WEST", told[0].At.Format("Mon 2 Jan 15:04 MST"))
	assert.Equal(t, "Tue 30 Mar 10:00 WEST", told[1].At.Format("Mon 2 Jan 15:04 MST"))
	assert.Equal(t, "Mon 5 Apr 08:00 WEST", told[2].At.Format("Mon 2 Jan 15:04 MST"), "Wednesday is no day, nor is one thirty an hour")
}

func TestOneADayWaitsOrLapses(t *testing.T) {
	at := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	history := []followup.Event{{What: followup.Joined, At: at}, {What: followup.Wrote, Of: "news", At: at.Add(-time.Hour)}}
	f := followup.Followup{Begins: followup.Begin{What: followup.Joined}, Steps: []followup.Step{{Letter: "a"}, {Letter: "b"}}, ADay: 1}
	told := f.Tell(history, time.UTC)
	assert.Equal(t, at.AddDate(0, 0, 1), told[0].At)
	assert.Equal(t, at.AddDate(0, 0, 2), told[1].At)
	assert.Contains(t, told[0].Why, "fewer letters")
	f.Lapses = true
	assert.Equal(t, followup.Lapsed, f.Tell(history, time.UTC)[0].Outcome)
	f.Lapses, f.Until = false, at.Add(time.Hour)
	assert.Equal(t, followup.TooLate, f.Tell(history, time.UTC)[0].Outcome, "what waits past the deadline does not come")
}

func TestLinesAreMendedBeforeTheyAreKept(t *testing.T) {
	good := followup.Followup{Begins: followup.Begin{What: followup.Joined}, Steps: []followup.Step{{Letter: "a"}}}
	assert.Empty(t, good.Faults())
	for _, broken := range []followup.Followup{
		{Steps: good.Steps},
		{Begins: good.Begins, Steps: []followup.Step{{}}},
		{Begins: good.Begins, Steps: []followup.Step{{Letter: "a", Days: -1}}},
		{Begins: good.Begins, Steps: []followup.Step{{Letter: "a", Clock: &followup.Clock{Hour: 25}}}},
		{Begins: good.Begins, Steps: []followup.Step{{Letter: "a", Only: followup.Only{Did: "friends"}}}},
		{Begins: good.Begins, Steps: make([]followup.Step, followup.MostSteps+1)},
		{Begins: good.Begins, ADay: 21},
		{Begins: followup.Begin{What: followup.Left}, Steps: good.Steps},
		{Begins: followup.Begin{What: followup.Nears}, Steps: good.Steps},
		{Begins: followup.Begin{What: followup.Nears, Of: "friday", Days: 401}, Steps: good.Steps},
		{Begins: followup.Begin{What: followup.Bought, Days: 2}, Steps: good.Steps},
		{Begins: good.Begins, Hours: followup.Hours{From: &followup.Clock{Hour: 20}, To: &followup.Clock{Hour: 8}}},
		{Begins: good.Begins, Hours: followup.Hours{From: &followup.Clock{Hour: 30}}},
		{Begins: good.Begins, Hours: followup.Hours{Days: []time.Weekday{8}}},
	} {
		assert.NotEmpty(t, broken.Faults())
	}
	c, ok := followup.ParseClock("9:05")
	assert.True(t, ok)
	assert.Equal(t, "9:05", c.String())
	_, ok = followup.ParseClock("nine")
	assert.False(t, ok)
	c, ok = followup.ParseClock("")
	assert.True(t, ok)
	assert.Nil(t, c)
}

// What begins a line by being bought does not end it; the next purchase does, unless none is
// to. Leaving another list ends nothing.
func TestWhatBeganItDoesNotEndIt(t *testing.T) {
	at := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	f := followup.Followup{Begins: followup.Begin{What: followup.Bought, Of: "ember"}, List: "guide", Steps: []followup.Step{{Letter: "thanks"}, {Letter: "care", Days: 7}}}
	history := []followup.Event{{What: followup.Bought, Of: "ember", At: at}, {What: followup.Bought, Of: "bag", At: at}}
	outcomes := func() (out []followup.Outcome) {
		for _, t := range f.Tell(history, time.UTC) {
			out = append(out, t.Outcome)
		}
		return out
	}
	assert.Equal(t, []followup.Outcome{followup.Sent, followup.Sent}, outcomes())
	history = append(history, followup.Event{What: followup.Left, Of: "coast", At: at.AddDate(0, 0, 1)})
	assert.Equal(t, []followup.Outcome{followup.Sent, followup.Sent}, outcomes())
	history = append(history, followup.Event{What: followup.Bought, Of: "bag", At: at.AddDate(0, 0, 2)})
	assert.Equal(t, []followup.Outcome{followup.Sent, followup.Ended}, outcomes())
	f.Bought = "sky"
	assert.Equal(t, []followup.Outcome{followup.Sent, followup.Sent}, outcomes(), "another product ends it")
	f.Bought, f.Stays = "", true
	assert.Equal(t, []followup.Outcome{followup.Sent, followup.Sent}, outcomes())
	f.Stays = false
	f.Begins = followup.Begin{What: followup.Unfinished, Of: "night-flight"}
	history = []followup.Event{{What: followup.Unfinished, Of: "night-flight", At: at}, {What: followup.Bought, Of: "ember", At: at}}
	assert.Equal(t, []followup.Outcome{followup.Ended, followup.Ended}, outcomes(), "they finished it")
}

// Days before a deadline are days of the calendar: across the night on which clocks change
// too, the time of the day stays.
func TestDaysBeforeKeepTheClock(t *testing.T) {
	zone := lisbon(t)
	ends := time.Date(2027, 3, 29, 23, 59, 0, 0, zone)
	assert.Equal(t, "Fri 26 Mar 23:59 WET", followup.Begin{What: followup.Nears, Days: 3}.Before(ends, zone).Format("Mon 2 Jan 15:04 MST"))
	assert.True(t, followup.Begin{What: followup.Meets}.Ahead())
	assert.False(t, followup.Begin{What: followup.Joined}.Ahead())
}

// A letter for who did something and the same for who did not go to one of the two, each
// with every happening, of one thing and of any, before the beginning and after it.
func TestAForkSendsOneOfTwo(t *testing.T) {
	zone := lisbon(t)
	rapid.Check(t, func(t *rapid.T) {
		f := followup.Followup{Begins: begin(t), List: "guide", Stays: true}
		o := only(t)
		f.Steps = []followup.Step{{Letter: "a", Minutes: 60}, {Letter: "b", Days: 2, Only: o}, {Letter: "c", Only: followup.Only{Not: !o.Not, Did: o.Did, Of: o.Of}}}
		history := drawHistory(t)
		told := f.Tell(history, zone)
		if len(told) == 0 || told[1].Outcome == followup.Ended {
			return
		}
		done := false
		for _, e := range history {
			of := e.Of == o.Of || (o.Of == "" && (o.Did != followup.Clicked || e.Of == "a"))
			done = done || (e.What == o.Did && of && !e.At.After(told[1].At))
		}
		want := followup.Sent
		if done == o.Not {
			want = followup.Skipped
			assert.NotEmpty(t, told[1].Why)
		}
		assert.Equal(t, want, told[1].Outcome, "%+v", o)
		assert.NotEqual(t, told[1].Outcome, told[2].Outcome)
	})
}

// To whom a letter is sent is one word in JSON, as it was when clicks alone were asked for.
func TestToWhomIsOneWord(t *testing.T) {
	for text, o := range map[string]followup.Only{
		"clicked": {Did: followup.Clicked}, "not_clicked": {Not: true, Did: followup.Clicked}, "not_bought:ember": {Not: true, Did: followup.Bought, Of: "ember"}, "": {},
	} {
		var read followup.Step
		require.NoError(t, json.Unmarshal([]byte(`{"only": "`+text+`"}`), &read))
		assert.Equal(t, o, read.Only)
		assert.Equal(t, text, read.Only.String())
		written, err := json.Marshal(read)
		require.NoError(t, err)
		assert.Equal(t, text != "", strings.Contains(string(written), `"only":"`+text+`"`), "everybody is no word")
	}
	wrong := followup.Followup{Begins: followup.Begin{What: followup.Joined}, Steps: []followup.Step{{Letter: "a", Only: followup.Only{Did: followup.Wrote}}}}
	assert.Equal(t, []string{"Step 1: choose to whom it is sent."}, wrong.Faults())
}
