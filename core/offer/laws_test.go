package offer_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var goodsIDs = []string{"ember", "gull", "cell", "plans"}

// drawOffer makes an offer of any kind with any conditions.
func drawOffer(t *rapid.T, id string) offer.Offer {
	o := offer.Offer{ID: id, Name: id, Class: rapid.SampledFrom([]string{"", "", "a", "b"}).Draw(t, "class")}
	o.Kind = rapid.SampledFrom([]offer.Kind{
		offer.PercentOff, offer.PercentOff, offer.AmountOff, offer.SetPrice, offer.Steps, offer.BuyGet, offer.Set,
		offer.OrderPercent, offer.OrderAmount, offer.Shipping, offer.ShippingPrice, offer.Gift,
	}).Draw(t, "kind")
	eur := func(name string, most int64) money.Money {
		return money.Of(rapid.Int64Range(1, most).Draw(t, name), "EUR")
	}
	percentage := func() decimal.Decimal { return decimal.New(rapid.Int64Range(1, 1000).Draw(t, "percent"), -1) }
	switch o.Kind {
	case offer.PercentOff, offer.OrderPercent:
		o.Percent = percentage()
	case offer.Steps:
		o.Steps = []offer.Step{{From: rapid.IntRange(1, 3).Draw(t, "from"), Percent: percentage()}, {From: 5, Percent: percentage()}}
	case offer.BuyGet:
		o.Buy, o.Get = rapid.IntRange(1, 3).Draw(t, "buy"), rapid.IntRange(1, 2).Draw(t, "get")
		if rapid.Bool().Draw(t, "half") {
			o.Percent = decimal.NewFromInt(50)
		}
	case offer.Set:
		o.Amount = eur("set", 4000)
		o.Parts = []offer.Part{{ProductID: "ember", Quantity: 1}, {ProductID: "gull", Quantity: rapid.IntRange(1, 2).Draw(t, "gulls")}}
	case offer.Gift:
		o.GiftID = "plans"
	case offer.AmountOff, offer.SetPrice, offer.OrderAmount, offer.Shipping, offer.ShippingPrice:
		o.Amount = eur("amount", 3000)
	}
	if o.Kind != offer.Set && rapid.Bool().Draw(t, "narrow") {
		o.Products = []string{rapid.SampledFrom(goodsIDs).Draw(t, "on"), rapid.SampledFrom(goodsIDs).Draw(t, "or")}
	}
	switch rapid.IntRange(0, 7).Draw(t, "condition") {
	case 0:
		o.MinSubtotal = eur("subtotal", 9000)
	case 1:
		o.MinQuantity = rapid.IntRange(1, 6).Draw(t, "at least")
	case 2:
		o.Codes = []offer.Code{{Code: "FROST-10"}}
	case 3:
		o.NotReduced = true
	case 4:
		o.Only = rapid.SampledFrom([]offer.Via{offer.Bump, offer.Upsell, offer.Page}).Draw(t, "only")
	case 5:
		hour := time.Duration(rapid.IntRange(-48, 48).Draw(t, "starts")) * time.Hour
		o.Starts = noon.Add(hour)
		o.Ends = o.Starts.Add(time.Duration(rapid.IntRange(1, 48).Draw(t, "length")) * time.Hour)
	}
	return o
}

func drawInput(t *rapid.T, offers int) offer.Input {
	in := offer.Input{Currency: "EUR", Moment: noon, Context: offer.Context{Country: "PT"}}
	for _, id := range goodsIDs {
		p := kite(id, rapid.Int64Range(0, 4000).Draw(t, id))
		p.Weight = rapid.IntRange(0, 900).Draw(t, "grams")
		in.Goods = append(in.Goods, p)
	}
	for i := range rapid.IntRange(0, offers).Draw(t, "offers") {
		in.Offers = append(in.Offers, drawOffer(t, fmt.Sprintf("o%d", i)))
	}
	for range rapid.IntRange(0, 5).Draw(t, "lines") {
		in.Cart = append(in.Cart, offer.Item{
			ProductID: rapid.SampledFrom(goodsIDs).Draw(t, "product"), Quantity: rapid.IntRange(1, 5).Draw(t, "quantity"),
			Via: rapid.SampledFrom([]offer.Via{offer.Page, offer.Bump}).Draw(t, "via"),
		})
	}
	if rapid.Bool().Draw(t, "shipping") {
		free := money.Of(rapid.Int64Range(1, 9000).Draw(t, "free from"), "EUR")
		in.Shipping = &shipping.Table{Zones: []shipping.Zone{{ID: "near", Countries: []string{"*"}, By: shipping.Weight, FreeFrom: &free, Steps: []shipping.Step{
			{From: 0, Price: money.Of(490, "EUR")}, {From: 1000, Price: money.Of(890, "EUR")},
		}}}}
	}
	if rapid.Bool().Draw(t, "tax") {
		in.Tax = &tax.Table{Included: rapid.Bool().Draw(t, "included"), Rates: []tax.Rate{{Country: "*", Percent: decimal.NewFromInt(23)}}}
	}
	return in
}

