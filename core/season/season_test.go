package season_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/core/season"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Easter Sundays of the Gregorian calendar: the table of the United States
// Naval Observatory, and the earliest and latest dates possible (22 March 1818
// lies outside; 25 April 1943 and 2038). Values from memory.
func TestEaster(t *testing.T) {
	for year, want := range map[int]string{
		1943: "1943-04-25", 1961: "1961-04-02", 2000: "2000-04-23", 2008: "2008-03-23", 2015: "2015-04-05", 2016: "2016-03-27",
		2019: "2019-04-21", 2020: "2020-04-12", 2021: "2021-04-04", 2022: "2022-04-17", 2023: "2023-04-09", 2024: "2024-03-31",
		2025: "2025-04-20", 2026: "2026-04-05", 2027: "2027-03-28", 2028: "2028-04-16", 2029: "2029-04-01", 2030: "2030-04-21", 2038: "2038-04-25",
	} {
		assert.Equal(t, want, season.Easter(year).Format(time.DateOnly))
	}
}

// butcher is the anonymous Gregorian algorithm (Meeus, Astronomical Algorithms,
// ch. 8), independent of the library.
func butcher(y int) time.Time {
	a, b, c := y%19, y/100, y%100
	d, e := b/4, b%4
	f := (b + 8) / 25
	g := (b - f + 1) / 3
	h := (19*a + b - d - g + 15) % 30
	i, k := c/4, c%4
	l := (32 + 2*e + 2*i - h - k) % 7
	m := (a + 11*h + 22*l) / 451
	n := h + l - 7*m + 114
	return time.Date(y, time.Month(n/31), n%31+1, 0, 0, 0, 0, time.UTC)
}

func TestEasterAgreesWithTheAlgorithmOfMeeus(t *testing.T) {
	for y := season.FirstYear; y <= season.LastYear; y++ {
		require.Equal(t, butcher(y), season.Easter(y))
	}
}

// Movable days, checked against calendars of those years (common practice).
func TestMovableDays(t *testing.T) {
	for _, c := range []struct {
		day, country string
		year         int
		want         string
	}{
		{"thanksgiving", "US", 2026, "2026-11-26"},
		{"black_friday", "PT", 2026, "2026-11-27"},
		{"black_friday", "PT", 2024, "2024-11-29"},
		{"cyber_monday", "US", 2024, "2024-12-02"},
		{"thanksgiving", "CA", 2026, "2026-10-12"},
		{"mothers_day", "US", 2026, "2026-05-10"},
		{"mothers_day", "PT", 2026, "2026-05-03"},
		{"mothers_day", "GB", 2026, "2026-03-15"},
		{"mothers_day", "FR", 2026, "2026-05-31"},
		{"mothers_day", "FR", 2023, "2023-06-04"}, // 28 May was Pentecost
		{"fathers_day", "US", 2026, "2026-06-21"},
		{"fathers_day", "PT", 2026, "2026-03-19"},
		{"fathers_day", "DE", 2026, "2026-05-14"}, // Ascension
		{"carnival", "PT", 2026, "2026-02-17"},
		{"pentecost", "PT", 2026, "2026-05-24"},
		{"advent_1", "PT", 2026, "2026-11-29"},
		{"advent_4", "PT", 2026, "2026-12-20"},
		{"advent_1", "PT", 2022, "2022-11-27"},
		{"advent_4", "PT", 2023, "2023-12-24"}, // Christmas Eve itself
		{"good_friday", "PT", 2027, "2027-03-26"},
		// Orthodox Easter, from memory.
		{"easter", "GR", 2024, "2024-05-05"},
		{"easter", "GR", 2025, "2025-04-20"},
		{"easter", "GR", 2026, "2026-04-12"},
		{"good_friday", "GR", 2026, "2026-04-10"},
		{"pentecost", "GR", 2026, "2026-05-31"},
	} {
		at, err := season.Moment{Day: c.day}.Resolve(c.year, []string{c.country})
		require.NoError(t, err)
		assert.Equal(t, c.want, at.Format(time.DateOnly), "%s in %s", c.day, c.country)
	}
	_, err := season.Moment{Day: "thanksgiving"}.Resolve(2026, []string{"PT"})
	assert.ErrorContains(t, err, "not kept in PT")
	_, err = season.Moment{Day: "kite_day"}.Resolve(2026, []string{"PT"})
	assert.ErrorContains(t, err, "not a day of the retail year")
}

