// Package house is what holds for the whole store: its style, words, own code, taxes and delivery.
package house

import (
	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/pictures"
	"chrysagon/store"
)

// Keeper is the use cases of the house.
type Keeper struct {
	Facts    *factbook.Reader
	News     *news.Hub
	Pictures *pictures.Library
	Store    *store.Store
}
