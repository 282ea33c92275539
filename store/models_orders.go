package store

import (
	"time"
)

// Order is what a visitor buys in one go, upsells included.
type Order struct {
	ID         string `gorm:"primaryKey"`
	Token      string
	Number     *int64
	Visitor    string
	CampaignID string
	StepID     string
	EditionID  string
	State      string
	Name       string
	Email      string
	Address    JSON `gorm:"type:jsonb"`
	Currency   string
	TotalMinor int64
	KeptToken  string
	CreatedAt  time.Time
	PaidAt     *time.Time
	Code       string
}

// Payment is one attempt to charge.
type Payment struct {
	ID          string `gorm:"primaryKey"`
	OrderID     string
	Key         string
	Kind        string
	StepID      string
	State       string
	AmountMinor int64
	AwaitsCard  bool
	TillID      string
	ConfirmURL  string
	Message     string
	AskedAt     time.Time
	SettledAt   *time.Time
	Summary     JSON `gorm:"type:jsonb;default:'{}'"`
}

// OrderLine is one line of an order, with the payment that pays for it.
type OrderLine struct {
	PaymentID  string `gorm:"primaryKey"`
	Position   int    `gorm:"primaryKey"`
	OrderID    string
	VariantID  string
	Name       string
	Via        string
	Quantity   int
	ListMinor  int64
	PriceMinor int64
	Trail      JSON `gorm:"type:jsonb"`
	Holds      bool
	OffMinor   int64
	TaxMinor   int64
}

// Answer is what a buyer said on a step after paying.
type Answer struct {
	OrderID string `gorm:"primaryKey"`
	StepID  string `gorm:"primaryKey"`
	Outcome string
	At      time.Time
}

// Mail is a message an order causes.
type Mail struct {
	ID        string `gorm:"primaryKey"`
	OrderID   string
	PaymentID string
	Sender    string
	Subject   string
	SentAt    *time.Time
}

// Event is something a visitor did on a step.
type Event struct {
	At        time.Time
	Visitor   string
	StepID    string
	EditionID string
	Kind      string
}
