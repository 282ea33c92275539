package store

import (
	"time"

	"gorm.io/gorm"
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
	Reference  *string // that its transfer bears
	Said       JSON    `gorm:"type:jsonb;default:'[]'"` // what was asked besides, a list of [Said]
	Payer      JSON    `gorm:"type:jsonb;default:'{}'"` // an address of their own, where whoever pays has one

	Handling      *string // nil until it is paid
	RefundedMinor int64   // of TotalMinor
	ToldAt        *time.Time
	PostingID     *string // the letter by which it came; nil: none
}

// Said is one thing that a checkout asked, in its words, and the answer.
type Said struct {
	Name string `json:"name"`
	Asks string `json:"asks"`
	Says string `json:"says"`
}

// Unfinished is a checkout that was begun and is not paid for.
type Unfinished struct {
	Visitor    string `gorm:"primaryKey"`
	PageID     string `gorm:"primaryKey"`
	StepID     string
	CampaignID string
	Email      string
	Name       string
	Consent    string
	Typed      JSON `gorm:"type:jsonb"`
	Part       int
	BegunAt    time.Time
	At         time.Time
}

// TableName says where it stands.
func (Unfinished) TableName() string { return "unfinished" }

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
	Way         string     `gorm:"default:card"` // by which it is paid
	HeldUntil   *time.Time // its goods, while the owner has not said that the money came
	TillID      string
	ConfirmURL  string
	Message     string
	AskedAt     time.Time
	SettledAt   *time.Time
	Summary     JSON `gorm:"type:jsonb;default:'{}'"`

	TaxIncluded   bool // in the prices of its lines, or on them
	TaxMinor      int64
	RefundedMinor int64 // of AmountMinor
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
	PaymentID *string // of a confirmation
	Sender    string
	Subject   string
	SentAt    *time.Time
	Kind      string // confirmation, sent or refund
	Text      string // as it was sent
	Refused   string // why no server takes it
}

// Parcel is an order handed to a carrier.
type Parcel struct {
	ID      string `gorm:"primaryKey"`
	OrderID string
	Carrier string
	Number  string
	SentAt  time.Time
	SentBy  string
}

// OrderNote is what somebody wrote of an order, or did with it by hand.
type OrderNote struct {
	ID      string `gorm:"primaryKey"`
	OrderID string
	Kind    string // note or move
	At      time.Time
	By      string
	Text    string
}

// Refund is a decision to give something back.
type Refund struct {
	ID      string `gorm:"primaryKey"`
	OrderID string
	AskedAt time.Time
	AskedBy string
	Reason  string
	Restock bool
	Mail    bool
}

// RefundPart is what of it comes from one payment.
type RefundPart struct {
	RefundID    string `gorm:"primaryKey"`
	PaymentID   string `gorm:"primaryKey"`
	Key         string
	State       string
	AmountMinor int64
	TaxMinor    int64
	Message     string
	SettledAt   *time.Time
}

// RefundLine is what of that was paid for one line, or for delivery.
type RefundLine struct {
	RefundID    string `gorm:"primaryKey"`
	PaymentID   string `gorm:"primaryKey"`
	Position    int    `gorm:"primaryKey"` // -1: delivery
	Quantity    int
	AmountMinor int64
	TaxMinor    int64
}

// Event is something a visitor did on a step.
type Event struct {
	At        time.Time
	Visitor   string
	PageID    string
	StepID    string // "" outside a funnel
	EditionID string
	Kind      string
	Name      string // of a call to action that was pressed
	ToStep    string // to which it led
	Source    string // by which the visitor came
}

// OrderStory is an order with all that came of it. It is read, never written.
type OrderStory struct {
	Order
	Payments []Payment   `gorm:"foreignKey:OrderID"`
	Parcels  []Parcel    `gorm:"foreignKey:OrderID"`
	Mails    []Mail      `gorm:"foreignKey:OrderID"`
	Notes    []OrderNote `gorm:"foreignKey:OrderID"`
}

// TableName says where it stands.
func (OrderStory) TableName() string { return "orders" }

// Story reads orders with all that came of them, each in the order in which it came.
func Story(db *gorm.DB) *gorm.DB {
	return db.Preload("Payments", By("asked_at, id")).Preload("Parcels", By("sent_at, id")).
		Preload("Mails", By("sent_at NULLS LAST, id")).Preload("Notes", By("at, id"))
}
