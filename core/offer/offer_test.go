package offer_test

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func kite(id string, minor int64) goods.Product {
	return goods.Product{ID: id, Name: id, Price: money.Of(minor, "EUR"), Stock: 9, Form: goods.Physical}
}

func percent(id, product, p string) offer.Offer {
	return offer.Offer{ID: id, Name: id, Kind: offer.PercentOff, Percent: decimal.RequireFromString(p), ProductID: product}
}

func off(id, product string, minor int64) offer.Offer {
	return offer.Offer{ID: id, Name: id, Kind: offer.AmountOff, Amount: money.Of(minor, "EUR"), ProductID: product}
}

func quote(t *testing.T, in offer.Input) offer.Quote {
	t.Helper()
	if in.Currency == "" {
		in.Currency = "EUR"
	}
	if in.Moment.IsZero() {
		in.Moment = noon
	}
	q, err := offer.Compute(in)
	require.NoError(t, err)
	return q
}

func TestTheCheapestOfferWins(t *testing.T) {
	for name, c := range map[string]struct {
		offers []offer.Offer
		price  int64
		winner string
	}{
		"none":                    {nil, 6800, ""},
		"a quarter off":           {[]offer.Offer{percent("a", "ember", "25")}, 5100, "a"},
		"amount beats percent":    {[]offer.Offer{percent("a", "ember", "25"), off("b", "ember", 2000)}, 4800, "b"},
		"never below zero":        {[]offer.Offer{off("a", "ember", 99999)}, 0, "a"},
		"the new price is round":  {[]offer.Offer{percent("a", "ember", "33.33")}, 4534, "a"}, // 4533.56
		"another product's":       {[]offer.Offer{percent("a", "gull", "25")}, 6800, ""},
		"equal: the smaller id":   {[]offer.Offer{percent("b", "ember", "50"), off("a", "ember", 3400)}, 3400, "a"},
		"only as a bump":          {[]offer.Offer{{ID: "a", Kind: offer.PercentOff, Percent: decimal.NewFromInt(50), ProductID: "ember", Conditions: offer.Conditions{Only: offer.Bump}}}, 6800, ""},
		"everything for nothing":  {[]offer.Offer{percent("a", "ember", "100")}, 0, "a"},
		"so little it is nothing": {[]offer.Offer{percent("a", "ember", "0.0001")}, 6800, ""},
	} {
		t.Run(name, func(t *testing.T) {
			q := quote(t, offer.Input{
				Goods: []goods.Product{kite("ember", 6800), kite("gull", 2900)}, Offers: c.offers,
				Cart: []offer.Item{{ProductID: "ember", Quantity: 1, Via: offer.Page}},
			})
			assert.Equal(t, c.price, q.Total.Minor)
			if c.winner == "" {
				assert.Empty(t, q.Lines[0].Trail)
				assert.Len(t, q.NotApplied, len(c.offers), "every offer that gave nothing is named with its reason")
				return
			}
			require.Len(t, q.Lines[0].Trail, 1)
			assert.Equal(t, c.winner, q.Lines[0].Trail[0].OfferID)
		})
	}
}

func TestOfEqualOffersTheOlderWins(t *testing.T) {
	young, old := percent("a", "ember", "25"), percent("z", "ember", "25")
	young.Created, old.Created = noon, noon.Add(-time.Hour)
	q := quote(t, offer.Input{Goods: []goods.Product{kite("ember", 6800)}, Offers: []offer.Offer{young, old}, Cart: []offer.Item{{ProductID: "ember", Quantity: 1}}})
	assert.Equal(t, "z", q.Lines[0].Trail[0].OfferID)
}

