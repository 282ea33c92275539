package origin_test

import (
	"fmt"

	"chrysagon/core/origin"
)

func Example() {
	o := origin.Origins{Studio: "https://studio.gustwell.example", Shop: "https://gustwell.example"}
	fmt.Println(o.Shop, o.Till == "")
	// Output: https://gustwell.example true
}
