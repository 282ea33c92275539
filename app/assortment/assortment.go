// Package assortment is the goods: listing, editing, pricing, importing, exporting.
package assortment

import (
	"chrysagon/app/news"
	"chrysagon/app/repricing"
	"chrysagon/app/shelves"
	"chrysagon/store"
)

// Assortment is the use cases of goods.
type Assortment struct {
	News    *news.Hub
	Prices  *repricing.Keeper
	Shelves *shelves.Shelves
	Store   *store.Store
}
