package ledger_test

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/ledger"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func day(text string) time.Time {
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		at, err = time.Parse(time.RFC3339, text)
	}
	if err != nil {
		panic(err)
	}
	return at
}

func entries(pairs ...any) []ledger.Entry {
	var out []ledger.Entry
	for i := 0; i < len(pairs); i += 2 {
		out = append(out, ledger.Entry{Since: day(pairs[i].(string)), Price: int64(pairs[i+1].(int))})
	}
	return out
}

// Directive 98/6/EC, Art. 6a (1) and (2), in the text of Directive (EU)
// 2019/2161, and the Commission's guidance on it (2021/C 526/02, whose examples
// these follow; from memory).
func TestLowestOfThirtyDays(t *testing.T) {
	for name, c := range map[string]struct {
		entries []ledger.Entry
		at      string
		struck  int64 // 0: none
		percent int
	}{
		"the price just before":                   {entries("2026-01-01", 10000, "2026-11-01", 8000), "2026-11-10", 10000, 20},
		"the lowest of the 30 days, not the last": {entries("2026-01-01", 10000, "2026-10-05", 8000, "2026-10-12", 10000, "2026-11-01", 7000), "2026-11-10", 8000, 12},
		"a raise shortly before does not count":   {entries("2026-01-01", 10000, "2026-10-25", 12000, "2026-11-01", 9000), "2026-11-10", 10000, 10},
		"growing reductions: before the first":    {entries("2026-01-01", 10000, "2026-11-01", 8000, "2026-11-10", 7000, "2026-11-20", 6000), "2026-11-25", 10000, 40},
		"growing for over 30 days all the same":   {entries("2026-01-01", 10000, "2026-09-01", 8000, "2026-11-10", 7000), "2026-11-25", 10000, 30},
		"an interrupted series begins anew":       {entries("2026-01-01", 10000, "2026-11-01", 8000, "2026-11-08", 10000, "2026-11-15", 7000), "2026-11-25", 8000, 12},
		"back to the list: nothing is struck":     {entries("2026-01-01", 10000, "2026-11-01", 8000, "2026-11-08", 10000), "2026-11-25", 0, 0},
		"the window's price is not above today's": {entries("2026-01-01", 10000, "2026-10-20", 7000, "2026-10-21", 10000, "2026-11-15", 7500), "2026-11-25", 0, 0},
		"a price that ended as the 30 days begin": {entries("2026-01-01", 6000, "2026-10-02", 10000, "2026-11-01", 8000), "2026-11-10", 10000, 20},
		"one that ended an instant later":         {entries("2026-01-01", 6000, "2026-10-02T00:00:01Z", 10000, "2026-11-01", 8000), "2026-11-10", 0, 0},
		"the same price twice is one":             {entries("2026-01-01", 10000, "2026-06-01", 10000, "2026-11-01", 8000), "2026-11-10", 10000, 20},
		"what comes later is not looked at":       {entries("2026-01-01", 10000, "2026-11-01", 8000, "2026-12-01", 5000), "2026-11-10", 10000, 20},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := ledger.Compute(ledger.Input{Currency: "EUR", Entries: c.entries, Moment: day(c.at)})
			require.NoError(t, err)
			if c.struck == 0 {
				assert.Nil(t, s.Struck, s.Reason)
				return
			}
			require.NotNil(t, s.Struck, s.Reason)
			assert.Equal(t, c.struck, s.Struck.Minor)
			assert.Equal(t, c.percent, s.SavingPercent)
		})
	}
}

// Court of Justice, C-330/23 (Aldi Süd), 26 September 2024: bananas at 1.29,
// announced “-23% (last price 1.69)”, where the lowest price of the 30 days
// was 1.29: the percentage must be computed from the lowest, so there is none.
// (The figures are from memory.)
func TestAnnouncedPercentagesComeFromTheLowestPrice(t *testing.T) {
	s, err := ledger.Compute(ledger.Input{Currency: "EUR", Moment: day("2026-10-19"),
		Entries: entries("2026-09-01", 169, "2026-10-01", 129, "2026-10-08", 169, "2026-10-17", 129)})
	require.NoError(t, err)
	assert.Nil(t, s.Struck)
	assert.Zero(t, s.SavingPercent)
	assert.Contains(t, s.Reason, "€1.29, which is not above today's")
}

