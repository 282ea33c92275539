package store

import (
	"time"

	"github.com/shopspring/decimal"
)

// Deadline is a moment that prices, timers and bands share.
type Deadline struct {
	ID   string `gorm:"primaryKey"`
	Name string
	At   *time.Time // of a fixed one
	Zone string

	Kind         string
	Day          string
	StartsLocal  string
	Rule         string
	RunsSeconds  int64
	SpanSeconds  int64
	GraceSeconds int
}

// Sighting is a visitor's first sight of a deadline.
type Sighting struct {
	Visitor    string `gorm:"primaryKey"`
	DeadlineID string `gorm:"primaryKey"`
	FirstSeen  time.Time
	Email      string
}

// Offer changes what a buyer pays.
type Offer struct {
	ID          string `gorm:"primaryKey"`
	Name        string
	Kind        string
	Percent     decimal.Decimal
	AmountMinor int64
	OnlyVia     string
	StartsAt    *time.Time
	DeadlineID  *string
	CreatedAt   time.Time
	Class       string
	General     bool
	ShelfID     *string
	Detail      JSON `gorm:"type:jsonb;default:'{}'"`
	NeedsCode   bool
	MaxUses     int
	MaxUsesEach int
	Used        int
	EndedAt     *time.Time
}

// OfferGoods names one of the goods that an offer is on.
type OfferGoods struct {
	OfferID   string `gorm:"primaryKey"`
	VariantID string `gorm:"primaryKey"`
}

// TableName is offer_goods.
func (OfferGoods) TableName() string { return "offer_goods" }

// Code is one code of an offer.
type Code struct {
	Normal  string `gorm:"primaryKey"`
	Code    string
	OfferID string
	MaxUses int
	Used    int
}

// OfferUse is a payment's use of a limited offer.
type OfferUse struct {
	PaymentID string `gorm:"primaryKey"`
	OfferID   string `gorm:"primaryKey"`
	Code      string
	Email     string
	Held      bool
}
