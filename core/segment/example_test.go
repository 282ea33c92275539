package segment_test

import (
	"fmt"
	"time"

	"chrysagon/core/segment"
)

// Who bought Ember since October, not the bag, and clicked nothing for 60 days.
func Example() {
	rule := segment.Rule{All: []segment.Clause{{Did: segment.Bought, Of: "ember", Since: "2026-10-01"}, {Not: true, Did: segment.Bought, Of: "quiver"}, {Not: true, Did: segment.Clicked, Days: 60}}}
	now := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	ana := segment.Person{Bought: []segment.Event{{Of: "ember", At: now.AddDate(0, 0, -20)}}}
	fmt.Println(rule.Holds(ana, now, time.UTC))
	ana.Clicked = []segment.Event{{Of: "wind", At: now.AddDate(0, 0, -3)}}
	fmt.Println(rule.Holds(ana, now, time.UTC))
	fmt.Println(rule.Say(func(_ segment.Deed, id string) string { return id }, func(n int64) string { return fmt.Sprint(n) }))
	// Output:
	// true
	// false
	// who bought “ember” since 2026-10-01, and who did not buy “quiver”, and who clicked nothing for 60 days
}