// The laws every quote keeps.
func TestLawsOfAQuote(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawInput(t, 7)
		q, err := offer.Compute(in)
		require.NoError(t, err)

		var net, units, reductions int64
		for _, l := range q.Lines {
			require.Equal(t, l.Price.Minor*int64(l.Quantity), l.Total.Minor, "the price shown times the quantity is the price charged")
			require.GreaterOrEqual(t, l.Net.Minor, int64(0), "never below zero")
			require.Equal(t, l.Total.Minor-l.Off.Minor, l.Net.Minor)
			off := int64(0)
			for _, a := range l.Trail {
				off += a.Off.Minor
			}
			require.Equal(t, l.List.Minor-l.Price.Minor, off, "the trail explains the whole of a price")
			net += l.Net.Minor
			if !l.Gift {
				units += int64(l.Quantity)
			}
		}
		for _, r := range q.Reductions {
			reductions += r.Off.Minor
		}
		for _, item := range in.Cart {
			units -= int64(item.Quantity)
		}
		require.Zero(t, units, "no unit is lost or added")
		require.Equal(t, q.Goods.Minor-reductions, net)
		require.Equal(t, q.Subtotal.Minor, net)
		require.LessOrEqual(t, q.Subtotal.Minor, q.List.Minor, "never above the list")
		require.Equal(t, q.List.Minor-q.Subtotal.Minor, q.Saving.Minor)
		total := net + q.Shipping.Total.Minor
		if !q.TaxIncluded {
			total += q.Tax.Minor
		}
		require.Equal(t, total, q.Total.Minor, "lines, shipping and tax add up to the last unit")
		require.LessOrEqual(t, q.SavingPercent*int(q.List.Minor), 100*int(q.Saving.Minor), "a saving is never overstated")

		shuffled := in
		shuffled.Offers = rapid.Permutation(in.Offers).Draw(t, "order")
		again, err := offer.Compute(shuffled)
		require.NoError(t, err)
		require.Equal(t, q, again, "whatever the order of the input")

		coded := in
		coded.Codes = []string{"frost 10"}
		with, err := offer.Compute(coded)
		require.NoError(t, err)
		require.LessOrEqual(t, with.Total.Minor, q.Total.Minor, "a code never raises the total")

		if !q.NextChange.IsZero() {
			later := in
			later.Moment = q.NextChange.Add(-time.Nanosecond)
			before, err := offer.Compute(later)
			require.NoError(t, err)
			require.Equal(t, q.Lines, before.Lines, "nothing changes between the moment and the next change")
			require.Equal(t, q.Total, before.Total)
		}
	})
}

// Whatever subset of the offers is handed in alone, none comes to less than all
// of them together: the best set is found. This tries every subset, and so is
// independent of how the best one is looked for.
func TestNoSubsetOfTheOffersIsCheaper(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawInput(t, 6)
		in.Codes = []string{"FROST10"}
		q, err := offer.Compute(in)
		require.NoError(t, err)
		least := q.Total.Minor
		for mask := range 1 << len(in.Offers) {
			some := in
			some.Offers = nil
			for i, o := range in.Offers {
				if mask&(1<<i) != 0 {
					some.Offers = append(some.Offers, o)
				}
			}
			other, err := offer.Compute(some)
			require.NoError(t, err)
			least = min(least, other.Total.Minor)
		}
		require.Equal(t, least, q.Total.Minor)
	})
}

// bruteUnits is the cheapest sum of a cart under offers on units only, written
// down anew with decimals and without any of the engine's shortcuts: for each
// line every offer by itself, and every subset of every class.
func bruteUnits(in offer.Input) int64 {
	sum := int64(0)
	for _, item := range in.Cart {
		i := slices.IndexFunc(in.Goods, func(p goods.Product) bool { return p.ID == item.ProductID })
		list := in.Goods[i].Price.Minor
		best := list
		for mask := range 1 << len(in.Offers) {
			var some []offer.Offer
			for j, o := range in.Offers {
				if mask&(1<<j) != 0 {
					some = append(some, o)
				}
			}
			fits := true
			for _, o := range some {
				fits = fits && slices.Contains(o.Products, item.ProductID) && (len(some) == 1 || (o.Class != "" && o.Class == some[0].Class))
			}
			if !fits {
				continue
			}
			best = min(best, brutePrice(list, some))
		}
		sum += best * int64(item.Quantity)
	}
	return sum
}

