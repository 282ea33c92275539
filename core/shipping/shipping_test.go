package shipping_test

import (
	"strings"
	"testing"

	"chrysagon/core/money"
	"chrysagon/core/shipping"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func eur(minor int64) money.Money { return money.Of(minor, "EUR") }

func table() shipping.Table {
	free := eur(7500)
	return shipping.Table{Zones: []shipping.Zone{
		{ID: "home", Countries: []string{"PT"}, By: shipping.Weight, FreeFrom: &free, UpTo: 30_000, Steps: []shipping.Step{{From: 0, Price: eur(390)}, {From: 1000, Price: eur(590)}, {From: 5000, Price: eur(990)}}},
		{ID: "near", Countries: []string{"ES", "FR"}, By: shipping.Total, Steps: []shipping.Step{{From: 0, Price: eur(1200)}, {From: 10_000, Price: eur(600)}}},
		{ID: "far", Countries: []string{"*"}, By: shipping.Flat, Steps: []shipping.Step{{From: 0, Price: eur(2500)}}},
	}}
}

func TestPrices(t *testing.T) {
	require.NoError(t, table().Validate("EUR"))
	for name, c := range map[string]struct {
		parcel shipping.Parcel
		want   int64
	}{
		"just under a kilogram":    {shipping.Parcel{Country: "PT", Weight: 999, Goods: true}, 390},
		"a kilogram: the bound in": {shipping.Parcel{Country: "PT", Weight: 1000, Goods: true}, 590},
		"free from 75.00":          {shipping.Parcel{Country: "PT", Weight: 9000, Total: 7500, Goods: true}, 0},
		"a cent short of it":       {shipping.Parcel{Country: "PT", Weight: 9000, Total: 7499, Goods: true}, 990},
		"by total, under":          {shipping.Parcel{Country: "ES", Total: 9999, Goods: true}, 1200},
		"by total, from":           {shipping.Parcel{Country: "FR", Total: 10_000, Goods: true}, 600},
		"everywhere else":          {shipping.Parcel{Country: "JP", Goods: true}, 2500},
		"digital goods need none":  {shipping.Parcel{Country: "JP"}, 0},
	} {
		cost, err := table().Price(c.parcel, "EUR")
		require.NoError(t, err)
		assert.Equal(t, c.want, cost.Price.Minor, name)
	}
	cost, err := table().Price(shipping.Parcel{Country: "PT", Total: 7000, Goods: true}, "EUR")
	require.NoError(t, err)
	assert.Equal(t, int64(500), cost.Short.Minor)
	_, err = table().Price(shipping.Parcel{Country: "PT", Weight: 30_001, Goods: true}, "EUR")
	assert.ErrorContains(t, err, "beyond what the store sends")
	here := table()
	here.Zones = here.Zones[:2]
	_, err = here.Price(shipping.Parcel{Country: "JP", Goods: true}, "EUR")
	assert.ErrorContains(t, err, `does not send to "JP"`)
}

func TestUnclearTablesAreRefused(t *testing.T) {
	for want, spoil := range map[string]func(*shipping.Table){
		"PT stands in zone home already": func(t *shipping.Table) { t.Zones[1].Countries[0] = "PT" },
		"zones[0].by":                    func(t *shipping.Table) { t.Zones[0].By = "size" },
		"the first must be from 0":       func(t *shipping.Table) { t.Zones[0].Steps[0].From = 1 },
		"does not rise":                  func(t *shipping.Table) { t.Zones[0].Steps[2].From = 1000 },
		"zones[2].steps[0].price":        func(t *shipping.Table) { t.Zones[2].Steps[0].Price.Currency = "USD" },
		"zones[1]: needs an id":          func(t *shipping.Table) { t.Zones[1].Countries = nil },
	} {
		bad := table()
		spoil(&bad)
		assert.ErrorContains(t, bad.Validate("EUR"), want)
	}
}

func TestZonesComeBackInAsCSV(t *testing.T) {
	var out strings.Builder
	require.NoError(t, table().WriteCSV(&out))
	back, err := shipping.ReadCSV(out.String(), "EUR")
	require.NoError(t, err)
	assert.Equal(t, table(), back)
	const head = "zone,name,countries,by,from,price,free_from,up_to\n"
	for want, text := range map[string]string{
		"line 1 must be":                     "zone\n",
		"line 2: price":                      head + "home,Home,PT,flat,0,cheap,,\n",
		"line 2: from: \"heavy\" is not a w": head + "home,Home,PT,weight,heavy,1,,\n",
		"PT stands in zone home already":     head + "home,Home,PT,flat,0,1,,\nnear,Near,PT,flat,0,1,,\n",
	} {
		_, err := shipping.ReadCSV(text, "EUR")
		if want == "line 1 must be" {
			want = "cannot be read"
		}
		assert.ErrorContains(t, err, want)
	}
}
