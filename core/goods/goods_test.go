package goods_test

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Clock changes as the IANA time zone database has them: midnight is skipped in
// Santiago and Havana, a whole day was in Apia.
func TestTheNextDayBeginsWhereClocksSaySo(t *testing.T) {
	for _, c := range []struct{ zone, local, next string }{
		{"Europe/Lisbon", "2026-11-23T12:00:00", "2026-11-24T00:00:00Z"},
		{"Europe/Lisbon", "2026-03-28T23:59:59", "2026-03-29T00:00:00Z"},
		{"America/Santiago", "2026-09-05T23:30:00", "2026-09-06T04:00:00Z"}, // 24:00 became 01:00
		{"America/Havana", "2026-03-07T12:00:00", "2026-03-08T05:00:00Z"},
		{"Pacific/Apia", "2011-12-29T23:00:00", "2011-12-30T10:00:00Z"}, // the 30th never was
	} {
		zone, err := time.LoadLocation(c.zone)
		require.NoError(t, err)
		at, err := time.ParseInLocation("2006-01-02T15:04:05", c.local, zone)
		require.NoError(t, err)
		next := goods.NextDay(at, zone)
		assert.Equal(t, c.next, next.Format(time.RFC3339Nano), c.zone)
		before, _ := goods.DaysSince(at, next.Add(-1), zone)
		after, _ := goods.DaysSince(at, next, zone)
		assert.Zero(t, before)
		assert.Positive(t, after)
	}
}

func TestGoodsThatCannotBeComputedWithAreRefused(t *testing.T) {
	good := goods.Product{ID: "kite", Price: money.Of(6800, "EUR")}
	require.NoError(t, good.Check("EUR"))
	for say, spoil := range map[string]func(*goods.Product){
		"price.currency: \"USD\"": func(p *goods.Product) { p.Price.Currency = "USD" }, "price.minor: -1": func(p *goods.Product) { p.Price.Minor = -1 },
		"form: \"phisical\"; it must be physical, digital or bookable": func(p *goods.Product) { p.Form = "phisical" },
		"condition: \"used\"; it must be new, returned or ex-demo":     func(p *goods.Product) { p.Condition = "used" },
		"weight_grams: -5": func(p *goods.Product) { p.Weight = -5 },
		"cost.minor":       func(p *goods.Product) { cost := money.Of(money.Limit+1, "EUR"); p.Cost = &cost },
	} {
		bad := good
		spoil(&bad)
		assert.ErrorContains(t, bad.Check("EUR"), say)
	}
}

func ExampleDaysSince() {
	received := time.Date(2026, 9, 1, 9, 0, 0, 0, time.UTC)
	days, _ := goods.DaysSince(received, time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC), time.UTC)
	fmt.Println(days, "days in stock")
	// Output: 83 days in stock
}
