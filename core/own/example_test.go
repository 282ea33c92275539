package own_test

import (
	"fmt"

	"chrysagon/core/own"
)

func Example() {
	where, err := own.Origin("https://measure.example/count.js")
	fmt.Println(where, err)
	_, err = own.Origin("http://measure.example/count.js")
	fmt.Println(err != nil)
	// Output:
	// https://measure.example <nil>
	// true
}
