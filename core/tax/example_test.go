package tax_test

import (
	"fmt"

	"chrysagon/core/money"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
)

func Example() {
	t := tax.Table{Included: true, Rates: []tax.Rate{{Country: "PT", Percent: decimal.NewFromInt(23), Name: "IVA"}}}
	rate, known := t.Find(tax.Place{Country: "PT"}, "")
	fmt.Println(known, rate.Name, t.Of(money.Of(12300, "EUR"), rate))
	// Output: true IVA €23.00
}
