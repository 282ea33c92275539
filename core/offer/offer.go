// Package offer computes what a buyer pays, and proves it line by line.
//
// A price is never typed into a page: it follows from goods, offers and the
// moment, by [Compute], and everything that shows a price shows that one.
package offer

import (
	"fmt"
	"time"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// Kind says what an offer does to a price.
type Kind string

// The kinds of offer.
const (
	PercentOff Kind = "percent_off" // Percent of each unit's price
	AmountOff  Kind = "amount_off"  // Amount off each unit
)

// Via says on what way a line came into the cart.
type Via string

// The ways into the cart. An offer bound to one of them holds only there.
const (
	Anywhere Via = ""
	Page     Via = "page"
	Bump     Via = "bump"
	Upsell   Via = "upsell"
)

// Offer reduces the price of one product within a window.
type Offer struct {
	ID        string          `json:"id"`
	Name      string          `json:"name"`
	Kind      Kind            `json:"kind"`
	Percent   decimal.Decimal `json:"percent,omitzero"`
	Amount    money.Money     `json:"amount,omitzero"`
	ProductID string          `json:"product_id"`
	Only      Via             `json:"only,omitempty"`   // bump or upsell; empty: wherever the product is sold
	Starts    time.Time       `json:"starts,omitzero"`  // first moment it holds; zero: it always has
	Ends      time.Time       `json:"ends,omitzero"`    // first moment it no longer holds; zero: never
	Created   time.Time       `json:"created,omitzero"` // the older of two equal offers wins
}

// Validate says what is wrong with an offer, or nil.
func (o Offer) Validate(currency string) error {
	switch o.Kind {
	case PercentOff:
		if !o.Percent.IsPositive() || o.Percent.GreaterThan(decimal.NewFromInt(100)) {
			return fmt.Errorf("offer %q takes %s percent off; it must be above 0 and at most 100", o.Name, o.Percent)
		}
	case AmountOff:
		if o.Amount.Minor <= 0 || o.Amount.Minor > money.Limit {
			return fmt.Errorf("offer %q must take an amount above zero off", o.Name)
		}
		if o.Amount.Currency != currency {
			return fmt.Errorf("offer %q is in %s, the goods are in %s: %w", o.Name, o.Amount.Currency, currency, money.ErrMixed)
		}
	default:
		return fmt.Errorf("offer %q is of kind %q; it must be percent_off or amount_off", o.Name, o.Kind)
	}
	if !o.Starts.IsZero() && !o.Ends.IsZero() && !o.Starts.Before(o.Ends) {
		return fmt.Errorf("offer %q ends before it starts", o.Name)
	}
	return nil
}

// Holds tells whether moment lies in the offer's window, closed at its start
// and open at its end.
func (o Offer) Holds(moment time.Time) bool {
	return !moment.Before(o.Starts) && (o.Ends.IsZero() || moment.Before(o.Ends))
}

// Reduced is the price of one unit under the offer: the new price is what is
// rounded, and it never falls below zero.
func (o Offer) Reduced(price money.Money) money.Money {
	reduced := price
	switch o.Kind {
	case PercentOff:
		reduced = price.Percent(decimal.NewFromInt(100).Sub(o.Percent))
	case AmountOff:
		reduced.Minor -= o.Amount.Minor
	}
	reduced.Minor = max(reduced.Minor, 0)
	return reduced
}

// Describe says what the offer does in a few words: 25% off, or €5.00 off.
func (o Offer) Describe() string {
	if o.Kind == PercentOff {
		return o.Percent.String() + "% off"
	}
	return o.Amount.String() + " off"
}
