package store

import (
	"time"

	"github.com/shopspring/decimal"
)

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

	Description string // copy with structure, or plain lines
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
	Attributes  JSON   `gorm:"type:jsonb"`
	NowMinor    int64  // what everybody is asked now
	Address     string `gorm:"default:null"` // on the shopfront, under /goods; by default from its name

	ArchivedAt *time.Time // since when it is not sold any more
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

// ImportProgress is how far an import is.
type ImportProgress struct {
	ImportID string `gorm:"primaryKey"`
	Step     string
	Total    int64
	Done     int64
	Failed   string
	At       time.Time
}

// TableName is import_progress.
func (ImportProgress) TableName() string { return "import_progress" }
