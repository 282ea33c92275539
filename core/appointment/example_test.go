package appointment_test

import (
	"fmt"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/hours"
)

// Two half hours are free on a Friday morning of which one is taken.
func Example() {
	open := []hours.Span{{Days: hours.Days["friday"], Opens: 10 * 60, Closes: 11*60 + 30}}
	taken := []appointment.Slot{{At: time.Date(2026, 11, 27, 10, 30, 0, 0, time.UTC), Minutes: 30}}
	free, err := appointment.Free(open, taken, time.Date(2026, 11, 27, 6, 0, 0, 0, time.UTC), 1, 30, "Europe/Lisbon")
	for _, s := range free {
		fmt.Println(s.At.Format("15:04"))
	}
	fmt.Println(err)
	// Output:
	// 10:00
	// 11:00
	// <nil>
}
