package store

import (
	"encoding/json"
	"time"

	"github.com/shopspring/decimal"
)

// JSON is a JSON document in a jsonb column.
type JSON = json.RawMessage

// The models mirror the migrated schema; a test holds the two together.

// Shop is the store's own row.
type Shop struct {
	ID           int16 `gorm:"primaryKey"`
	Name         string
	Currency     string
	Zone         string
	GraceSeconds int
	LegalName    string
	LegalAddress string
	ContactEmail string
	Privacy      string
	Terms        string
	SealKey      []byte
	ChangedAt    time.Time
}

// TableName is store.
func (Shop) TableName() string { return "store" }

// User may sign in to the studio.
type User struct {
	ID           string `gorm:"primaryKey"`
	Email        string
	Name         string
	PasswordHash string
}

// Session is one browser's sign-in. Only the token's hash is kept.
type Session struct {
	TokenHash []byte `gorm:"primaryKey"`
	UserID    string
	CSRF      string `gorm:"column:csrf"`
	ExpiresAt time.Time
}

// Picture is one picture of the store's shelf.
type Picture struct {
	ID     string `gorm:"primaryKey"`
	Name   string
	Alt    string
	Mime   string
	Width  int
	Height int
	Hash   string
	Bytes  []byte
}

// Product is one thing that can be bought.
type Product struct {
	ID        string `gorm:"primaryKey"`
	Name      string
	Form      string
	PictureID *string
}

// Variant carries a product's price and stock.
type Variant struct {
	ID         string `gorm:"primaryKey"`
	ProductID  string
	SKU        string `gorm:"column:sku"`
	PriceMinor int64
	Stock      int
	Reserved   int
}

// LedgerEntry is one price a variant has had.
type LedgerEntry struct {
	VariantID  string    `gorm:"primaryKey"`
	Since      time.Time `gorm:"primaryKey"`
	PriceMinor int64
}

// TableName is price_ledger.
func (LedgerEntry) TableName() string { return "price_ledger" }

// Deadline is a moment that prices, timers and bands share.
type Deadline struct {
	ID   string `gorm:"primaryKey"`
	Name string
	At   time.Time
	Zone string
}

// Offer reduces the price of one product.
type Offer struct {
	ID          string `gorm:"primaryKey"`
	Name        string
	Kind        string
	Percent     decimal.Decimal
	AmountMinor int64
	ProductID   string
	OnlyVia     string
	StartsAt    *time.Time
	DeadlineID  *string
	CreatedAt   time.Time
}

// Campaign is a season's funnel with its pages.
type Campaign struct {
	ID            string `gorm:"primaryKey"`
	Name          string
	LiveEditionID *string
}

// Page is a manuscript with its name and address.
type Page struct {
	ID          string `gorm:"primaryKey"`
	CampaignID  string
	Name        string
	Purpose     string
	Address     string
	Title       string
	Description string
	Manuscript  JSON `gorm:"type:jsonb"`
	Revision    int64
}

// Change is one command on a manuscript and what takes it back.
type Change struct {
	PageID  string `gorm:"primaryKey"`
	Seq     int64  `gorm:"primaryKey"`
	At      time.Time
	UserID  string
	Command JSON `gorm:"type:jsonb"`
	Inverse JSON `gorm:"type:jsonb"`
	Undone  bool
}

// Step is a page's place in a funnel.
type Step struct {
	ID         string `gorm:"primaryKey"`
	CampaignID string
	PageID     string
	Kind       string
	Position   int
}

// Route leads from a step on an outcome.
type Route struct {
	FromStep string `gorm:"primaryKey"`
	Outcome  string `gorm:"primaryKey"`
	ToStep   string
}

// Edition is one published, unchangeable state of a campaign.
type Edition struct {
	ID          string `gorm:"primaryKey"`
	CampaignID  string
	Number      int
	Content     JSON `gorm:"type:jsonb"`
	PublishedAt time.Time
	PublishedBy string
}

// LivePage says which page answers an address.
type LivePage struct {
	Address    string `gorm:"primaryKey"`
	PageID     string
	CampaignID string
}

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
}

// OrderLine is one line of an order, with the payment that pays for it.
type OrderLine struct {
	PaymentID  string `gorm:"primaryKey"`
	Position   int    `gorm:"primaryKey"`
	OrderID    string
	ProductID  string
	Name       string
	Via        string
	Quantity   int
	ListMinor  int64
	PriceMinor int64
	Trail      JSON `gorm:"type:jsonb"`
	Holds      bool
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

// Models lists every model, for the test that compares them with the schema.
func Models() []any {
	return []any{
		&Shop{}, &User{}, &Session{}, &Picture{}, &Product{}, &Variant{}, &LedgerEntry{}, &Deadline{}, &Offer{},
		&Campaign{}, &Page{}, &Change{}, &Step{}, &Route{}, &Edition{}, &LivePage{}, &Order{}, &Payment{},
		&OrderLine{}, &Answer{}, &Mail{}, &Event{},
	}
}
