package catalogue_test

import (
	"fmt"

	"chrysagon/core/catalogue"
)

// A table as a spreadsheet in another country writes it: semicolons, decimal commas, names
// of columns as people call them.
func Example() {
	sheet, err := catalogue.Open([]byte("Article;Title;Price\nEMB-180;Ember 180;51,00\n"))
	if err != nil {
		fmt.Println(err)
		return
	}
	var mapping catalogue.Mapping
	for _, m := range catalogue.Guess(sheet.Header, nil) {
		mapping = append(mapping, m.Column)
	}
	err = sheet.Rows(mapping, "EUR", func(r catalogue.Row) { fmt.Println(r.SKU, r.Price) }, func(f catalogue.Fault) { fmt.Println(f) })
	fmt.Println(err)
	// Output:
	// EMB-180 5100
	// <nil>
}
