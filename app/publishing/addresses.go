package publishing

import (
	"context"
	"fmt"
	"time"

	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// leadFrom lets addresses that were a page's lead to pages from now on; what an
// address led to before gives way.
func leadFrom(tx *gorm.DB, former ...store.FormerAddress) error {
	if len(former) == 0 {
		return nil
	}
	err := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "address"}}, DoUpdates: clause.AssignmentColumns([]string{"page_id", "left_at"})}).Create(&former).Error
	if err != nil {
		return fmt.Errorf("remember an address: %w", err)
	}
	return nil
}

// Moved tells where a page that used to be at an address is now, or "".
func (publisher *Publisher) Moved(ctx context.Context, address string) (string, error) {
	var to string
	err := publisher.Store.On(ctx).Raw("SELECT l.address FROM former_addresses f JOIN live_pages l ON l.page_id = f.page_id WHERE f.address = ?", address).Scan(&to).Error
	return to, err
}

// LeadOn lets the live address of a page that was set aside lead to its successor.
func LeadOn(tx *gorm.DB, pageID string, at time.Time) error {
	var former []store.FormerAddress
	err := tx.Raw("SELECT l.address, p.aside_for AS page_id, ?::timestamptz AS left_at FROM live_pages l JOIN pages p ON p.id = l.page_id WHERE l.page_id = ? AND p.aside_for IS NOT NULL", at, pageID).Scan(&former).Error
	if err != nil {
		return fmt.Errorf("look for the successor: %w", err)
	}
	return leadFrom(tx, former...)
}
