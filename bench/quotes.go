package main

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"

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
			ProductID: fmt.Sprintf("kite-%d", i%lines), Starts: in.Moment.Add(-time.Hour), Ends: in.Moment.Add(time.Hour),
		})
	}
	return in
}

func quotes() {
	measure := func(lines, offers int) time.Duration {
		in := cart(lines, offers)
		r := testing.Benchmark(func(b *testing.B) {
			for b.Loop() {
				if _, err := offer.Compute(in); err != nil {
					b.Fatal(err)
				}
			}
		})
		return time.Duration(r.NsPerOp())
	}
	small, large := measure(50, 200), measure(500, 200)
	report("one quote, 50 lines, 200 offers", "%s", "under 1 ms", small)
	report("one quote, 500 lines, 200 offers", "%s, %.1f times as long", "at most 10 times as long", large, float64(large)/float64(small))
}
