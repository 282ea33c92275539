// Package facts holds what a page names but does not contain: goods, offers,
// deadlines, pictures and, after a payment, the order at hand.
//
// A page is a function of its manuscript, its facts and the moment.
package facts

import (
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
)

// Store is what a page says about the store itself.
type Store struct {
	Name         string
	Currency     string
	Zone         string        // IANA name
	Grace        time.Duration // how long after its end a price that was seen is honoured
	LegalName    string
	LegalAddress string
	ContactEmail string
	Phone        string
}

// Picture is one picture of the store's shelf.
type Picture struct {
	ID     string
	Name   string
	Alt    string
	Path   string // address on the shopfront, with its content's hash
	Width  int
	Height int
}

// Mail is a message an order causes, as the thank-you page announces it.
type Mail struct {
	From    string
	Subject string
	Sent    bool
}

// Bought is one line of a placed order.
type Bought struct {
	Name     string
	Quantity int
	Price    money.Money
	Total    money.Money
	Via      offer.Via
}

// Order is the order that an upsell or a thank-you page is about.
type Order struct {
	Token  string
	Number int64
	Name   string
	Email  string
	Lines  []Bought
	Total  money.Money
	PaidAt time.Time
	Mails  []Mail
}

// Facts is everything a page may refer to, at the time it was read.
type Facts struct {
	Store     Store
	Products  map[string]goods.Product
	Offers    []offer.Offer
	Deadlines map[string]deadline.Deadline
	Pictures  map[string]Picture
	Order     *Order
}

// Quote prices a cart by these facts.
func (f Facts) Quote(cart []offer.Item, moment time.Time) (offer.Quote, error) {
	list := make([]goods.Product, 0, len(cart))
	listed := map[string]bool{}
	for _, item := range cart {
		if p, ok := f.Products[item.ProductID]; ok && !listed[p.ID] {
			list, listed[p.ID] = append(list, p), true
		}
	}
	return offer.Compute(offer.Input{
		Currency: f.Store.Currency, Zone: f.Store.Zone,
		Goods: list, Offers: f.Offers, Cart: cart, Moment: moment,
	})
}
