package reading_test

import (
	"fmt"

	"chrysagon/core/reading"
)

func Example() {
	t := reading.Count("We sew kites. They fly at night.")
	fmt.Println(t.Words, t.Sentences, reading.Syllables("lantern"))
	// Output: 7 2 2
}
