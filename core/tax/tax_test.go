package tax_test

import (
	"strings"
	"testing"

	"chrysagon/core/money"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func rate(country, region, class, percent string) tax.Rate {
	return tax.Rate{Country: country, Region: region, Class: class, Percent: decimal.RequireFromString(percent)}
}

func TestTheNearestRateIsTaken(t *testing.T) {
	table := tax.Table{Rates: []tax.Rate{
		rate("*", "", "", "0"), rate("PT", "", "", "23"), rate("PT", "", "reduced", "6"), rate("PT", "Madeira", "", "22"), rate("ES", "", "", "21"), rate("ES", "", "shipping", "21"),
	}}
	for _, c := range []struct{ country, region, class, want string }{
		{"PT", "", "standard", "23"}, {"PT", "", "reduced", "6"}, {"PT", "Madeira", "standard", "22"},
		{"PT", "Azores", "standard", "23"}, {"PT", "", "books", "23"}, {"US", "", "standard", "0"}, {"ES", "", "shipping", "21"},
	} {
		r, ok := table.Find(tax.Place{Country: c.country, Region: c.region}, c.class)
		assert.True(t, ok)
		assert.Equal(t, c.want, r.Percent.String(), "%+v", c)
	}
	_, ok := table.Find(tax.Place{Country: "PT"}, tax.ShippingClass)
	assert.False(t, ok, "shipping is taxed only where the table says so")
}

// 123.00 including 23% holds 23.00; 10.00 with 7.25% on top is 0.725, away from zero.
func TestIncludedAndOnTop(t *testing.T) {
	assert.Equal(t, int64(2300), tax.Table{Included: true}.Of(money.Of(12300, "EUR"), rate("*", "", "", "23")).Minor)
	assert.Equal(t, int64(73), tax.Table{}.Of(money.Of(1000, "USD"), rate("*", "", "", "7.25")).Minor)
	assert.Equal(t, int64(91), tax.Table{Included: true}.Of(money.Of(1000, "JPY"), rate("*", "", "", "10")).Minor)
}

func TestIncludedTaxIsWhatWouldComeOnTop(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		net := rapid.Int64Range(0, 1_000_000).Draw(t, "net")
		r := rate("*", "", "", decimal.New(rapid.Int64Range(0, 3000).Draw(t, "percent"), -2).String())
		on := tax.Table{}.Of(money.Of(net, "EUR"), r).Minor
		in := tax.Table{Included: true}.Of(money.Of(net+on, "EUR"), r).Minor
		assert.InDelta(t, on, in, 1, "but for rounding")
	})
}

func TestUnclearTablesAreRefused(t *testing.T) {
	for want, list := range map[string][]tax.Rate{
		"rates[0].country": {rate("Portugal", "", "", "23")},
		"rates[0].percent": {rate("PT", "", "", "123")},
		"two rates for PT": {rate("PT", "", "", "23"), rate("PT", "", "standard", "22")},
	} {
		assert.ErrorContains(t, tax.Table{Rates: list}.Validate(), want)
	}
}

func TestRatesComeBackInAsCSV(t *testing.T) {
	table := tax.Table{Rates: []tax.Rate{rate("PT", "", "standard", "23"), rate("PT", "Madeira, PT", "reduced", "4.5"), rate("*", "", "standard", "0")}}
	var out strings.Builder
	require.NoError(t, table.WriteCSV(&out))
	back, err := tax.ReadCSV(out.String())
	require.NoError(t, err)
	assert.Equal(t, table.Rates, back)
	for want, text := range map[string]string{
		"line 1 must be":             "a,b,c,d,e\n",
		"line 3: \"x\" is not a per": "country,region,class,percent,name\nPT,,,23,\nES,,,x,\n",
		"line 2: rates[0].country":   "country,region,class,percent,name\nPortugal,,,23,\n",
		"cannot be read":             "country,region\n",
	} {
		_, err := tax.ReadCSV(text)
		assert.ErrorContains(t, err, want)
	}
}
