package offer_test

import (
	"strings"
	"testing"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/shelf"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func eur(minor int64) money.Money { return money.Of(minor, "EUR") }

func pct(p string) decimal.Decimal { return decimal.RequireFromString(p) }

func cart(pairs ...any) []offer.Item {
	var items []offer.Item
	for i := 0; i < len(pairs); i += 2 {
		items = append(items, offer.Item{ProductID: pairs[i].(string), Quantity: pairs[i+1].(int), Via: offer.Page})
	}
	return items
}

// Worked by hand, each with its sum. Goods: kite 68.00, gull 29.00, cell 9.00,
// line 14.00, and a thing for 9.99.
func TestEveryKindOfOffer(t *testing.T) {
	stock := []goods.Product{kite("kite", 6800), kite("gull", 2900), kite("cell", 900), kite("line", 1400), kite("odd", 999)}
	free := func(o offer.Offer) offer.Offer { o.Name = o.ID; return o }
	for name, c := range map[string]struct {
		offers []offer.Offer
		cart   []offer.Item
		codes  []string
		goods  int64 // after (1)
		total  int64
	}{
		"set price":                        {[]offer.Offer{{ID: "a", Kind: offer.SetPrice, ProductID: "kite", Amount: eur(4900)}}, cart("kite", 2), nil, 9800, 9800},
		"a set price never raises":         {[]offer.Offer{{ID: "a", Kind: offer.SetPrice, ProductID: "cell", Amount: eur(4900)}}, cart("cell", 1), nil, 900, 900},
		"steps: under the first":           {[]offer.Offer{{ID: "a", Kind: offer.Steps, ProductID: "line", Steps: []offer.Step{{From: 3, Percent: pct("10")}}}}, cart("line", 2), nil, 2800, 2800},
		"steps: 3 at 10% = 3 x 12.60":      {[]offer.Offer{{ID: "a", Kind: offer.Steps, ProductID: "line", Steps: []offer.Step{{From: 3, Percent: pct("10")}, {From: 6, Percent: pct("20")}}}}, cart("line", 3), nil, 3780, 3780},
		"steps: count over two lines":      {[]offer.Offer{{ID: "a", Kind: offer.Steps, Products: []string{"line", "cell"}, Steps: []offer.Step{{From: 4, Percent: pct("50")}}}}, cart("line", 2, "cell", 2), nil, 2300, 2300},
		"buy 2 get 1: cheapest is free":    {[]offer.Offer{{ID: "a", Kind: offer.BuyGet, Buy: 2, Get: 1}}, cart("kite", 1, "gull", 1, "cell", 1), nil, 9700, 9700},
		"buy 2 get 1: two groups of six":   {[]offer.Offer{{ID: "a", Kind: offer.BuyGet, Buy: 2, Get: 1}}, cart("kite", 4, "cell", 2), nil, 27200, 27200},
		"buy 1 get 1 at half: 68 + 14.50":  {[]offer.Offer{{ID: "a", Kind: offer.BuyGet, Buy: 1, Get: 1, Percent: pct("50")}}, cart("kite", 1, "gull", 1), nil, 8250, 8250},
		"buy 2 get 1: five units, one":     {[]offer.Offer{{ID: "a", Kind: offer.BuyGet, Buy: 2, Get: 1}}, cart("gull", 5), nil, 11600, 11600},
		"a set for one price":              {[]offer.Offer{{ID: "a", Kind: offer.Set, Amount: eur(8000), Parts: []offer.Part{{ProductID: "kite", Quantity: 1}, {ProductID: "line", Quantity: 1}, {ProductID: "cell", Quantity: 1}}}}, cart("kite", 1, "line", 1, "cell", 1), nil, 8000, 8000},
		"two sets and one kite over":       {[]offer.Offer{{ID: "a", Kind: offer.Set, Amount: eur(8000), Parts: []offer.Part{{ProductID: "kite", Quantity: 1}, {ProductID: "line", Quantity: 1}}}}, cart("kite", 3, "line", 2), nil, 22800, 22800},
		"the kite over takes a quarter":    {[]offer.Offer{{ID: "a", Kind: offer.Set, Amount: eur(8000), Parts: []offer.Part{{ProductID: "kite", Quantity: 1}, {ProductID: "line", Quantity: 1}}}, percent("b", "gull", "25")}, cart("kite", 1, "line", 1, "gull", 2), nil, 12350, 12350},
		"a set dearer than its parts":      {[]offer.Offer{{ID: "a", Kind: offer.Set, Amount: eur(9900), Parts: []offer.Part{{ProductID: "kite", Quantity: 1}, {ProductID: "line", Quantity: 1}}}}, cart("kite", 1, "line", 1), nil, 8200, 8200},
		"amount off the order":             {[]offer.Offer{{ID: "a", Kind: offer.OrderAmount, Amount: eur(1000)}}, cart("kite", 1, "cell", 1), nil, 7700, 6700},
		"more off than the order has":      {[]offer.Offer{{ID: "a", Kind: offer.OrderAmount, Amount: eur(100_000)}}, cart("cell", 1), nil, 900, 0},
		"10% of 9.99 off the order":        {[]offer.Offer{{ID: "a", Kind: offer.OrderPercent, Percent: pct("10")}}, cart("odd", 1), nil, 999, 899},
		"off the order, only its goods":    {[]offer.Offer{{ID: "a", Kind: offer.OrderPercent, Percent: pct("50"), ProductID: "gull"}}, cart("kite", 1, "gull", 1), nil, 9700, 8250},
		"item offer, then the order's":     {[]offer.Offer{percent("a", "kite", "25"), {ID: "b", Kind: offer.OrderPercent, Percent: pct("10")}}, cart("kite", 1), nil, 5100, 4590},
		"one class: 68 - 8, then 10%":      {[]offer.Offer{free(offer.Offer{ID: "a", Kind: offer.PercentOff, Percent: pct("10"), Class: "c"}), free(offer.Offer{ID: "b", Kind: offer.AmountOff, Amount: eur(800), Class: "c"})}, cart("kite", 1), nil, 5400, 5400},
		"two percentages: 9.99 x .9 x .85": {[]offer.Offer{free(offer.Offer{ID: "a", Kind: offer.PercentOff, Percent: pct("10"), Class: "c"}), free(offer.Offer{ID: "b", Kind: offer.PercentOff, Percent: pct("15"), Class: "c"})}, cart("odd", 1), nil, 764, 764},
		"two classes do not add up":        {[]offer.Offer{free(offer.Offer{ID: "a", Kind: offer.PercentOff, Percent: pct("10"), Class: "c"}), free(offer.Offer{ID: "b", Kind: offer.PercentOff, Percent: pct("15"), Class: "d"})}, cart("kite", 1), nil, 5780, 5780},
		"not on goods reduced already":     {[]offer.Offer{percent("a", "kite", "25"), {ID: "b", Kind: offer.OrderPercent, Percent: pct("10"), Conditions: offer.Conditions{NotReduced: true}}}, cart("kite", 1, "gull", 1), nil, 8000, 7710},
		"a code, oddly typed":              {[]offer.Offer{{ID: "a", Kind: offer.OrderAmount, Amount: eur(500), Conditions: offer.Conditions{Codes: []offer.Code{{Code: "FROST-10"}}}}}, cart("kite", 1), []string{" frost 10"}, 6800, 6300},
		"a code used up":                   {[]offer.Offer{{ID: "a", Kind: offer.OrderAmount, Amount: eur(500), Conditions: offer.Conditions{Codes: []offer.Code{{Code: "FROST-10", MaxUses: 1, Used: 1}}}}}, cart("kite", 1), []string{"FROST-10"}, 6800, 6800},
		// 5% off 68.00 would fall under 65.00 and lose the ten off.
		"a lower price that costs more": {[]offer.Offer{percent("a", "kite", "5"), {ID: "b", Kind: offer.OrderAmount, Amount: eur(1000), Conditions: offer.Conditions{MinSubtotal: eur(6500)}}}, cart("kite", 1), nil, 6800, 5800},
		"the subtotal looks after (1)":  {[]offer.Offer{percent("a", "kite", "50"), {ID: "b", Kind: offer.OrderAmount, Amount: eur(1000), Conditions: offer.Conditions{MinSubtotal: eur(6500)}}}, cart("kite", 1), nil, 3400, 3400},
		"enough of its goods":           {[]offer.Offer{{ID: "a", Kind: offer.PercentOff, Percent: pct("50"), ProductID: "cell", Conditions: offer.Conditions{MinQuantity: 2}}}, cart("cell", 2), nil, 900, 900},
	} {
		t.Run(name, func(t *testing.T) {
			q := quote(t, offer.Input{Goods: stock, Offers: c.offers, Cart: c.cart, Codes: c.codes})
			assert.Equal(t, c.goods, q.Goods.Minor, "after item offers")
			assert.Equal(t, c.total, q.Total.Minor, "total")
		})
	}
}

func TestASetIsSplitOverItsGoodsToTheLastCent(t *testing.T) {
	// 80.00 over 68 : 29 : 9 = 51.3208, 21.8868, 6.7925; the largest remainders get the missing cents.
	q := quote(t, offer.Input{
		Goods:  []goods.Product{kite("kite", 6800), kite("gull", 2900), kite("cell", 900)},
		Offers: []offer.Offer{{ID: "a", Name: "Night set", Kind: offer.Set, Amount: eur(8000), Parts: []offer.Part{{ProductID: "kite", Quantity: 1}, {ProductID: "gull", Quantity: 1}, {ProductID: "cell", Quantity: 1}}}},
		Cart:   cart("kite", 1, "gull", 1, "cell", 1),
	})
	var prices []int64
	for _, l := range q.Lines {
		prices = append(prices, l.Price.Minor)
	}
	assert.Equal(t, []int64{5132, 2189, 679}, prices)
}

func TestUnitsOfOneLineMayDifferInPrice(t *testing.T) {
	q := quote(t, offer.Input{
		Goods:  []goods.Product{kite("gull", 2900)},
		Offers: []offer.Offer{{ID: "a", Name: "Third gull", Kind: offer.BuyGet, Buy: 2, Get: 1}},
		Cart:   cart("gull", 3),
	})
	require.Len(t, q.Lines, 2)
	assert.Equal(t, 2, q.Lines[0].Quantity)
	assert.Equal(t, int64(2900), q.Lines[0].Price.Minor)
	assert.Equal(t, 1, q.Lines[1].Quantity)
	assert.Zero(t, q.Lines[1].Price.Minor)
	assert.Equal(t, "Third gull", q.Lines[1].Trail[0].Name)
}

func TestGiftsAreAddedAndNotCounted(t *testing.T) {
	give := func(id, what string) offer.Offer {
		return offer.Offer{ID: id, Name: id, Kind: offer.Gift, GiftID: what, Conditions: offer.Conditions{MinSubtotal: eur(5000)}}
	}
	in := offer.Input{
		Goods:  []goods.Product{kite("kite", 6800), kite("cell", 900), kite("reel", 1500)},
		Offers: []offer.Offer{give("a cell", "cell"), give("a reel", "reel")}, Cart: cart("kite", 1),
	}
	q := quote(t, in)
	require.Len(t, q.Lines, 2)
	assert.True(t, q.Lines[1].Gift)
	assert.Equal(t, "reel", q.Lines[1].ProductID, "of two that stand alone, the one worth more")
	assert.Equal(t, int64(6800), q.List.Minor, "a gift is no saving")
	assert.Zero(t, q.SavingPercent)
	in.Goods[2].Stock = 0
	assert.Equal(t, "cell", quote(t, in).Lines[1].ProductID, "what is sold out is not given")
	in.Cart = cart("cell", 1)
	refused := quote(t, in).NotApplied
	assert.Equal(t, "It needs goods for €50.00; the cart has €9.00 of them, after other offers.", refused[0].Reason)
}

// Rates of Portugal (Código do IVA, art. 18, mainland: 23 and 6 percent; from
// memory) and the sums a handbook would print.
func TestTaxAndShippingWorkedExamples(t *testing.T) {
	book := kite("plans", 1200)
	book.TaxClass, book.Form = "reduced", goods.Digital
	k := kite("kite", 6800)
	k.Weight = 1400
	rates := []tax.Rate{{Country: "PT", Percent: pct("23"), Name: "IVA"}, {Country: "PT", Class: "reduced", Percent: pct("6"), Name: "IVA"}}
	from := eur(7500)
	zones := &shipping.Table{Zones: []shipping.Zone{
		{ID: "home", Countries: []string{"PT"}, By: shipping.Weight, FreeFrom: &from, Steps: []shipping.Step{{From: 0, Price: eur(490)}, {From: 1000, Price: eur(790)}}},
		{ID: "far", Countries: []string{"*"}, By: shipping.Flat, Steps: []shipping.Step{{Price: eur(1900)}}},
	}}
	in := offer.Input{Goods: []goods.Product{k, book}, Cart: cart("kite", 1, "plans", 1), Context: offer.Context{Country: "PT"},
		Tax: &tax.Table{Included: true, Rates: rates}, Shipping: zones}

	q := quote(t, in) // 80.00 of goods: free from 75.00. 68.00 holds 12.72 tax, 12.00 holds 0.68.
	assert.Equal(t, int64(8000), q.Total.Minor)
	assert.Equal(t, int64(1272), q.Lines[0].Tax.Minor)
	assert.Equal(t, int64(68), q.Lines[1].Tax.Minor)
	assert.Equal(t, "free from €75.00", q.Shipping.Why)

	in.Cart = cart("kite", 1)
	q = quote(t, in) // 68.00 + 7.90 by weight, 7.00 short of free
	assert.Equal(t, int64(7590), q.Total.Minor)
	assert.Equal(t, int64(700), q.Shipping.Short.Minor)

	in.Offers = []offer.Offer{{ID: "s", Name: "Half the way", Kind: offer.Shipping, Percent: pct("50")}}
	q = quote(t, in)
	assert.Equal(t, int64(6800+395), q.Total.Minor)
	assert.Equal(t, int64(395), q.Shipping.Trail[0].Off.Minor)

	in.Offers = []offer.Offer{{ID: "s", Name: "Two for the way", Kind: offer.ShippingPrice, Amount: eur(200)}}
	q = quote(t, in) // 7.90 by weight becomes 2.00
	assert.Equal(t, int64(6800+200), q.Total.Minor)
	assert.Equal(t, "delivery for €2.00", q.Shipping.Trail[0].Why)
	in.Offers[0].Amount = eur(790)
	q = quote(t, in)
	assert.Equal(t, int64(6800+790), q.Total.Minor)
	assert.Len(t, q.NotApplied, 1, "it would cost no less")

	in.Offers = []offer.Offer{{ID: "o", Name: "Ten", Kind: offer.OrderAmount, Amount: eur(1000)}}
	in.Cart = cart("kite", 1, "plans", 1)
	q = quote(t, in) // the threshold looks at 80.00, before the ten off; 10.00 over 68 : 12 = 8.50 and 1.50
	assert.Equal(t, int64(7000), q.Total.Minor)
	assert.Equal(t, []int64{850, 150}, []int64{q.Lines[0].Off.Minor, q.Lines[1].Off.Minor})

	in.Offers, in.Tax.Included = nil, false
	q = quote(t, in) // 15.64 and 0.72 come on top
	assert.Equal(t, int64(8000+1564+72), q.Total.Minor)
	assert.Equal(t, "23", q.Taxes[0].Percent.String())

	in.Cart = cart("plans", 1)
	assert.Equal(t, "nothing to send", quote(t, in).Shipping.Why, "digital goods need no parcel")

	in.Cart, in.Context.Country = cart("kite", 1), "US"
	q = quote(t, in)
	assert.Equal(t, int64(8700), q.Total.Minor, "no rate for that place, the far zone's price")
	zones.Zones = zones.Zones[:1]
	_, err := offer.Compute(withDefaults(in))
	assert.ErrorContains(t, err, `the store does not send to "US"`)
}

func withDefaults(in offer.Input) offer.Input {
	in.Currency, in.Moment = "EUR", noon
	return in
}

func TestMarginWarnsOfWhatSellsTooCheap(t *testing.T) {
	k := kite("kite", 6800)
	cost := eur(5000)
	k.Cost = &cost
	in := offer.Input{Goods: []goods.Product{k}, Cart: cart("kite", 1), Floor: pct("20"),
		Tax: &tax.Table{Included: true, Rates: []tax.Rate{{Country: "*", Percent: pct("23")}}}}
	q := quote(t, in) // 68.00 holds 12.72 of tax; 55.28 less 50.00
	assert.Equal(t, int64(528), q.Margin.Kept.Minor)
	assert.Equal(t, 9, q.Margin.Percent)
	assert.Equal(t, []string{"kite leaves 9%, under the store’s floor of 20%."}, q.Warnings)
	in.Offers = []offer.Offer{percent("a", "kite", "25")}
	assert.Contains(t, quote(t, in).Warnings[0], "kite is sold under cost: €8.54 short.") // 51.00 holds 9.54
}

// Every condition says why it does not hold.
func TestReasons(t *testing.T) {
	base := offer.Offer{ID: "a", Name: "a", Kind: offer.PercentOff, Percent: pct("10"), ProductID: "kite"}
	for want, change := range map[string]func(*offer.Offer, *offer.Input){
		"It needs a code.": func(o *offer.Offer, _ *offer.Input) { o.NeedsCode = true },
		"The code FROST has been used up.": func(o *offer.Offer, in *offer.Input) {
			o.Codes = []offer.Code{{Code: "FROST", MaxUses: 5, Used: 5}}
			in.Codes = []string{"frost"}
		},
		"It holds only for who comes by its link.":           func(o *offer.Offer, _ *offer.Input) { o.Link = "spring-letter" },
		"It holds only in its pop-up.":                       func(o *offer.Offer, _ *offer.Input) { o.PopUp = "leaving" },
		"It holds only on its own step.":                     func(o *offer.Offer, _ *offer.Input) { o.Step = "bridge" },
		"It holds only for orders that go to PT, ES.":        func(o *offer.Offer, _ *offer.Input) { o.Countries = []string{"PT", "ES"} },
		"It holds only for a buyer’s first order.":           func(o *offer.Offer, _ *offer.Input) { o.FirstOrder = true },
		"It has been used 50 times, which is all it allows.": func(o *offer.Offer, in *offer.Input) { o.MaxUses = 50; in.Context.Uses = map[string]int{"a": 50} },
		"This buyer has used it 1 times, which is all it allows.": func(o *offer.Offer, in *offer.Input) {
			o.MaxUsesEach = 1
			in.Context.BuyerUses = map[string]int{"a": 1}
		},
		"It needs 3 of its goods; the cart has 1.":          func(o *offer.Offer, _ *offer.Input) { o.MinQuantity = 3 },
		"None of its goods is in the cart.":                 func(o *offer.Offer, _ *offer.Input) { o.ProductID = "gull" },
		"It holds only for what is added as an order bump.": func(o *offer.Offer, _ *offer.Input) { o.Only = offer.Bump },
		"“better” is cheaper for the buyer, and the two are not combined.": func(_ *offer.Offer, in *offer.Input) {
			in.Offers = append(in.Offers, offer.Offer{ID: "b", Name: "better", Kind: offer.PercentOff, Percent: pct("20"), ProductID: "kite"})
		},
		"It would not make the price lower.": func(o *offer.Offer, _ *offer.Input) {
			o.Kind, o.Percent, o.Amount = offer.SetPrice, decimal.Zero, eur(9900)
		},
	} {
		in := offer.Input{Goods: []goods.Product{kite("kite", 6800), kite("gull", 2900)}, Offers: []offer.Offer{base}, Cart: cart("kite", 1)}
		change(&in.Offers[0], &in)
		q := quote(t, in)
		require.Len(t, q.NotApplied, 1, want)
		assert.Equal(t, strings.ReplaceAll(want, "’", "'"), strings.ReplaceAll(q.NotApplied[0].Reason, "’", "'"))
	}
}

func TestOffersOnAShelf(t *testing.T) {
	old, fresh := kite("old", 5000), kite("fresh", 5000)
	old.Received, fresh.Received = noon.AddDate(0, 0, -91), noon.AddDate(0, 0, -90)
	ninetyOne := decimal.NewFromInt(91)
	q := quote(t, offer.Input{
		Goods:  []goods.Product{old, fresh},
		Offers: []offer.Offer{{ID: "a", Name: "Clearance", Kind: offer.PercentOff, Percent: pct("40"), Shelf: &shelf.Rule{Field: shelf.DaysInStock, AtLeast: &ninetyOne}}},
		Cart:   cart("old", 1, "fresh", 1),
	})
	assert.Equal(t, int64(3000+5000), q.Total.Minor)
	assert.True(t, q.NextChange.Equal(noon.AddDate(0, 0, 1).Truncate(24*3600e9)), "at midnight one more has stood long enough: %s", q.NextChange)
}

func TestLargeBaskets(t *testing.T) {
	in := offer.Input{Cart: make([]offer.Item, 500)}
	for i := range in.Cart {
		in.Cart[i] = offer.Item{ProductID: "kite", Quantity: offer.MaxQuantity}
	}
	in.Goods = []goods.Product{kite("kite", money.Limit)}
	in.Offers = []offer.Offer{percent("a", "kite", "33.3333"), {ID: "b", Name: "b", Kind: offer.OrderPercent, Percent: pct("12.5")}}
	q := quote(t, in) // 666 667 000 000 each, 5 million of them, less an eighth
	assert.Equal(t, int64(666_667_000_000)*5_000_000, q.Goods.Minor)
	assert.Equal(t, int64(666_667_000_000)*5_000_000/8*7, q.Total.Minor)
	assert.Equal(t, 41, q.SavingPercent)
}
