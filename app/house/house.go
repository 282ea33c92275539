// Package house is what holds for the whole store: its style, words, own code, taxes and delivery.
package house

import (
	"fmt"

	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/pictures"
	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Keeper is the use cases of the house.
type Keeper struct {
	Facts    *factbook.Reader
	News     *news.Hub
	Pictures *pictures.Library
	Store    *store.Store
}

// locked reads the store's row for who is about to change it by what it says.
func locked(tx *gorm.DB) (store.Shop, error) {
	var row store.Shop
	if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Take(&row).Error; err != nil {
		return row, fmt.Errorf("read the store: %w", err)
	}
	return row, nil
}
