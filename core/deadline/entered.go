package deadline

import (
	"time"

	"chrysagon/core/words"
)

// momentForms and dayForms are how moments and days may be written; the first of
// each is how they are shown in forms. Day comes before month, as in the store's own
// writing; what begins with the year is ISO 8601.
var (
	momentForms = []string{
		"2 Jan 2006, 15:04", "2 Jan 2006 15:04", "2 January 2006, 15:04", "2 January 2006 15:04", "2006-01-02 15:04", "2006-01-02, 15:04",
		"2.1.2006, 15:04", "2.1.2006 15:04", "2/1/2006, 15:04", "2/1/2006 15:04", LocalLayout,
	}
	dayForms = []string{"2 Jan 2006", "2 January 2006", time.DateOnly, "2.1.2006", "2/1/2006"}
)

// Entered reads a moment or a day however it was written, and gives it in the form
// it is kept in: [LocalLayout], or 2006-01-02. What cannot be read stays as it is, to
// be refused by whoever reads it on.
func Entered(text string) string {
	text = words.Tidy(text)
	if _, err := time.Parse("2006-01-02T15:04:05", text); err == nil {
		return text // to the second, as no form of ours shows it
	}
	for _, kind := range []struct {
		forms []string
		kept  string
	}{{momentForms, LocalLayout}, {dayForms, time.DateOnly}} {
		for _, form := range kind.forms {
			if at, err := time.Parse(form, text); err == nil {
				return at.Format(kind.kept)
			}
		}
	}
	return text
}

// Shown writes what [Entered] gave as it stands in forms: 27 Nov 2026, 23:59.
func Shown(kept string) string {
	if at, err := time.Parse(LocalLayout, kept); err == nil {
		return at.Format(momentForms[0])
	}
	if at, err := time.Parse(time.DateOnly, kept); err == nil {
		return at.Format(dayForms[0])
	}
	return kept
}
