// Package goods describes what a store sells, as far as prices and pages need it.
package goods

import "chrysagon/core/money"

// Form says how a product reaches its buyer.
type Form string

// The forms a product can have.
const (
	Physical Form = "physical"
	Digital  Form = "digital"
)

// Product is one thing that can be bought: a product with the variant on sale.
type Product struct {
	ID        string      `json:"id"`
	SKU       string      `json:"sku"`
	Name      string      `json:"name"`
	Price     money.Money `json:"price"` // list price of one unit
	Stock     int         `json:"stock"` // units that may still be sold, those reserved left out
	Form      Form        `json:"form"`
	PictureID string      `json:"picture_id,omitempty"`
}

// SoldOut tells whether nothing is left to sell. Digital goods do not run out.
func (p Product) SoldOut() bool { return p.Form != Digital && p.Stock <= 0 }
