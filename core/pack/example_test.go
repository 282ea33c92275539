package pack_test

import (
	"fmt"

	"chrysagon/core/pack"
)

// What is no page package is refused with a sentence.
func Example() {
	_, err := pack.Read([]byte("not a zip"), nil)
	fmt.Println(err)
	// Output: package: is no zip file, or a damaged one
}