// A list price that was lowered for good is no reduction, and what a reduction
// is compared with is then the new one.
func TestListPricesTellReductionsFromNewPrices(t *testing.T) {
	at := func(since string, price, list int64) ledger.Entry {
		return ledger.Entry{Since: day(since), Price: price, List: &list}
	}
	in := ledger.Input{Currency: "EUR", Moment: day("2026-11-25"), Entries: []ledger.Entry{
		at("2026-01-01", 10000, 10000), at("2026-06-01", 8000, 8000), at("2026-11-01", 6000, 8000),
	}}
	s, err := ledger.Compute(in)
	require.NoError(t, err)
	assert.Equal(t, int64(8000), s.Struck.Minor)
	in.Entries = in.Entries[:2]
	s, err = ledger.Compute(in)
	require.NoError(t, err)
	assert.Equal(t, "The price is not reduced.", s.Reason)
}

func TestYoungGoodsFollowTheSetting(t *testing.T) {
	in := ledger.Input{Currency: "EUR", Moment: day("2026-11-25"), Entries: entries("2026-11-05", 10000, "2026-11-20", 8000)}
	s, err := ledger.Compute(in)
	require.NoError(t, err)
	assert.Nil(t, s.Struck)
	assert.Equal(t, day("2026-12-05"), s.ProvableFrom, "a reduction that begins then has its 30 days")
	in.Setting.Young = ledger.YoungWhole
	s, err = ledger.Compute(in)
	require.NoError(t, err)
	assert.Equal(t, int64(10000), s.Struck.Minor)
	in.OnSale = day("2020-01-01") // on sale for long, but recorded late
	s, err = ledger.Compute(in)
	require.NoError(t, err)
	assert.Nil(t, s.Struck, "what is not recorded is not proved, whatever the setting for young goods")
	assert.Contains(t, s.Reason, "cannot be proved")
}

func TestPerishablesFollowTheSetting(t *testing.T) {
	in := ledger.Input{Currency: "EUR", Moment: day("2026-11-25"), Perishable: true,
		Entries: entries("2026-01-01", 900, "2026-11-10", 700, "2026-11-12", 1000, "2026-11-24", 600)}
	for setting, want := range map[ledger.Perishable]int64{ledger.PerishableSame: 700, ledger.PerishableLast: 1000, ledger.PerishableNone: 0} {
		in.Setting.Perishable = setting
		s, err := ledger.Compute(in)
		require.NoError(t, err)
		if want == 0 {
			assert.Nil(t, s.Struck)
			continue
		}
		assert.Equal(t, want, s.Struck.Minor, setting)
	}
}

// 16 CFR 233.1 (b): a former price must have been asked openly for a reasonably
// substantial time, recently. Its example of a price asked for long, then cut.
func TestFormerPriceOfTheOtherRegime(t *testing.T) {
	in := ledger.Input{Currency: "USD", Moment: day("2026-11-25"), Setting: ledger.Setting{Regime: ledger.Former},
		Entries: entries("2026-01-01", 1000, "2026-11-20", 750)}
	s, err := ledger.Compute(in)
	require.NoError(t, err)
	assert.Equal(t, int64(1000), s.Struck.Minor)
	assert.Equal(t, 25, s.SavingPercent)
	// Inflated for a few days so as to be cut: the rule's fictitious bargain.
	in.Entries = entries("2026-01-01", 1000, "2026-11-10", 1500, "2026-11-20", 1000)
	s, err = ledger.Compute(in)
	require.NoError(t, err)
	assert.Nil(t, s.Struck)
	assert.Contains(t, s.Reason, "$15.00 was asked for 10 of the 90 days")
}

