package main

import (
	"fmt"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
)

// hardCart is a basket made to be hard to price: 500 lines of different goods.
func hardCart() offer.Input {
	free := money.Of(900_000_000, "EUR")
	in := offer.Input{Currency: "EUR", Moment: time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC), Context: offer.Context{Country: "PT"}}
	in.Shipping = &shipping.Table{Zones: []shipping.Zone{{ID: "z", Countries: []string{"*"}, By: shipping.Total, FreeFrom: &free, Steps: []shipping.Step{{Price: money.Of(490, "EUR")}}}}}
	for i := range offer.MaxLines {
		id := fmt.Sprint("p", i)
		in.Goods = append(in.Goods, goods.Product{ID: id, Name: id, Price: money.Of(int64(1001+i*37%4000), "EUR"), Stock: 9})
		in.Cart = append(in.Cart, offer.Item{ProductID: id, Quantity: 1 + i%7})
	}
	return in
}

// hardest are baskets in which much hangs together: groups, thresholds, classes,
// offers that all come to nothing, tax on top, codes.
func hardest() map[string]offer.Input {
	percent := func(i int) decimal.Decimal { return decimal.NewFromInt(int64(i)) }
	eur := func(minor int) money.Money { return money.Of(int64(minor), "EUR") }
	onTop := &tax.Table{Rates: []tax.Rate{{Country: "*", Percent: percent(23)}}}
	threshold := offer.Offer{ID: "t", Kind: offer.OrderPercent, Percent: percent(10), Conditions: offer.Conditions{MinSubtotal: eur(1_000_000)}}

	groups := hardCart()
	for i := range 12 {
		groups.Offers = append(groups.Offers, offer.Offer{ID: fmt.Sprint("g", i), Kind: offer.BuyGet, Buy: 2 + i%3, Get: 1})
	}
	for i := range 10 {
		groups.Offers = append(groups.Offers, offer.Offer{ID: fmt.Sprint("u", i), Kind: offer.PercentOff, Percent: percent(5 + i)})
	}
	groups.Offers = append(groups.Offers, threshold)
	coded := groups
	coded.Offers = append([]offer.Offer{}, groups.Offers...)
	for i := range offer.MaxCodes {
		coded.Codes = append(coded.Codes, fmt.Sprint("C", i))
		coded.Offers[i].Codes = []offer.Code{{Code: fmt.Sprint("C", i)}}
	}

	classed := hardCart()
	for i := range 2 {
		classed.Offers = append(classed.Offers, offer.Offer{ID: fmt.Sprint("g", i), Class: "a", Kind: offer.BuyGet, Buy: 2, Get: 1 + i})
	}
	for i := range 12 {
		classed.Offers = append(classed.Offers, offer.Offer{ID: fmt.Sprint("u", i), Class: "a", Kind: offer.PercentOff, Percent: percent(5 + i)})
	}
	for i := range 100 {
		classed.Offers = append(classed.Offers, offer.Offer{ID: fmt.Sprint("t", i), Kind: offer.OrderPercent, Percent: percent(10), Products: []string{fmt.Sprint("p", i), "p1", "p2"}})
	}
	classed.Tax = onTop

	idle := hardCart()
	for i := range 200 {
		idle.Offers = append(idle.Offers, offer.Offer{ID: fmt.Sprintf("u%03d", i), Kind: offer.AmountOff, Amount: eur(10 + i), ProductID: fmt.Sprint("p", i)})
	}
	idle.Offers = append(idle.Offers, offer.Offer{ID: "t", Kind: offer.OrderAmount, Amount: eur(100_000_000)})
	idle.Tax = onTop

	everywhere := hardCart()
	for i := range 200 {
		everywhere.Offers = append(everywhere.Offers, offer.Offer{ID: fmt.Sprintf("u%03d", i), Kind: offer.AmountOff, Amount: eur(10 + i), Class: fmt.Sprint("c", i%5)})
	}
	everywhere.Offers, everywhere.Tax = append(everywhere.Offers, threshold), onTop

	return map[string]offer.Input{
		"twelve buy-and-get, ten percentages, a threshold": groups, "the same with three codes": coded,
		"a class with groups, a hundred order offers, tax on top": classed, "two hundred offers, all idle, tax on top": idle,
		"two hundred offers on every line, in five classes, tax on top": everywhere,
	}
}

// hardQuotes reports the slowest of the hardest carts.
func hardQuotes() error {
	slowest, of := time.Duration(0), ""
	for name, in := range hardest() {
		each, err := timed(in)
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		if each > slowest {
			slowest, of = each, name
		}
	}
	report("one quote, 500 lines, the slowest of five hardest carts", "%s (%s)", "under 50 ms", slowest, of)
	return nil
}
