package offers

import (
	"slices"
)

// repeat is a way in which a deadline repeats (RFC 5545, 3.3.10), in words.
type repeat struct{ Rule, Label string }

var repeats = []repeat{
	{"FREQ=DAILY", "every day"}, {"FREQ=WEEKLY", "every week"}, {"FREQ=WEEKLY;INTERVAL=2", "every other week"},
	{"FREQ=MONTHLY", "on that day of every month"}, {"FREQ=MONTHLY;BYDAY=1FR", "on the first Friday of every month"},
	{"FREQ=MONTHLY;BYDAY=-1SU", "on the last Sunday of every month"}, {"FREQ=YEARLY", "every year"},
}

func isRepeat(rule string) bool {
	return slices.ContainsFunc(repeats, func(r repeat) bool { return r.Rule == rule })
}

// countryChoices are the countries a receipt is tried for, the store's first.
func countryChoices() []string {
	return []string{"", "AT", "BE", "CH", "DE", "DK", "ES", "FR", "GB", "IE", "IT", "NL", "PL", "PT", "SE", "US"}
}
