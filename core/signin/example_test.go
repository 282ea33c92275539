package signin_test

import (
	"fmt"

	"chrysagon/core/signin"
)

func Example() {
	fmt.Println(signin.Wait(1), signin.Wait(100) > signin.Wait(10))
	fmt.Println(signin.Fault("lantern-kite-demo-over-dunes") == "", signin.Fault("password1234") == "")
	// Output:
	// 0s true
	// true false
}
