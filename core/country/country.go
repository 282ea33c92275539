// Package country knows the countries by their two letters (ISO 3166-1).
package country

import (
	"fmt"
	"strings"

	"golang.org/x/text/language"
)

// Everywhere stands, in tables, for every country that is not named.
const Everywhere = "*"

// reserved are codes that the registry behind [language] knows, and that ISO
// 3166-1 reserves or has withdrawn: no parcel goes there by them.
const reserved = "AC AN CP CQ CS DG EA EZ FQ IC NT PC SU TA UN YU"

// Known tells whether a code is a country's two capital letters. XK, which the
// standard leaves to its users, counts: post goes to Kosovo by it.
func Known(code string) bool {
	if len(code) != 2 || strings.Contains(reserved, code) {
		return false
	}
	r, err := language.ParseRegion(code)
	return err == nil && r.IsCountry() && r.String() == code && r.Canonicalize() == r
}

// Check refuses what is not a country's code, with what could stand there.
// The empty code means that no country is known and is taken.
func Check(code string) error {
	if code == "" || Known(code) {
		return nil
	}
	return fmt.Errorf("%q is not a country's two capital letters (ISO 3166-1), such as PT", code)
}

// CheckTable is [Check] for a table, where [Everywhere] may stand too and
// nothing may be left out.
func CheckTable(code string) error {
	if code == Everywhere || Known(code) {
		return nil
	}
	return fmt.Errorf("%q is not a country's two capital letters (ISO 3166-1), such as PT, nor %s for everywhere else", code, Everywhere)
}
