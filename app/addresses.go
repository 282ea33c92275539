package app

import (
	"context"
	"fmt"

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
func (a *App) Moved(ctx context.Context, address string) (string, error) {
	var to string
	err := a.db(ctx).Raw("SELECT l.address FROM former_addresses f JOIN live_pages l ON l.page_id = f.page_id WHERE f.address = ?", address).Scan(&to).Error
	return to, err
}
