package offer

import (
	"fmt"
	"sort"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
)

// The most that one cart may hold. Beyond it a quote is refused, not computed.
const (
	MaxLines    = 500
	MaxQuantity = 10_000
)

// Item is one line of a cart before it is priced.
type Item struct {
	ProductID string `json:"product_id"`
	Quantity  int    `json:"quantity"`
	Via       Via    `json:"via,omitempty"`
}

// Adjustment says which offer changed a unit price, by how much and why.
type Adjustment struct {
	OfferID string      `json:"offer_id"`
	Name    string      `json:"name"`
	Off     money.Money `json:"off"` // taken off each unit
	Why     string      `json:"why"`
}

// Line is one priced line. Price and List are for one unit.
type Line struct {
	ProductID string       `json:"product_id"`
	Name      string       `json:"name"`
	Via       Via          `json:"via,omitempty"`
	Quantity  int          `json:"quantity"`
	List      money.Money  `json:"list"`
	Price     money.Money  `json:"price"`
	Trail     []Adjustment `json:"trail"`
	Total     money.Money  `json:"total"` // Price times Quantity
}

// Refusal says why an offer did not apply.
type Refusal struct {
	OfferID string `json:"offer_id"`
	Name    string `json:"name"`
	Reason  string `json:"reason"`
}

// Quote is what a buyer pays for a cart at a moment, and the proof of it.
type Quote struct {
	Moment        time.Time   `json:"moment"`
	Lines         []Line      `json:"lines"`
	List          money.Money `json:"list_total"`
	Total         money.Money `json:"total"`
	Saving        money.Money `json:"saving"`
	SavingPercent int         `json:"saving_percent"`        // rounded down
	NextChange    time.Time   `json:"next_change,omitzero"`  // first moment at which this quote can change by itself
	NotApplied    []Refusal   `json:"not_applied,omitempty"` // every offer that gave nothing, with the reason
}

// Input is all that a quote depends on.
type Input struct {
	Currency string          `json:"currency"`
	Zone     string          `json:"zone,omitempty"` // in which reasons write their dates; UTC when empty
	Goods    []goods.Product `json:"goods"`
	Offers   []Offer         `json:"offers"`
	Cart     []Item          `json:"cart"`
	Moment   time.Time       `json:"moment"`
}

// Compute prices a cart. Of several offers on one line the one that is
// cheapest for the buyer wins, then the older, then the one whose ID sorts
// first, whatever the order of the input. The price of one unit is rounded,
// so that the price shown times the quantity is the price charged.
func Compute(in Input) (Quote, error) {
	byID, err := index(in)
	if err != nil {
		return Quote{}, err
	}
	zero := money.Of(0, in.Currency)
	q := Quote{Moment: in.Moment, Lines: make([]Line, 0, len(in.Cart)), List: zero, Total: zero, Saving: zero}
	offers := sorted(in.Offers)
	used := map[string]bool{}
	for _, item := range in.Cart {
		line := price(byID[item.ProductID], item, offers[item.ProductID], in.Moment)
		for _, a := range line.Trail {
			used[a.OfferID] = true
		}
		q.Lines = append(q.Lines, line)
		q.List.Minor += line.List.Minor * int64(line.Quantity)
		q.Total.Minor += line.Total.Minor
	}
	q.Saving.Minor = q.List.Minor - q.Total.Minor
	q.SavingPercent = money.SavingPercent(q.List, q.Total)
	q.NextChange = nextChange(in, offers)
	q.NotApplied = refusals(in, used)
	return q, nil
}

