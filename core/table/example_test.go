package table_test

import (
	"fmt"

	"chrysagon/core/table"
)

func Example() {
	header := []string{"country", "percent"}
	err := table.Read("country,percent\nPT,23\nES,21\n", header, func(row []string) error {
		fmt.Println(row[0], row[1])
		return nil
	})
	fmt.Println(err)
	fmt.Println(table.Read("land,percent\n", header, nil))
	// Output:
	// PT 23
	// ES 21
	// <nil>
	// line 1 must be country,percent
}
