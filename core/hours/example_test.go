package hours_test

import (
	"fmt"
	"time"

	"chrysagon/core/hours"
)

func Example() {
	opens, _ := hours.Clock("10.00")
	closes, _ := hours.Clock("18")
	week := []hours.Span{{Days: hours.Days["weekdays"], Opens: opens, Closes: closes}}
	now, _ := hours.At(week, time.Date(2026, 11, 27, 20, 0, 0, 0, time.UTC), "Europe/Lisbon")
	fmt.Println(now.Open, now.Changes.Format("Mon 15:04"))
	// Output: false Mon 10:00
}