// Worked on a wall calendar. December 2026 in Portugal: the 1st and the 8th
// (both Tuesdays) and the 25th (Friday) are holidays.
func TestLastOrderDay(t *testing.T) {
	by := func(date string) season.Moment { return season.Moment{Date: date} }
	for name, c := range map[string]struct {
		order   season.LastOrder
		ordered string
		arrives string
	}{
		"for Christmas Eve, 1 + 3":          {season.LastOrder{ArriveBy: by("2026-12-24"), Handling: 1, Transit: 3, From: "PT", To: "PT"}, "2026-12-20", "2026-12-24"},
		"over the holiday of the 8th":       {season.LastOrder{ArriveBy: by("2026-12-10"), Handling: 1, Transit: 2, From: "PT", To: "PT"}, "2026-12-06", "2026-12-10"},
		"a Sunday still does":               {season.LastOrder{ArriveBy: by("2026-12-15"), Handling: 1, Transit: 1, From: "PT", To: "PT"}, "2026-12-13", "2026-12-15"},
		"no handling: handed over that day": {season.LastOrder{ArriveBy: by("2026-12-16"), Handling: 0, Transit: 1, From: "PT", To: "PT"}, "2026-12-15", "2026-12-16"},
		"by a Sunday: it comes on Friday":   {season.LastOrder{ArriveBy: by("2026-12-20"), Handling: 1, Transit: 2, From: "PT", To: "PT"}, "2026-12-15", "2026-12-18"},
		// To Spain: the 8th is a holiday on both sides, the 7th on neither.
		"two countries, two calendars": {season.LastOrder{ArriveBy: season.Moment{Day: "epiphany", Offset: -1}, Handling: 1, Transit: 2, From: "PT", To: "ES"}, "2025-12-30", "2026-01-05"},
	} {
		a, err := c.order.Compute(2026, []string{"ES"})
		require.NoError(t, err, name)
		assert.Equal(t, c.ordered, a.Ordered, name)
		assert.Equal(t, c.arrives, a.Arrives, name)
	}
	_, err := season.LastOrder{ArriveBy: by("2026-12-24"), From: "XX", To: "PT"}.Compute(2026, nil)
	assert.ErrorContains(t, err, `from: the holidays of "XX" are not known`)
}

func TestWindowsClashesAndLastSeasonsCopy(t *testing.T) {
	in := season.Input{Year: 2026, Zone: "Europe/Lisbon", Countries: []string{"PT"}, MoveTo: 2027, Campaigns: []season.Campaign{
		{ID: "frost", From: season.Moment{Day: "black_friday", Offset: -10}, To: season.Moment{Day: "black_friday", Offset: -1}, Goods: []string{"ember", "gull"}},
		{ID: "dates", From: season.Moment{Date: "2026-11-23"}, To: season.Moment{Date: "2026-11-27"}, Goods: []string{"gull"}},
		{ID: "summer", From: season.Moment{Date: "2026-07-06"}, To: season.Moment{Date: "2026-07-19"}, Goods: []string{"gull"}},
	}}
	out, err := season.Compute(in)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-17", "2026-11-26"}, []string{out.Windows[0].From, out.Windows[0].To}, "from 10 days before to 1 day before")
	assert.Equal(t, 10, out.Windows[0].Days)
	assert.Equal(t, "2026-11-27T00:00:00Z", out.Windows[0].Ends.Format(time.RFC3339), "the whole of the last day")
	assert.Equal(t, "2026-07-05T23:00:00Z", out.Windows[2].Starts.UTC().Format(time.RFC3339), "midnight of summer time")
	assert.Equal(t, []season.Clash{{A: "frost", B: "dates", From: "2026-11-23", To: "2026-11-26", Goods: []string{"gull"}}}, out.Clashes)
	assert.Equal(t, "2027-11-16", out.Moved[0].From)
	assert.Equal(t, "2027-11-26", out.Moved[1].To, "a date on the Friday follows it")
	assert.Equal(t, []string{"2027-07-05", "2027-07-18"}, []string{out.Moved[2].From, out.Moved[2].To}, "far from every day: the same weekdays")
	for place, spoil := range map[string]func(*season.Input){
		"year":              func(in *season.Input) { in.Year = 26 },
		"countries[0]":      func(in *season.Input) { in.Countries = []string{"Portugal"} },
		"campaigns[0].from": func(in *season.Input) { in.Campaigns[0].From.Day = "x" },
		"campaigns[0].to":   func(in *season.Input) { in.Campaigns[0].To = season.Moment{Date: "2026-01-01"} },
		"campaigns[1].id":   func(in *season.Input) { in.Campaigns[1].ID = "frost" },
		"campaigns[0].zone": func(in *season.Input) { in.Zone = "Lisbon" },
		"last_orders[0].to:": func(in *season.Input) {
			in.LastOrders = []season.LastOrder{{ArriveBy: season.Moment{Date: "2026-12-24"}, From: "PT"}}
		},
	} {
		bad := in
		bad.Campaigns = append([]season.Campaign{}, in.Campaigns...)
		spoil(&bad)
		_, err := season.Compute(bad)
		assert.ErrorContains(t, err, place)
	}
}