// index checks the input and returns the goods by ID.
func index(in Input) (map[string]goods.Product, error) {
	if _, err := money.Digits(in.Currency); err != nil {
		return nil, fmt.Errorf("currency: %w", err)
	}
	if in.Moment.IsZero() {
		return nil, fmt.Errorf("moment: missing; write it like 2026-11-27T23:59:00Z")
	}
	byID := make(map[string]goods.Product, len(in.Goods))
	for i, p := range in.Goods {
		if _, twice := byID[p.ID]; twice || p.ID == "" {
			return nil, fmt.Errorf("goods[%d]: its id %q is empty or used twice", i, p.ID)
		}
		if p.Price.Currency != in.Currency {
			return nil, fmt.Errorf("goods[%d].price: %s in a cart of %s: %w", i, p.Price.Currency, in.Currency, money.ErrMixed)
		}
		if p.Price.Minor < 0 || p.Price.Minor > money.Limit {
			return nil, fmt.Errorf("goods[%d].price: must be from 0 to %d minor units", i, money.Limit)
		}
		byID[p.ID] = p
	}
	seen := map[string]bool{}
	for i, o := range in.Offers {
		if seen[o.ID] || o.ID == "" {
			return nil, fmt.Errorf("offers[%d]: its id %q is empty or used twice", i, o.ID)
		}
		seen[o.ID] = true
		if err := o.Validate(in.Currency); err != nil {
			return nil, fmt.Errorf("offers[%d]: %w", i, err)
		}
	}
	if len(in.Cart) > MaxLines {
		return nil, fmt.Errorf("cart: %d lines; at most %d can be quoted at once", len(in.Cart), MaxLines)
	}
	for i, item := range in.Cart {
		if _, known := byID[item.ProductID]; !known {
			return nil, fmt.Errorf("cart[%d].product_id: there is no product %q among the goods", i, item.ProductID)
		}
		if item.Quantity < 1 || item.Quantity > MaxQuantity {
			return nil, fmt.Errorf("cart[%d].quantity: %d; it must be from 1 to %d", i, item.Quantity, MaxQuantity)
		}
	}
	return byID, nil
}

// sorted groups offers by product, the older first and equal ones by ID, so
// that the first of the cheapest is the winner.
func sorted(offers []Offer) map[string][]Offer {
	byProduct := map[string][]Offer{}
	for _, o := range offers {
		byProduct[o.ProductID] = append(byProduct[o.ProductID], o)
	}
	for _, list := range byProduct {
		sort.Slice(list, func(i, j int) bool {
			if !list[i].Created.Equal(list[j].Created) {
				return list[i].Created.Before(list[j].Created)
			}
			return list[i].ID < list[j].ID
		})
	}
	return byProduct
}

func price(p goods.Product, item Item, offers []Offer, moment time.Time) Line {
	line := Line{
		ProductID: p.ID, Name: p.Name, Via: item.Via, Quantity: item.Quantity,
		List: p.Price, Price: p.Price, Trail: []Adjustment{},
	}
	for _, o := range offers {
		if !o.Holds(moment) || (o.Only != Anywhere && o.Only != item.Via) {
			continue
		}
		if reduced := o.Reduced(p.Price); reduced.Minor < line.Price.Minor {
			line.Price = reduced
			off := money.Of(p.Price.Minor-reduced.Minor, p.Price.Currency)
			line.Trail = []Adjustment{{OfferID: o.ID, Name: o.Name, Off: off, Why: o.Describe()}}
		}
	}
	line.Total = line.Price.Times(line.Quantity)
	return line
}

// nextChange is the first start or end, after the moment, of an offer on a
// product of the cart.
func nextChange(in Input, offers map[string][]Offer) time.Time {
	var next time.Time
	for _, item := range in.Cart {
		for _, o := range offers[item.ProductID] {
			for _, edge := range []time.Time{o.Starts, o.Ends} {
				if edge.After(in.Moment) && (next.IsZero() || edge.Before(next)) {
					next = edge
				}
			}
		}
	}
	return next
}

func refusals(in Input, used map[string]bool) []Refusal {
	var list []Refusal
	for _, o := range in.Offers {
		if !used[o.ID] {
			list = append(list, Refusal{OfferID: o.ID, Name: o.Name, Reason: reason(in, o)})
		}
	}
	sort.Slice(list, func(i, j int) bool { return list[i].OfferID < list[j].OfferID })
	return list
}
