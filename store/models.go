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
	Phone        string
	ContactEmail string
	Privacy      string
	Terms        string
	SealKey      []byte
	ChangedAt    time.Time
	Country      string
	Countries    StringList `gorm:"type:text[]"`
	TaxIncluded  bool
	FloorPercent decimal.Decimal
	Struck       JSON `gorm:"type:jsonb;default:'{}'"`
	LedgerKeptAt *time.Time
	HandlingDays int
	TransitDays  int
	CalendarKey  string
	House        JSON `gorm:"type:jsonb;default:'{}'"` // how all pages look
	HouseBefore  JSON `gorm:"type:jsonb;default:'{}'"` // before the last change of that
	HomePageID   *string
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
	ID      string `gorm:"primaryKey"`
	Name    string
	Alt     string
	Mime    string
	Width   int
	Height  int
	Hash    string
	Bytes   []byte
	AddedAt time.Time
	Dark    string // its darkest and lightest places, as #rrggbb
	Light   string
}

// Planned is something that happens to a campaign at a moment.
type Planned struct {
	ID          string `gorm:"primaryKey"`
	CampaignID  string
	At          time.Time
	EditionID   *string // nil: its pages are taken down
	SuccessorID *string // to which they lead then
	PlannedBy   string
	DoneAt      *time.Time
	Refused     string
}

// TableName is planned.
func (Planned) TableName() string { return "planned" }

// PictureSize is a picture at one of the widths that pages need.
type PictureSize struct {
	PictureID string `gorm:"primaryKey"`
	Width     int    `gorm:"primaryKey"`
	Mime      string
	Bytes     []byte
}

// Product is what its variants have in common.
type Product struct {
	ID         string `gorm:"primaryKey"`
	Name       string
	Form       string
	PictureID  *string
	Category   string
	Tags       StringList `gorm:"type:text[]"`
	TaxClass   string
	Perishable bool
	AddedAt    time.Time
}

// Variant is what is sold.
type Variant struct {
	ID          string `gorm:"primaryKey"`
	ProductID   string
	SKU         string `gorm:"column:sku"`
	PriceMinor  int64
	Stock       int
	Reserved    int
	Label       string
	CostMinor   *int64
	WeightGrams int
	Condition   string
	ReceivedAt  *time.Time
	Attributes  JSON  `gorm:"type:jsonb"`
	NowMinor    int64 // what everybody is asked now
}

// Attribute declares a property that goods can have.
type Attribute struct {
	Name  string `gorm:"primaryKey"`
	Label string
	Type  string
	Unit  string
}

// ProductPicture is one of a product's pictures.
type ProductPicture struct {
	ProductID string `gorm:"primaryKey"`
	PictureID string `gorm:"primaryKey"`
	Position  int
}

// File is what a buyer of a digital product downloads.
type File struct {
	ProductID string `gorm:"primaryKey"`
	Name      string
	Bytes     []byte
}

// Shelf is goods shown together.
type Shelf struct {
	ID    string `gorm:"primaryKey"`
	Name  string
	Shelf JSON `gorm:"type:jsonb"`
}

// TableName is shelves.
func (Shelf) TableName() string { return "shelves" }

// GoodsGroup is a shelf with a picture, for a card that leads to it.
type GoodsGroup struct {
	ID        string `gorm:"primaryKey"`
	Name      string
	PictureID *string
	ShelfID   string
}

// Batch is a change of many goods at once.
type Batch struct {
	ID       string `gorm:"primaryKey"`
	At       time.Time
	UserID   *string
	What     string
	Added    int
	Changed  int
	UndoneAt *time.Time
}

// BatchRow is what one of the goods was before a batch.
type BatchRow struct {
	BatchID    string `gorm:"primaryKey"`
	VariantID  string `gorm:"primaryKey"`
	Before     JSON   `gorm:"type:jsonb"`
	StockAfter *int
}

// Import is a file of goods that was handed in.
type Import struct {
	ID      string `gorm:"primaryKey"`
	At      time.Time
	UserID  *string
	Name    string
	Raw     []byte
	BatchID *string
}

// LedgerEntry is one price that everybody was asked, and the list price then.
type LedgerEntry struct {
	VariantID  string    `gorm:"primaryKey"`
	Since      time.Time `gorm:"primaryKey"`
	PriceMinor int64
	ListMinor  int64
	Why        string
}

// TableName is price_ledger.
func (LedgerEntry) TableName() string { return "price_ledger" }

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

// TaxRate is what a place takes of one class of goods.
type TaxRate struct {
	Country string `gorm:"primaryKey"`
	Region  string `gorm:"primaryKey"`
	Class   string `gorm:"primaryKey"`
	Percent decimal.Decimal
	Name    string
}

// ShippingZone is a group of countries with one way to price.
type ShippingZone struct {
	ID        string `gorm:"primaryKey"`
	Name      string
	Countries StringList `gorm:"type:text[]"`
	By        string
	UpTo      int64
	FreeMinor *int64
	Position  int
}

// ShippingStep is a zone's price from a bound on.
type ShippingStep struct {
	ZoneID     string `gorm:"primaryKey"`
	FromAmount int64  `gorm:"primaryKey"`
	PriceMinor int64
}

// Campaign is a season's funnel with its pages.
type Campaign struct {
	ID            string `gorm:"primaryKey"`
	Name          string
	LiveEditionID *string
	Begins        JSON `gorm:"type:jsonb"`
	Ends          JSON `gorm:"type:jsonb"`
	Year          *int
	ShelfID       *string
	CopyOf        *string
}

// CampaignGoods names one of the goods that a campaign is on.
type CampaignGoods struct {
	CampaignID string `gorm:"primaryKey"`
	VariantID  string `gorm:"primaryKey"`
}

// TableName is campaign_goods.
func (CampaignGoods) TableName() string { return "campaign_goods" }

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
	Layout      string `gorm:"default:bare"`
	Template    string
	CreatedAt   time.Time
}

// Template is a page that was kept to begin others from.
type Template struct {
	ID         string `gorm:"primaryKey"`
	Name       string
	Purpose    string
	Layout     string
	Manuscript JSON `gorm:"type:jsonb"`
	KeptAt     time.Time
}

// FormerAddress is where a page was before it was renamed.
type FormerAddress struct {
	Address string `gorm:"primaryKey"`
	PageID  string
	LeftAt  time.Time
}

// Lead is what a visitor sent by a form.
type Lead struct {
	ID         string `gorm:"primaryKey"`
	Kind       string
	Email      string
	Name       string
	Message    string
	Consent    string
	CampaignID *string
	PageID     *string
	PieceID    string
	Link       string
	Visitor    string
	At         time.Time
	SentAt     *time.Time
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

// Models lists every model, for the test that compares them with the schema.
func Models() []any {
	return []any{
		&Shop{}, &User{}, &Session{}, &Picture{}, &Product{}, &Variant{}, &LedgerEntry{}, &Deadline{}, &Offer{},
		&Campaign{}, &Page{}, &Change{}, &Step{}, &Route{}, &Edition{}, &LivePage{}, &Order{}, &Payment{},
		&OrderLine{}, &Answer{}, &Mail{}, &Event{}, &PictureSize{}, &Attribute{}, &ProductPicture{}, &File{}, &Shelf{},
		&GoodsGroup{}, &Batch{}, &BatchRow{}, &Sighting{}, &OfferGoods{}, &Code{}, &OfferUse{}, &TaxRate{}, &ShippingZone{},
		&ShippingStep{}, &CampaignGoods{}, &Import{}, &Planned{},
	}
}
