package store

import "gorm.io/gorm"

// Scope narrows or orders a query; what many queries say is said here.
type Scope = func(*gorm.DB) *gorm.DB

// Shown are pages that were not set aside.
func Shown(db *gorm.DB) *gorm.DB { return db.Where("aside_at IS NULL") }

// Aside are those that were.
func Aside(db *gorm.DB) *gorm.DB { return db.Where("aside_at IS NOT NULL") }

// OfCampaign is what belongs to a campaign.
func OfCampaign(id string) Scope {
	return func(db *gorm.DB) *gorm.DB { return db.Where("campaign_id = ?", id) }
}

// OfPage is what belongs to a page.
func OfPage(id string) Scope {
	return func(db *gorm.DB) *gorm.DB { return db.Where("page_id = ?", id) }
}

// OfOrder is what belongs to an order.
func OfOrder(id string) Scope {
	return func(db *gorm.DB) *gorm.DB { return db.Where("order_id = ?", id) }
}

// By orders rows, by columns of the program's own.
func By(columns string) Scope {
	return func(db *gorm.DB) *gorm.DB { return db.Order(columns) }
}
