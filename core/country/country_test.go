package country_test

import (
	"fmt"
	"testing"

	"chrysagon/core/country"

	"github.com/stretchr/testify/assert"
)

func TestCountriesAreTwoCapitalLetters(t *testing.T) {
	for _, code := range []string{"PT", "DE", "US", "GB", "JP", "NZ", "CH"} {
		assert.True(t, country.Known(code), code)
		assert.NoError(t, country.CheckTable(code))
	}
	// UK is reserved and not assigned by ISO 3166-1, EU and UN are no countries.
	for _, code := range []string{"de", "Pt", "XQ", "UK", "EU", "UN", "P", "PRT", "001", "*", "pt-PT"} {
		assert.False(t, country.Known(code), code)
		assert.ErrorContains(t, country.Check(code), "two capital letters")
	}
	all := 0
	for a := 'A'; a <= 'Z'; a++ {
		for b := 'A'; b <= 'Z'; b++ {
			if country.Known(string([]rune{a, b})) {
				all++
			}
		}
	}
	assert.Equal(t, 249+1, all, "ISO 3166-1 assigns 249 codes (the count from memory), and post goes to Kosovo by XK")
	assert.NoError(t, country.Check(""), "none is known")
	assert.NoError(t, country.CheckTable(country.Everywhere))
	assert.Error(t, country.CheckTable(""))
}

func ExampleCheck() {
	fmt.Println(country.Check("de"))
	// Output: "de" is not a country's two capital letters (ISO 3166-1), such as PT
}