func brutePrice(list int64, some []offer.Offer) int64 {
	price := decimal.NewFromInt(list)
	for _, o := range some {
		if o.Kind == offer.SetPrice && decimal.NewFromInt(o.Amount.Minor).LessThan(price) {
			price = decimal.NewFromInt(o.Amount.Minor)
		}
	}
	for _, o := range some {
		if o.Kind == offer.AmountOff {
			price = decimal.Max(decimal.Zero, price.Sub(decimal.NewFromInt(o.Amount.Minor)))
		}
	}
	for _, o := range some {
		if o.Kind == offer.PercentOff {
			price = price.Mul(decimal.NewFromInt(100).Sub(o.Percent)).Div(decimal.NewFromInt(100))
		}
	}
	return price.Round(0).IntPart()
}

// Each of many goods keeps its own offer of a class that is shared: offers on other
// goods take nobody's place.
func TestOffersOnOtherGoodsTakeNobodysPlace(t *testing.T) {
	in := offer.Input{Currency: "EUR", Moment: noon}
	for i := range 12 {
		id := fmt.Sprintf("kite-%d", i)
		in.Goods = append(in.Goods, kite(id, int64(1000+i)))
		in.Offers = append(in.Offers, offer.Offer{ID: "o-" + id, Name: "o", Class: "season", Kind: offer.PercentOff, Percent: decimal.NewFromInt(10), Products: []string{id}})
		in.Cart = append(in.Cart, offer.Item{ProductID: id, Quantity: 1})
	}
	q, err := offer.Compute(in)
	require.NoError(t, err)
	for _, l := range q.Lines {
		require.Len(t, l.Trail, 1, l.ProductID)
	}
}

func TestUnitOffersAgreeWithBruteForce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := offer.Input{Currency: "EUR", Moment: noon}
		for _, id := range goodsIDs {
			in.Goods = append(in.Goods, kite(id, rapid.Int64Range(0, 5000).Draw(t, id)))
		}
		for i := range rapid.IntRange(0, 7).Draw(t, "offers") {
			o := offer.Offer{
				ID: fmt.Sprint("o", i), Name: "o", Class: rapid.SampledFrom([]string{"", "a", "b"}).Draw(t, "class"),
				Kind:     rapid.SampledFrom([]offer.Kind{offer.PercentOff, offer.AmountOff, offer.SetPrice}).Draw(t, "kind"),
				Products: rapid.SliceOfNDistinct(rapid.SampledFrom(goodsIDs), 1, 3, rapid.ID).Draw(t, "on"),
			}
			if o.Kind == offer.PercentOff {
				o.Percent = decimal.New(rapid.Int64Range(1, 10_000).Draw(t, "percent"), -2)
			} else {
				o.Amount = money.Of(rapid.Int64Range(1, 4000).Draw(t, "amount"), "EUR")
			}
			in.Offers = append(in.Offers, o)
		}
		for range rapid.IntRange(1, 4).Draw(t, "lines") {
			in.Cart = append(in.Cart, offer.Item{ProductID: rapid.SampledFrom(goodsIDs).Draw(t, "product"), Quantity: rapid.IntRange(1, 4).Draw(t, "quantity")})
		}
		q, err := offer.Compute(in)
		require.NoError(t, err)
		if q.Weighed == offer.WeighedAll { // more than five of one class on a unit are not all tried
			require.Equal(t, bruteUnits(in), q.Total.Minor)
		}
	})
}

func TestCodesAreMatchedHoweverTheyAreTyped(t *testing.T) {
	for _, typed := range []string{"FROST-10", "frost10", " Frost 10 ", "f r o s t–1 0", "FROST—10", "ｆｒｏｓｔ１０", "fro\u00adst\u200b10"} {
		assert.Equal(t, "FROST10", offer.Normal(typed), typed)
	}
	assert.NotEqual(t, offer.Normal("FROST-1O"), offer.Normal("FROST-10"), "other signs are another code")
	for _, pair := range []string{"0O", "1I", "1L", "5S", "2Z", "8B"} {
		both := 0
		for _, r := range pair {
			if slices.Contains([]rune(offer.Alphabet), r) {
				both++
			}
		}
		assert.Less(t, both, 2, "%s look alike", pair)
	}
	assert.Equal(t, "FROST-ACDE-F", offer.CodeOf("FROST", []byte{0, 1, 2, 3, 4}))
	assert.True(t, offer.Fair(249))
	assert.False(t, offer.Fair(250))
}
