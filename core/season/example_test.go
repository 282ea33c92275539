package season_test

import (
	"fmt"
	"time"

	"chrysagon/core/season"
)

// Easter as the ecclesiastical rules have it, and a day that moves with it: three days
// before Easter a campaign begins, whatever the year.
func Example() {
	for _, year := range []int{2026, 2027} {
		fmt.Println(season.Easter(year).Format(time.DateOnly))
	}
	// Output:
	// 2026-04-05
	// 2027-03-28
}
