package factbook

import (
	"encoding/json"
	"fmt"
	"time"

	"chrysagon/core/shelf"
	"chrysagon/store"

	"gorm.io/gorm"
)

// shelfShown is how many goods of a shelf a page shows at most.
const shelfShown = 60

// Sight is from when and where the store's shelves are looked at.
func Sight(zone string, at time.Time) shelf.Sight {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		loc = time.UTC
	}
	return shelf.Sight{Moment: at, Zone: loc}
}

// ParseShelf reads the rule of a stored shelf.
func ParseShelf(r store.Shelf) (shelf.Shelf, error) {
	var s shelf.Shelf
	if err := json.Unmarshal(r.Shelf, &s); err != nil {
		return s, fmt.Errorf("read shelf %s: %w", r.ID, err)
	}
	return s, nil
}

// PickIDs are the goods that stand on a shelf, in its order.
func PickIDs(db *gorm.DB, s shelf.Shelf, at shelf.Sight) ([]string, error) {
	q, err := store.BuildShelf(s, at)
	if err != nil {
		return nil, err
	}
	var ids []string
	err = db.Raw("SELECT v.id "+store.GoodsFrom+" WHERE "+q.Where+" ORDER BY "+q.Order+LimitOf(s.Limit), q.Args...).Scan(&ids).Error
	if err != nil {
		return nil, fmt.Errorf("pick the goods of a shelf: %w", err)
	}
	return ids, nil
}

// LimitOf writes how many are read; none is no limit.
func LimitOf(n int) string {
	if n <= 0 {
		return ""
	}
	return fmt.Sprintf(" LIMIT %d", n)
}
