package app_test

import (
	"context"
	"fmt"
	"net/url"
	"time"

	"chrysagon/app/assortment"
	"chrysagon/app/offers"
	"chrysagon/app/orders"
	"chrysagon/app/pages"
	"chrysagon/internal/testkit"
)

const approves = "9200000000000017" // a card that the stand-in for the till approves

// A campaign from goods to results: a product is added, an offer made on it, a page
// made of a template, written and published; somebody sees it, somebody buys, and
// Results says what came of it.
func Example_campaign() {
	testkit.Story(func(ctx context.Context, shop *testkit.Shop) {
		_, _, _ = shop.App.Goods.AddGoods(ctx, assortment.NewGoods{Name: "Skylark, pocket kite", SKU: "GK-SKY", Price: "40.00", Stock: "12", Form: "physical"})
		var product string
		shop.Store.DB.Raw("SELECT id FROM variants WHERE sku = 'GK-SKY'").Scan(&product)

		_, faults, err := shop.App.Offers.SaveOffer(ctx, offers.OfferInput{
			Name: "First flights", Kind: "percent_off", Members: map[string]string{"percent": "25"}, Goods: []string{product},
		})
		fmt.Println("offer:", faults, err)

		page, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "frost-lanterns", Purpose: "bridge", Name: "How Skylark flies", Layout: "bare", Template: "bridge"})
		fmt.Println("page:", page.Address, faults, err)
		shop.Write("frost-lanterns")
		_, err = shop.App.Publishing.Publish(ctx, "frost-lanterns", "Marta Venn")
		fmt.Println("published:", err)
		shop.Forget()

		visitor, buyer := shop.Browser(), shop.Browser()
		fmt.Println("seen:", visitor.Get("/how-skylark-flies").Status)
		_, paid := buyer.Buy(approves)["go"]
		fmt.Println("bought:", paid)
		_ = shop.App.Selling.TakeOut(ctx)
		shop.Record()

		r, err := shop.App.Results.Results(ctx, "frost-lanterns", testkit.Start.Add(-time.Second))
		fmt.Println("results:", r.Visitors, "visitor,", r.Orders, "order,", r.Revenue, err)
		fmt.Println("beside the funnel:", r.Beside[0].Name, r.Beside[0].Visitors)
	})
	// Output:
	// offer: map[] <nil>
	// page: how-skylark-flies map[] <nil>
	// published: <nil>
	// seen: 200
	// bought: true
	// results: 1 visitor, 1 order, €51.00 <nil>
	// beside the funnel: How Skylark flies 1
}

// An order from the buyer's press to the letter that says it went back: paid, added
// to by an upsell, packed and sent, and given back as a whole.
func Example_order() {
	testkit.Story(func(ctx context.Context, shop *testkit.Shop) {
		b := shop.Browser()
		next, _ := b.Buy(approves)["go"].(string)
		asked := b.Get(next)
		b.Post("/quiver-bag/accept", url.Values{"order": {asked.Hidden("order")}, "seen": {asked.Hidden("seen")}}, "")
		_ = shop.App.Selling.TakeOut(ctx)
		var id string
		shop.Store.DB.Raw("SELECT id FROM orders WHERE state = 'paid' ORDER BY number DESC LIMIT 1").Scan(&id)

		shop.Clock.Advance(time.Hour)
		sent, err := shop.App.Orders.SendOrders(ctx, "Marta Venn", []string{id}, orders.Sending{Carrier: "Correio do Mar", Number: "CM 77"})
		fmt.Println("sent:", sent.Done, err)
		shop.Clock.Advance(time.Hour)
		plan, err := shop.App.Orders.Refund(ctx, "Marta Venn", orders.RefundAsk{OrderID: id, Way: "whole", Restock: true, Reason: "A torn sail"})
		fmt.Println("given back:", plan.Amount, err)

		whole, err := shop.App.Orders.WholeOrder(ctx, id)
		fmt.Println(len(whole.Lines), "lines,", whole.Left, "left,", err)
		for i := len(whole.Timeline) - 1; i >= 0; i-- {
			if h := whole.Timeline[i]; h.By != "" {
				fmt.Println(h.By+":", h.What)
			}
		}
	})
	// Output:
	// sent: 1 <nil>
	// given back: €74.80 <nil>
	// 2 lines, €0.00 left, <nil>
	// Marta Venn: Handed over to Correio do Mar, CM 77.
	// Marta Venn: €51.00 went back to the buyer. Units put back into stock: 1. Reason: A torn sail
	// Marta Venn: €23.80 went back to the buyer. Units put back into stock: 1. Reason: A torn sail
}

// A season done again: last year's campaign stands in the next year, its days moved
// by the feasts they hang on, with pages and offers of its own.
func Example_again() {
	testkit.Story(func(ctx context.Context, shop *testkit.Shop) {
		before := shop.Number("SELECT count(*) FROM pages")
		copied, said, err := shop.App.Calendar.Again(ctx, "frost-lanterns", 2027)
		fmt.Println(said, err)
		fmt.Println("pages of its own:", shop.Number("SELECT count(*) FROM pages")-before)
		fmt.Println("runs in its year:", shop.Number("SELECT count(*) FROM campaigns WHERE id = $1 AND year = 2027", copied))
		fmt.Println("live before it is published:", shop.Number("SELECT count(*) FROM live_pages WHERE campaign_id = $1", copied))
	})
	// Output:
	// “Frost Lanterns” was copied to 2027: 3 pages with 0 links between them, 1 deadline and 1 offer. Codes stay with last season’s offers; make new ones. Nothing is live until you publish it. <nil>
	// pages of its own: 3
	// runs in its year: 1
	// live before it is published: 0
}
