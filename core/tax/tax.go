// Package tax computes what part of a price is tax, or what tax comes on top.
package tax

import (
	"fmt"
	"math/bits"
	"slices"
	"strings"

	"chrysagon/core/country"
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
		if err := country.CheckTable(r.Country); err != nil {
			return fmt.Errorf("rates[%d].country: %w", i, err)
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

// OnTop is what [Table.Of] comes to for a table of taxes that come on top, by
// whole numbers: the rate is in 1/10000 of a percent, which a valid table's are.
// It is for where very many are computed.
func OnTop(minor, rate int64) int64 {
	const whole = 1_000_000
	hi, lo := bits.Mul64(uint64(max(minor, -minor)), uint64(rate))
	lo, carry := bits.Add64(lo, whole/2, 0)
	part, _ := bits.Div64(hi+carry, lo, whole)
	if minor < 0 {
		return -int64(part)
	}
	return int64(part)
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