func TestPublicHolidaysStandAmongTheDays(t *testing.T) {
	days, err := season.Days(2026, []string{"PT"})
	require.NoError(t, err)
	byName := map[string]string{}
	for _, d := range days {
		byName[d.Name] = d.Date
	}
	// Código do Trabalho, art. 234; Corpo de Deus is 60 days after Easter.
	assert.Equal(t, "2026-06-04", byName["Corpo de Deus"])
	assert.Equal(t, "2026-04-25", byName["Dia da Liberdade"])
	assert.Len(t, season.Countries(), 24)
}

// A campaign to a day that is kept in some countries only follows that day: the
// second Sunday of May was the 10th in 2026 and is the 9th in 2027.
func TestACampaignFollowsADayKeptInSomeCountriesOnly(t *testing.T) {
	c := season.Campaign{ID: "m", From: season.Moment{Date: "2026-05-04"}, To: season.Moment{Date: "2026-05-10"}}
	for country, want := range map[string]string{"DE": "2027-05-09", "US": "2027-05-09", "PT": "2027-05-09"} {
		moved, err := c.Move(2026, 2027, []string{country})
		require.NoError(t, err)
		assert.Equal(t, want, moved.To.Date, country)
	}
	// The first Sunday of May in Portugal: 7 May 2028 after 3 May 2026, nine days later in the month than the second.
	moved, err := season.Campaign{ID: "m", From: season.Moment{Date: "2026-05-01"}, To: season.Moment{Date: "2026-05-03"}}.Move(2026, 2028, []string{"PT"})
	require.NoError(t, err)
	assert.Equal(t, "2028-05-07", moved.To.Date)
	moved, err = season.Campaign{ID: "m", From: season.Moment{Date: "2026-05-04"}, To: season.Moment{Date: "2026-05-10"}}.Move(2026, 2028, []string{"DE"})
	require.NoError(t, err)
	assert.Equal(t, "2028-05-14", moved.To.Date)
}

// A feast stands on its own date, and beside it the day on which it is observed.
func TestObservedDaysStandBesideTheFeast(t *testing.T) {
	on := func(country, name string, year int) []string {
		days, err := season.Days(year, []string{country})
		require.NoError(t, err)
		var dates []string
		for _, d := range days {
			if d.Holiday && strings.HasPrefix(d.Name, name) {
				dates = append(dates, d.Date)
			}
		}
		return dates
	}
	assert.Equal(t, []string{"2026-07-03", "2026-07-04"}, on("US", "Independence Day", 2026))
	for _, c := range []string{"GB", "CA", "NZ"} {
		assert.Equal(t, []string{"2026-12-26", "2026-12-28"}, on(c, "Boxing Day", 2026), c)
	}
	assert.Equal(t, []string{"2025-12-24"}, on("PL", "Wigilia", 2025))
	assert.Empty(t, on("PL", "Wigilia", 2024))
	assert.Equal(t, []string{"2024-11-20"}, on("BR", "Dia da Consciência Negra", 2024))
	assert.Empty(t, on("BR", "Dia da Consciência Negra", 2023))
}

// What only some cantons keep, or only every fifth year, closes nothing.
func TestDaysKeptInPartCloseNothing(t *testing.T) {
	for country, dates := range map[string]map[string]bool{
		"CH": {"2026-01-06": true, "2026-03-19": true, "2026-05-14": false, "2026-01-01": false},
		"NL": {"2026-05-05": true, "2026-05-14": false}, "PL": {"2025-12-24": false, "2024-12-24": true}, "BR": {"2024-11-20": false, "2023-11-20": true},
	} {
		c, err := season.Calendar(country)
		require.NoError(t, err)
		for day, works := range dates {
			at, _ := time.Parse(time.DateOnly, day)
			assert.Equal(t, works, c.IsWorkday(at), "%s %s", country, day)
		}
	}
	days, err := season.Days(2026, []string{"CH"})
	require.NoError(t, err)
	for _, d := range days {
		if d.Name == "Josefstag" {
			assert.Equal(t, "kept in some cantons only", d.Partly)
		}
		if d.Name == "Auffahrt" {
			assert.Empty(t, d.Partly)
		}
	}
}
