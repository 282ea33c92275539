// Package tax computes what part of a price is tax, or what tax comes on top.
package tax

import (
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/goods"
	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// ShippingClass is the class under which shipping itself is taxed.
const ShippingClass = "shipping"

// Rate is what a place takes of one class of goods.
type Rate struct {
	Country string          `json:"country"`          // ISO 3166-1, two letters; "*" stands for everywhere else
	Region  string          `json:"region,omitempty"` // a part of the country; empty: all of it
	Class   string          `json:"class,omitempty"`  // of goods; "standard" when empty
	Percent decimal.Decimal `json:"percent"`
	Name    string          `json:"name,omitempty"` // as receipts call it, such as VAT
}

// Table is a store's rates and whether its prices hold the tax already.
type Table struct {
	Included bool   `json:"included"`
	Rates    []Rate `json:"rates"`
}

// Place is where the goods go.
type Place struct {
	Country string `json:"country,omitempty"`
	Region  string `json:"region,omitempty"`
}

// Validate refuses a table that is not clear, with place and reason.
func (t Table) Validate() error {
	seen := map[string]bool{}
	for i, r := range t.Rates {
		if r.Country != "*" && !isCountry(r.Country) {
			return fmt.Errorf("rates[%d].country: %q is not a country's two capital letters (ISO 3166-1), nor *", i, r.Country)
		}
		if r.Percent.IsNegative() || r.Percent.GreaterThan(decimal.NewFromInt(100)) || r.Percent.Exponent() < -4 {
			return fmt.Errorf("rates[%d].percent: %s; it must be from 0 to 100 with at most 4 digits after the point", i, r.Percent)
		}
		key := strings.Join([]string{r.Country, r.Region, class(r.Class)}, " ")
		if seen[key] {
			return fmt.Errorf("rates[%d]: there are two rates for %s", i, key)
		}
		seen[key] = true
	}
	return nil
}

func isCountry(c string) bool {
	return len(c) == 2 && strings.Trim(c, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") == ""
}

func class(c string) string {
	if c == "" {
		return goods.StandardClass
	}
	return c
}

// Find returns the rate for a class of goods at a place: region before
// country before everywhere else, and the class itself before standard. ok is
// false where the table has none: then no tax is computed.
func (t Table) Find(place Place, of string) (Rate, bool) {
	best, found := Rate{}, -1
	for _, r := range t.Rates {
		score := 0
		switch {
		case r.Country == place.Country && r.Region != "" && r.Region == place.Region:
			score = 6
		case r.Country == place.Country && r.Region == "":
			score = 4
		case r.Country == "*" && r.Region == "":
			score = 2
		default:
			continue
		}
		switch {
		case class(r.Class) == class(of):
			score++
		case class(r.Class) != goods.StandardClass || of == ShippingClass:
			continue
		}
		if score > found {
			best, found = r, score
		}
	}
	return best, found >= 0
}

// Of is the tax in an amount (Included) or on it, rounded half away from zero.
func (t Table) Of(amount money.Money, r Rate) money.Money {
	hundred := decimal.NewFromInt(100)
	if t.Included {
		part := decimal.NewFromInt(amount.Minor).Mul(r.Percent).DivRound(hundred.Add(r.Percent), 12).Round(0)
		return money.Of(part.IntPart(), amount.Currency)
	}
	return amount.Percent(r.Percent)
}

// Share is what one rate comes to in an order.
type Share struct {
	Name    string          `json:"name,omitempty"`
	Percent decimal.Decimal `json:"percent"`
	On      money.Money     `json:"on"` // amounts taxed at this rate, after all reductions
	Tax     money.Money     `json:"tax"`
}

// Add counts one line's tax under its rate; shares stand by falling percent.
func Add(shares []Share, r Rate, on, part money.Money) []Share {
	for i := range shares {
		if shares[i].Percent.Equal(r.Percent) && shares[i].Name == r.Name {
			shares[i].On.Minor += on.Minor
			shares[i].Tax.Minor += part.Minor
			return shares
		}
	}
	shares = append(shares, Share{Name: r.Name, Percent: r.Percent, On: on, Tax: part})
	slices.SortStableFunc(shares, func(a, b Share) int {
		if c := b.Percent.Cmp(a.Percent); c != 0 {
			return c
		}
		return strings.Compare(a.Name, b.Name)
	})
	return shares
}
