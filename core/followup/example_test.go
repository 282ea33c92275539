package followup_test

import (
	"fmt"
	"time"

	"chrysagon/core/followup"
)

// Who asks for the guide on Monday gets it at once, a letter at ten on Tuesday, and no
// third one once they have bought.
func Example() {
	knots := followup.Followup{
		Begins: followup.Begin{What: followup.Joined, Of: "guide"},
		Steps:  []followup.Step{{Letter: "guide"}, {Letter: "wind", Days: 1, Clock: &followup.Clock{Hour: 10}}, {Letter: "bridles", Days: 2, Clock: &followup.Clock{Hour: 10}}},
	}
	monday := time.Date(2026, 11, 23, 14, 5, 0, 0, time.UTC)
	for _, t := range knots.Tell([]followup.Event{{What: followup.Bought, At: monday.AddDate(0, 0, 2)}, {What: followup.Joined, Of: "guide", At: monday}}, time.UTC) {
		fmt.Println(t.Letter, t.At.Format("Mon 15:04"), t.Outcome)
	}
	// Output:
	// guide Mon 14:05 sent
	// wind Tue 10:00 sent
	// bridles Thu 10:00 ended
}
