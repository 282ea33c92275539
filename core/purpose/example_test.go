package purpose_test

import (
	"fmt"

	"chrysagon/core/purpose"
)

func Example() {
	fmt.Println(purpose.Of("sales").Title, purpose.Known("sales"), purpose.Known("wizard"))
	// Output: sales page true false
}