func TestWindowsAreClosedAtTheirStartAndOpenAtTheirEnd(t *testing.T) {
	o := percent("week", "ember", "25")
	o.Starts, o.Ends = noon, noon.Add(time.Hour)
	in := offer.Input{Goods: []goods.Product{kite("ember", 6800)}, Offers: []offer.Offer{o}, Cart: []offer.Item{{ProductID: "ember", Quantity: 1}}}
	for _, c := range []struct {
		at    time.Time
		total int64
		next  time.Time
	}{
		{noon.Add(-time.Nanosecond), 6800, noon},
		{noon, 5100, noon.Add(time.Hour)},
		{noon.Add(time.Hour - time.Nanosecond), 5100, noon.Add(time.Hour)},
		{noon.Add(time.Hour), 6800, time.Time{}},
	} {
		in.Moment = c.at
		q := quote(t, in)
		assert.Equal(t, c.total, q.Total.Minor, c.at)
		assert.True(t, c.next.Equal(q.NextChange), "%s: next change %s", c.at, q.NextChange)
	}
	in.Moment = noon.Add(2 * time.Hour)
	assert.Equal(t, "It ended on Monday 23 November 2026, 13:00.", quote(t, in).NotApplied[0].Reason)
}

func TestCurrenciesOfNoneTwoAndThreeDigits(t *testing.T) {
	for code, want := range map[string]string{"JPY": "¥750", "EUR": "€7.50", "KWD": "KWD 0.750"} {
		p := goods.Product{ID: "k", Name: "k", Price: money.Of(1000, code)}
		q := quote(t, offer.Input{Currency: code, Goods: []goods.Product{p}, Offers: []offer.Offer{percent("a", "k", "25")}, Cart: []offer.Item{{ProductID: "k", Quantity: 1}}})
		assert.Equal(t, want, q.Total.String())
	}
}

func TestBadInputIsRefusedWithItsPlace(t *testing.T) {
	good := func() offer.Input {
		return offer.Input{Currency: "EUR", Moment: noon, Goods: []goods.Product{kite("ember", 6800)}, Cart: []offer.Item{{ProductID: "ember", Quantity: 1}}}
	}
	for place, spoil := range map[string]func(*offer.Input){
		"currency":         func(in *offer.Input) { in.Currency = "ZZZ" },
		"moment":           func(in *offer.Input) { in.Moment = time.Time{} },
		"cart[0].quantity": func(in *offer.Input) { in.Cart[0].Quantity = 0 },
		"cart[0].product":  func(in *offer.Input) { in.Cart[0].ProductID = "gone" },
		"goods[0].price":   func(in *offer.Input) { in.Goods[0].Price.Currency = "USD" },
		"goods[1]":         func(in *offer.Input) { in.Goods = append(in.Goods, kite("ember", 1)) },
		"offers[0]":        func(in *offer.Input) { in.Offers = []offer.Offer{percent("a", "ember", "101")} },
		"cart":             func(in *offer.Input) { in.Cart = make([]offer.Item, offer.MaxLines+1) },
	} {
		in := good()
		spoil(&in)
		_, err := offer.Compute(in)
		assert.ErrorContains(t, err, place)
	}
}

func TestHonour(t *testing.T) {
	const grace = 10 * time.Minute
	for name, c := range map[string]struct {
		seen, now int64
		changed   time.Time
		after     time.Duration
		want      offer.Verdict
	}{
		"the same":                 {5100, 5100, time.Time{}, 0, offer.ChargeNow},
		"cheaper now":              {6800, 5100, time.Time{}, 0, offer.ChargeNow},
		"dearer, inside the grace": {5100, 6800, noon, grace, offer.ChargeSeen},
		"dearer, past the grace":   {5100, 6800, noon, grace + 1, offer.TellFirst},
		"dearer, nobody knows why": {5100, 6800, time.Time{}, 0, offer.TellFirst},
		"a change still to come":   {5100, 6800, noon, -time.Second, offer.TellFirst},
	} {
		assert.Equal(t, c.want, offer.Honour(c.seen, c.now, c.changed, noon.Add(c.after), grace), name)
	}
}

func ExampleCompute() {
	q, _ := offer.Compute(offer.Input{
		Currency: "EUR", Moment: noon,
		Goods:  []goods.Product{kite("Ember 180", 6800)},
		Offers: []offer.Offer{percent("Lantern week", "Ember 180", "25")},
		Cart:   []offer.Item{{ProductID: "Ember 180", Quantity: 1, Via: offer.Page}},
	})
	fmt.Printf("%s instead of %s, saves %s (%d%%)\n", q.Total, q.List, q.Saving, q.SavingPercent)
	// Output: €51.00 instead of €68.00, saves €17.00 (25%)
}
