package segment_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"chrysagon/core/segment"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

var now = time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)

// A clause and its opposite divide everybody: for each person exactly one of them holds.
func TestAClauseAndItsOppositeDivideEverybody(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		events := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) segment.Event {
			return segment.Event{Of: rapid.SampledFrom([]string{"a", "b"}).Draw(t, "of"), At: now.Add(-time.Duration(rapid.IntRange(0, 90*24).Draw(t, "hours")) * time.Hour), Minor: rapid.Int64Range(0, 9000).Draw(t, "minor")}
		}), 0, 4)
		p := segment.Person{Since: now.AddDate(0, 0, -rapid.IntRange(0, 90).Draw(t, "known for")), Lists: events.Draw(t, "lists"), Bought: events.Draw(t, "bought"), Orders: events.Draw(t, "orders"), Clicked: events.Draw(t, "clicked"), Sent: events.Draw(t, "sent"), CameBy: events.Draw(t, "came by")}
		c := segment.Clause{Did: rapid.SampledFrom(segment.Deeds).Draw(t, "did"), Of: rapid.SampledFrom([]string{"", "a", "c"}).Draw(t, "of"), AtLeast: rapid.Int64Range(0, 9000).Draw(t, "least"), Days: rapid.IntRange(0, 80).Draw(t, "days")}
		not := c
		not.Not = true
		yes, no := segment.Rule{All: []segment.Clause{c}}.Holds(p, now, time.UTC), segment.Rule{All: []segment.Clause{not}}.Holds(p, now, time.UTC)
		assert.NotEqual(t, yes, no)
		assert.False(t, segment.Rule{All: []segment.Clause{c, not}}.Holds(p, now, time.UTC))
		assert.True(t, segment.Rule{}.Holds(p, now, time.UTC), "no condition is everybody")
		assert.Empty(t, segment.Rule{All: []segment.Clause{c}}.Faults())
	})
}

func TestADayBeginsWhereTheStoreIs(t *testing.T) {
	zone := time.FixedZone("east", 9*3600)
	c := segment.Clause{Did: segment.Bought, Since: "2026-10-01"}
	assert.Equal(t, time.Date(2026, 9, 30, 15, 0, 0, 0, time.UTC), c.From(now, zone).UTC())
	assert.Equal(t, now.AddDate(0, 0, -60), segment.Clause{Days: 60}.From(now, zone))
	assert.True(t, segment.Clause{}.From(now, zone).IsZero())
}

func TestRulesAreMendedBeforeTheyAreAsked(t *testing.T) {
	for _, broken := range []segment.Clause{{Did: "danced"}, {Did: segment.Bought, Days: -1}, {Did: segment.Bought, Days: 4000}, {Did: segment.Spent, AtLeast: -1}, {Did: segment.Bought, Since: "October"}, {Did: segment.Bought, Of: strings.Repeat("x", 81)}} {
		assert.Len(t, segment.Rule{All: []segment.Clause{broken}}.Faults(), 1, broken)
	}
	assert.NotEmpty(t, segment.Rule{All: make([]segment.Clause, 9)}.Faults())
}

// Every condition reads as English, with and without what it names, and with its opposite.
func TestEveryConditionIsSaid(t *testing.T) {
	seen := map[string]bool{}
	for _, did := range segment.Deeds {
		for _, c := range []segment.Clause{{Did: did}, {Did: did, Not: true}, {Did: did, Of: "x", Days: 7}, {Did: did, Of: "x", Not: true, Since: "2026-10-01"}} {
			says := segment.Rule{All: []segment.Clause{c}}.Say(func(segment.Deed, string) string { return "X" }, func(n int64) string { return fmt.Sprint(n) })
			assert.NotContains(t, says, "  ")
			assert.False(t, seen[says], says)
			seen[says] = true
		}
	}
	assert.Equal(t, "everybody", segment.Rule{}.Say(nil, nil))
}