func TestAPriceBelowTheLedgersIsAReductionThatBeginsNow(t *testing.T) {
	code := int64(5000)
	s, err := ledger.Compute(ledger.Input{Currency: "EUR", Moment: day("2026-11-25"), Price: &code, Entries: entries("2026-01-01", 10000, "2026-11-01", 8000)})
	require.NoError(t, err)
	assert.Equal(t, int64(10000), s.Struck.Minor, "it goes on the series of growing reductions")
	s, err = ledger.Compute(ledger.Input{Currency: "EUR", Moment: day("2026-11-25"), Price: &code, Entries: entries("2026-01-01", 10000)})
	require.NoError(t, err)
	assert.Equal(t, int64(10000), s.Struck.Minor)
}

// DST: the 30 days are counted in the store's zone, so they may be an hour
// longer or shorter than 720 hours.
func TestTheThirtyDaysAreCountedInTheZone(t *testing.T) {
	began := day("2026-11-01T00:00:00Z") // Lisbon's clocks went back on 25 October
	in := ledger.Input{Currency: "EUR", Zone: "Europe/Lisbon", Moment: began, Entries: []ledger.Entry{{Since: day("2026-01-01"), Price: 900}, {Since: began, Price: 800}}}
	s, err := ledger.Compute(in)
	require.NoError(t, err)
	assert.Equal(t, "2026-10-01T23:00:00Z", s.From.Format(time.RFC3339))
}

func TestBadLedgersAreRefusedWithTheirPlace(t *testing.T) {
	good := ledger.Input{Currency: "EUR", Moment: day("2026-11-25"), Entries: entries("2026-01-01", 900, "2026-02-01", 800)}
	for place, spoil := range map[string]func(*ledger.Input){
		"currency":         func(in *ledger.Input) { in.Currency = "EURO" },
		"moment":           func(in *ledger.Input) { in.Moment = time.Time{} },
		"zone":             func(in *ledger.Input) { in.Zone = "Lisbon" },
		"entries[1].since": func(in *ledger.Input) { in.Entries = entries("2026-02-01", 900, "2026-01-01", 800) },
		"entries[0].price": func(in *ledger.Input) { in.Entries = entries("2026-02-01", -1) },
		"setting.regime":   func(in *ledger.Input) { in.Setting.Regime = "moon" },
	} {
		in := good
		spoil(&in)
		_, err := ledger.Compute(in)
		assert.ErrorContains(t, err, place)
	}
}

// Whatever the ledger, a struck price was asked before the reduction began,
// and is above the price; the saving is never overstated.
func TestLawsOfStruckPrices(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := day("2026-01-01")
		in := ledger.Input{Currency: "EUR"}
		for range rapid.IntRange(1, 12).Draw(t, "entries") {
			at = at.Add(time.Duration(rapid.IntRange(1, 40*24).Draw(t, "hours")) * time.Hour)
			in.Entries = append(in.Entries, ledger.Entry{Since: at, Price: rapid.Int64Range(0, 20).Draw(t, "price")})
		}
		in.Moment = at.Add(time.Hour)
		s, err := ledger.Compute(in)
		require.NoError(t, err)
		if s.Struck == nil {
			require.NotEmpty(t, s.Reason)
			return
		}
		require.Greater(t, s.Struck.Minor, s.Price.Minor)
		lowest := int64(1 << 40)
		for i, e := range in.Entries {
			if !e.Since.Before(s.Began) {
				break
			}
			if i+1 < len(in.Entries) && in.Entries[i+1].Since.After(s.From) {
				lowest = min(lowest, e.Price)
			}
		}
		require.Equal(t, lowest, s.Struck.Minor)
		require.LessOrEqual(t, int64(s.SavingPercent)*s.Struck.Minor, 100*s.Saving.Minor)
	})
}

func ExampleCompute() {
	s, _ := ledger.Compute(ledger.Input{Currency: "EUR", Moment: day("2026-11-25"), Entries: entries("2026-01-01", 6800, "2026-11-20", 5100)})
	fmt.Printf("%s struck, %s now: %d%%\n%s\n", s.Struck, s.Price, s.SavingPercent, s.Reason)
	// Output: €68.00 struck, €51.00 now: 25%
	// The lowest price in the 30 days before the reduction began on Friday 20 November 2026, 00:00.
}
