package routes

import (
	"fmt"
	"testing"

	"chrysagon/app/routes"
	"chrysagon/core/forecast"
	"chrysagon/core/route"

	"github.com/stretchr/testify/assert"
)

// chain is a funnel of so many steps, one behind the other.
func chain(n int) routes.Map {
	m := routes.Map{Currency: "EUR"}
	for i := range n {
		m.Funnel.Steps = append(m.Funnel.Steps, route.Step{ID: fmt.Sprint("s", i), Kind: route.Bridge, PageID: fmt.Sprint("s", i), Name: fmt.Sprint("Page ", i)})
		if i > 0 {
			m.Funnel.Routes = append(m.Funnel.Routes, route.Route{From: fmt.Sprint("s", i-1), Outcome: route.Clicked(route.Yes), To: fmt.Sprint("s", i)})
		}
	}
	return m
}

// Twelve steps are seen at once, however they stand; sixty are scrolled.
func TestTwelveAreSeenAtOnceAndSixtyScroll(t *testing.T) {
	for n, fits := range map[int]bool{1: true, 12: true, 13: false, 60: false} {
		m := chain(n)
		d := draw(m, looking{}, forecast.Output{}, routes.WhatIf{})
		assert.Equal(t, fits, d.Fits, n)
		assert.Len(t, d.Steps, n)
		assert.Len(t, d.Lines, n-1)
	}
}

// A rate is said as surely as it is known: a range of fewer than a hundred visitors.
func TestRatesOfFewAreRanges(t *testing.T) {
	m := chain(2)
	r := m.Funnel.Routes[0]
	for visitors, want := range map[int64]string{0: "–", 20: "15–52%", 200: "30%"} { // Wilson's interval of 6 in 20 by hand: 0.3322 ± 0.1868
		m.Figures = routes.Figures{Steps: map[string]routes.Stepped{"s0": {Visitors: visitors, Outcomes: map[route.Outcome]int64{r.Outcome: visitors * 3 / 10}}}}
		assert.Equal(t, want, tellerOf(m, looking{}, forecast.Output{}).rate(r, -1))
	}
	for n, want := range map[int64]string{0: "0", 999: "999", 1000: "1,000", 1234567: "1,234,567", -1000: "-1,000"} {
		assert.Equal(t, want, thousands(n))
	}
}

// A long name is broken into two lines, and cut where that is not enough.
func TestLongNamesAreBroken(t *testing.T) {
	for name, want := range map[string][2]string{"Night flight": {"Night flight", ""}, "Read the wind in seven knots": {"Read the wind in", "seven knots"}, "Donaudampfschifffahrtsgesellschaft": {"Donaudampfschifff…", ""}} {
		first, second := broken(name)
		assert.Equal(t, want, [2]string{first, second})
	}
}
