package offer_test

import (
	"fmt"
	"testing"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func one(o offer.Offer, id string) offer.Offer { o.ID, o.Name = id, id; return o }

// A subtotal holds back an offer on units and on groups, at list price and only
// of what the offer covers.
func TestASubtotalHoldsOnEveryKind(t *testing.T) {
	stock := []goods.Product{kite("kite", 6800), kite("gull", 2900)}
	for name, o := range map[string]offer.Offer{
		"percent_off": {Kind: offer.PercentOff, Percent: pct("60")}, "amount_off": {Kind: offer.AmountOff, Amount: eur(4080)},
		"set_price": {Kind: offer.SetPrice, Amount: eur(2720)}, "steps": {Kind: offer.Steps, Steps: []offer.Step{{From: 1, Percent: pct("60")}}},
		"buy_get": {Kind: offer.BuyGet, Buy: 1, Get: 1}, "set": {Kind: offer.Set, Amount: eur(5000), Parts: []offer.Part{{ProductID: "kite", Quantity: 2}}},
		"order_percent_off": {Kind: offer.OrderPercent, Percent: pct("60")}, "order_amount_off": {Kind: offer.OrderAmount, Amount: eur(4080)},
	} {
		o = one(o, name)
		if o.Kind != offer.Set {
			o.Products = []string{"kite"}
		}
		o.MinSubtotal = eur(13601)
		in := offer.Input{Goods: stock, Offers: []offer.Offer{o}, Cart: cart("kite", 2, "gull", 5)}
		q := quote(t, in)
		assert.Equal(t, q.List, q.Total, "%s: two kites come to 136.00, and what else is there does not count", name)
		assert.Contains(t, q.NotApplied[0].Reason, "It needs goods for €136.01; the cart has €136.00 of them")
		in.Offers[0].MinSubtotal = eur(13600)
		assert.Less(t, quote(t, in).Total.Minor, q.Total.Minor, "%s: the bound is included", name)
	}
}

// Worked by hand; the order of the offers in the input does not matter.
func TestAnOfferThatStandsAlone(t *testing.T) {
	alone30, plain20 := one(offer.Offer{Kind: offer.PercentOff, Percent: pct("30"), Alone: true}, "a"), one(offer.Offer{Kind: offer.PercentOff, Percent: pct("20")}, "p")
	off15 := one(offer.Offer{Kind: offer.OrderAmount, Amount: eur(1500)}, "o")
	for name, c := range map[string]struct {
		goods  []goods.Product
		offers []offer.Offer
		cart   []offer.Item
		total  int64
	}{
		"20% and 15.00 off the order beat 30% alone":   {[]goods.Product{kite("k", 10000)}, []offer.Offer{alone30, plain20, off15}, cart("k", 1), 6500},
		"five at 10.00: 30% alone or 15.00 off":        {[]goods.Product{kite("k", 1000)}, []offer.Offer{alone30, off15}, cart("k", 5), 3500},
		"the order's offer leaves touched units out":   {[]goods.Product{kite("k", 10000), kite("g", 1000)}, []offer.Offer{one(offer.Offer{Kind: offer.PercentOff, Percent: pct("50"), Alone: true, ProductID: "k"}, "a"), off15}, cart("k", 1, "g", 1), 5000},
		"but they count for its subtotal":              {[]goods.Product{kite("k", 10000), kite("g", 1000)}, []offer.Offer{one(offer.Offer{Kind: offer.PercentOff, Percent: pct("50"), Alone: true, ProductID: "k"}, "a"), one(offer.Offer{Kind: offer.OrderAmount, Amount: eur(400), Conditions: offer.Conditions{MinSubtotal: eur(6000)}}, "o")}, cart("k", 1, "g", 1), 5600},
		"a group's units paid in full are touched too": {[]goods.Product{kite("k", 1000)}, []offer.Offer{one(offer.Offer{Kind: offer.BuyGet, Buy: 1, Get: 1, Alone: true}, "b"), one(offer.Offer{Kind: offer.OrderPercent, Percent: pct("10")}, "o")}, cart("k", 3), 1900},
		"an order offer alone covers unreduced units":  {[]goods.Product{kite("k", 1000), kite("g", 1000)}, []offer.Offer{one(offer.Offer{Kind: offer.PercentOff, Percent: pct("50"), ProductID: "k"}, "p"), one(offer.Offer{Kind: offer.OrderPercent, Percent: pct("50"), Alone: true}, "o")}, cart("k", 1, "g", 1), 1000},
		"and no other order offer works beside it":     {[]goods.Product{kite("k", 1000)}, []offer.Offer{one(offer.Offer{Kind: offer.OrderPercent, Percent: pct("50"), Alone: true}, "o"), one(offer.Offer{Kind: offer.OrderAmount, Amount: eur(100), Class: "c"}, "x"), one(offer.Offer{Kind: offer.OrderAmount, Amount: eur(100), Class: "c"}, "y")}, cart("k", 1), 500},
	} {
		in := offer.Input{Goods: c.goods, Offers: c.offers, Cart: c.cart}
		assert.Equal(t, c.total, quote(t, in).Total.Minor, name)
		for i, j := 0, len(c.offers)-1; i < j; i, j = i+1, j-1 {
			c.offers[i], c.offers[j] = c.offers[j], c.offers[i]
		}
		assert.Equal(t, c.total, quote(t, in).Total.Minor, name)
	}
	for _, o := range []offer.Offer{
		{Kind: offer.PercentOff, Percent: pct("5"), Alone: true, Class: "c"}, {Kind: offer.Shipping, Alone: true}, {Kind: offer.Gift, GiftID: "k", Alone: true},
	} {
		o = one(o, "o")
		assert.ErrorContains(t, o.Validate("EUR"), "alone: ")
	}
}

// 5.00 with ten percent and 8.00 off the order is nothing with the 8.00 alone.
func TestNoOfferIsUsedUpForNothing(t *testing.T) {
	q := quote(t, offer.Input{Goods: []goods.Product{kite("k", 500)}, Offers: []offer.Offer{percent("ten", "k", "10"), one(offer.Offer{Kind: offer.OrderAmount, Amount: eur(800)}, "eight")}, Cart: cart("k", 1)})
	assert.Zero(t, q.Total.Minor)
	assert.Empty(t, q.Lines[0].Trail)
	require.Len(t, q.NotApplied, 1)
	assert.Equal(t, "ten", q.NotApplied[0].OfferID)
}

// No cart is refused for the offers it meets, and what was not weighed says so.
func TestManyGroupsAreWeighedAndNoneIsRefused(t *testing.T) {
	in := offer.Input{Goods: []goods.Product{kite("k", 1000)}, Cart: cart("k", 6)}
	for i := range 15 {
		in.Offers = append(in.Offers, one(offer.Offer{Kind: offer.BuyGet, Buy: 5 - i%5, Get: 1}, fmt.Sprint("b", i)))
	}
	q := quote(t, in)
	assert.Equal(t, offer.WeighedSome, q.Weighed)
	assert.Equal(t, int64(3000), q.Total.Minor, "buy one, get one takes most off and is weighed")
	assert.Contains(t, fmt.Sprint(q.NotApplied), "not weighed against the others")
}

func TestUnitsOfOnePriceAndTrailAreOneLine(t *testing.T) {
	q := quote(t, offer.Input{Goods: []goods.Product{kite("k", 999)}, Offers: []offer.Offer{one(offer.Offer{Kind: offer.BuyGet, Buy: 2, Get: 1}, "b")}, Cart: cart("k", 5)})
	require.Len(t, q.Lines, 2)
	assert.Equal(t, 4, q.Lines[0].Quantity)
	assert.Equal(t, 1, q.Lines[1].Quantity)
}

func TestMoreThanCanBeCountedIsRefusedWithItsLine(t *testing.T) {
	in := offer.Input{Currency: "EUR", Moment: noon, Goods: []goods.Product{kite("k", money.Limit)}, Context: offer.Context{Country: "PT"}, Tax: &tax.Table{Rates: []tax.Rate{{Country: "PT", Percent: pct("100")}}}}
	for range offer.MaxLines {
		in.Cart = append(in.Cart, offer.Item{ProductID: "k", Quantity: offer.MaxQuantity})
	}
	_, err := offer.Compute(in)
	require.ErrorContains(t, err, "cart[450].quantity: ")
	in.Cart = in.Cart[:450]
	q, err := offer.Compute(in)
	require.NoError(t, err)
	assert.Equal(t, int64(9_000_000_000_000_000_000), q.Total.Minor)
}

func TestShippingIsSentFreeOnlyWhereNothingIsReduced(t *testing.T) {
	in := offer.Input{
		Goods: []goods.Product{kite("k", 6800), kite("g", 2900)}, Cart: cart("k", 1, "g", 1), Context: offer.Context{Country: "PT"},
		Offers:   []offer.Offer{one(offer.Offer{Kind: offer.Shipping, Conditions: offer.Conditions{NotReduced: true}}, "free"), percent("ten", "k", "10")},
		Shipping: &shipping.Table{Zones: []shipping.Zone{{ID: "home", Countries: []string{"PT"}, By: shipping.Flat, Steps: []shipping.Step{{Price: eur(490)}}}}},
	}
	q := quote(t, in)
	assert.Equal(t, int64(6120+2900+490), q.Total.Minor)
	assert.Contains(t, q.NotApplied[0].Reason, "reduced some of its goods")
	in.Offers = in.Offers[:1]
	assert.Equal(t, int64(6800+2900), quote(t, in).Total.Minor)
}

func TestUnknownValuesAreRefusedWithWhatCouldStandThere(t *testing.T) {
	good := func() offer.Input {
		return offer.Input{Currency: "EUR", Moment: noon, Goods: []goods.Product{kite("k", 6800)}, Cart: cart("k", 1), Offers: []offer.Offer{percent("o", "k", "10")}}
	}
	for say, spoil := range map[string]func(*offer.Input){
		`context.country: "de" is not a country's two capital letters (ISO 3166-1), such as PT`: func(in *offer.Input) { in.Context.Country = "de" },
		`goods[0].form: "phisical"; it must be physical, digital or bookable`:                   func(in *offer.Input) { in.Goods[0].Form = "phisical" },
		`goods[0].condition: "used"; it must be new, returned or ex-demo`:                       func(in *offer.Input) { in.Goods[0].Condition = "used" },
		`cart[0].via: "mail"; it must be page, bump or upsell`:                                  func(in *offer.Input) { in.Cart[0].Via = "mail" },
		`offers[0].only: "mail"; it must be page, bump or upsell`:                               func(in *offer.Input) { in.Offers[0].Only = "mail" },
		`offers[0].kind: "gratis"; it must be one of amount_off, buy_get`:                       func(in *offer.Input) { in.Offers[0].Kind = "gratis" },
		`offers[0].countries[1]: "XQ" is not`:                                                   func(in *offer.Input) { in.Offers[0].Countries = []string{"PT", "XQ"} },
		`offers[0].buy: an offer of the kind percent_off has none; it takes percent`:            func(in *offer.Input) { in.Offers[0].Buy = 2 },
		`offers[0].amount: an offer of the kind percent_off has none; it takes percent`:         func(in *offer.Input) { in.Offers[0].Amount = eur(5) },
		`offers[0].products: a set is on its parts`: func(in *offer.Input) {
			in.Offers[0] = one(offer.Offer{Kind: offer.Set, Amount: eur(5), Parts: []offer.Part{{ProductID: "k", Quantity: 1}}, Products: []string{"k"}}, "s")
		},
		`tax.rates[0].country: "pt" is not`: func(in *offer.Input) { in.Tax = &tax.Table{Rates: []tax.Rate{{Country: "pt"}}} },
	} {
		in := good()
		spoil(&in)
		_, err := offer.Compute(in)
		assert.ErrorContains(t, err, say)
	}
}
