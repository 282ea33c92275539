package main

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/shelf"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
)

// cart makes a cart of so many lines with so many offers, spread over them.
func cart(lines, offers int) offer.Input {
	in := offer.Input{Currency: "EUR", Moment: time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)}
	for i := range lines {
		id := fmt.Sprintf("kite-%d", i)
		in.Goods = append(in.Goods, goods.Product{ID: id, Name: id, Price: money.Of(int64(1000+i*37), "EUR"), Stock: 9})
		in.Cart = append(in.Cart, offer.Item{ProductID: id, Quantity: i%3 + 1})
	}
	for i := range offers {
		in.Offers = append(in.Offers, offer.Offer{
			ID: fmt.Sprintf("offer-%d", i), Name: "Offer", Kind: offer.PercentOff, Percent: decimal.NewFromInt(int64(i%60 + 1)),
			ProductID: fmt.Sprintf("kite-%d", i%lines), Conditions: offer.Conditions{Starts: in.Moment.Add(-time.Hour), Ends: in.Moment.Add(time.Hour)},
		})
	}
	return in
}

// timed is how long one quote of a cart takes.
func timed(in offer.Input) (time.Duration, error) {
	var failed error
	r := testing.Benchmark(func(b *testing.B) {
		for b.Loop() {
			if _, err := offer.Compute(in); err != nil {
				failed = err
			}
		}
	})
	return time.Duration(r.NsPerOp()), failed
}

func quotes() error {
	var took [3]time.Duration
	for i, in := range []offer.Input{cart(50, 200), mixed(), cart(500, 200)} {
		var err error
		if took[i], err = timed(in); err != nil {
			return err
		}
	}
	report("one quote, 50 lines, 200 offers", "%s", "under 1 ms", took[0])
	report("one quote, 50 lines, 200 offers of every kind, with shipping and tax", "%s", "under 1 ms", took[1])
	report("one quote, 500 lines, 200 offers", "%s, %.1f times as long", "at most 10 times as long", took[2], float64(took[2])/float64(took[0]))
	return hardQuotes()
}

// mixed is a cart with offers of every kind, classes, conditions, a shipping
// threshold and tax.
func mixed() offer.Input {
	in := cart(50, 150)
	eur := func(minor int64) money.Money { return money.Of(minor, "EUR") }
	for i := range 50 {
		o := offer.Offer{ID: fmt.Sprintf("mixed-%d", i), Name: "Mixed", Class: []string{"", "a", "b"}[i%3]}
		id := fmt.Sprintf("kite-%d", i)
		switch i % 8 {
		case 0:
			o.Kind, o.Amount, o.ProductID = offer.AmountOff, eur(150), id
		case 1:
			o.Kind, o.Amount, o.ProductID = offer.SetPrice, eur(990), id
		case 2:
			o.Kind, o.Products = offer.Steps, []string{id, "kite-1"}
			o.Steps = []offer.Step{{From: 3, Percent: decimal.NewFromInt(10)}}
		case 3:
			o.Kind, o.Percent, o.MinSubtotal = offer.OrderPercent, decimal.NewFromInt(5), eur(5000)
		case 4:
			o.Kind, o.Amount, o.Codes = offer.OrderAmount, eur(500), []offer.Code{{Code: "FROST"}}
		case 5:
			o.Kind, o.Percent = offer.Shipping, decimal.NewFromInt(50)
		case 6:
			o.Kind, o.GiftID = offer.Gift, "kite-3"
		case 7:
			o.Kind, o.Percent, o.Shelf = offer.PercentOff, decimal.NewFromInt(8), &shelf.Rule{Field: shelf.Stock, AtLeast: ptr(decimal.NewFromInt(1))}
		}
		in.Offers = append(in.Offers, o)
	}
	in.Offers = append(in.Offers, offer.Offer{ID: "three", Name: "Three", Kind: offer.BuyGet, Buy: 2, Get: 1, Products: []string{"kite-5", "kite-6", "kite-7"}})
	free := eur(100_000)
	in.Codes, in.Context.Country = []string{"frost"}, "PT"
	in.Shipping = &shipping.Table{Zones: []shipping.Zone{{ID: "home", Countries: []string{"PT"}, By: shipping.Flat, FreeFrom: &free, Steps: []shipping.Step{{Price: eur(490)}}}}}
	in.Tax = &tax.Table{Included: true, Rates: []tax.Rate{{Country: "PT", Percent: decimal.NewFromInt(23)}}}
	return in
}

func ptr[T any](v T) *T { return &v }
