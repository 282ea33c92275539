// Package followups is the lines on which letters follow one another: what begins them, for
// whom, and which letters are planned for whoever is on one.
package followups

import (
	"time"

	"chrysagon/app/queue"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Keeper keeps them.
type Keeper struct {
	Store *store.Store
	Queue queue.Queue
}

// Zone is the first of some zones that is known: where somebody lives, else where the store is.
func Zone(names ...string) *time.Location {
	for _, name := range names {
		if at, err := time.LoadLocation(name); err == nil && name != "" {
			return at
		}
	}
	return time.UTC
}

// ShopZone is the name of the zone in which the store is.
func ShopZone(db *gorm.DB) (string, error) {
	var name string
	err := db.Raw("SELECT zone FROM store").Scan(&name).Error
	return name, err
}
