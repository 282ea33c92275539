package results

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"chrysagon/app/results"
	"chrysagon/core/money"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func inWords(r results.Results) string {
	var out []string
	for _, s := range said(r) {
		out = append(out, s.Before+s.Strong+s.After)
	}
	return strings.Join(out, " ")
}

func TestTheFiguresSaySomething(t *testing.T) {
	r := outcome(2336, 66, 20)
	r.Stairs[1].Revenue = money.Of(71400, "EUR")
	r.Daily = []results.Day{
		{Date: time.Date(2026, 11, 27, 0, 0, 0, 0, time.UTC), Orders: 30, Revenue: money.Of(150000, "EUR")},
		{Date: time.Date(2026, 11, 28, 0, 0, 0, 0, time.UTC), Orders: 36, Revenue: money.Of(186600, "EUR")},
	}
	assert.Equal(t, "One visitor in 35 bought: 66 orders for €3,366.00. Of that, €714.00 came from upsells, 21.2%. "+
		"Most turn away at Night flight, where 2270 of 2336 visitors did not order. The best day was Saturday, 28 November, with €1,866.00.", inWords(r))
	assert.Contains(t, inWords(results.Results{}), "Nobody has come by")
	assert.Contains(t, inWords(outcome(12, 0, 0)), "12 visitors came, and nobody has bought yet.")
	assert.Contains(t, inWords(outcome(1, 1, 0)), "Every visitor bought: 1 order")
}

// Whatever came of it, what is said holds by the figures that stand beneath.
func TestWhatIsSaidHolds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		visitors := rapid.Int64Range(0, 100_000).Draw(t, "visitors")
		orders := rapid.Int64Range(0, visitors).Draw(t, "orders")
		text := inWords(outcome(visitors, orders, 0))
		var one int64
		if _, err := fmt.Sscanf(text, "One visitor in %d bought", &one); err == nil {
			assert.InDelta(t, float64(visitors)/float64(orders), float64(one), 0.5)
		}
		assert.Equal(t, visitors > orders, strings.Contains(text, "did not order"))
		assert.NotContains(t, text, "upsells", "of which there are none")
		assert.NotContains(t, text, "best day", "of which there are none")
	})
}
