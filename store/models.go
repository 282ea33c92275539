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
	Country      string
	Countries    StringList `gorm:"type:text[]"`
	CountOpens   bool       // letters bear a picture that tells when they are looked at
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
	Own          JSON   `gorm:"type:jsonb;default:'[]'"` // code the owner brings along for every page
	Menu         JSON   `gorm:"type:jsonb;default:'[]'"` // links of the header, by hand
	Foot         JSON   `gorm:"type:jsonb;default:'[]'"` // and of the footer
	OrderMail    string `gorm:"default:each"`            // how the owner hears of orders: each, daily or none
	DigestAt     *time.Time
	IconID       *string // the picture in the tabs of the shop
	LeftMinutes  int     `gorm:"default:60"` // after which a visitor of whom nothing came has left
	TransferTo   string  // the account to which transfers go
	TransferDays int     `gorm:"default:7"`
	CollectAt    string  // where and when goods are fetched
	CollectDays  int     `gorm:"default:7"`
	DownloadMost int     `gorm:"default:5"` // how often what was bought can be downloaded
	DownloadDays int     `gorm:"default:30"`
	OutsideHosts string  // on which pages outside may report, a line each
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
	ID        string // no secret
	BeganAt   time.Time
	UsedAt    time.Time
	Agent     string // what the browser calls itself
	User      User   // whose it is; read by Joins only
}

// SignInTries are failures in a row to sign in, by what they are counted for.
type SignInTries struct {
	Key      string `gorm:"primaryKey"`
	Failures int
	LastAt   time.Time
}

// TableName is sign_in_tries.
func (SignInTries) TableName() string { return "sign_in_tries" }

// KnownBrowser is a browser that has signed in. Only its token's hash is kept.
type KnownBrowser struct {
	TokenHash []byte `gorm:"primaryKey"`
	UserID    string
	At        time.Time
}

// Models lists every model, for the test that compares them with the schema.
func Models() []any {
	return []any{
		&Shop{}, &User{}, &Session{}, &SignInTries{}, &KnownBrowser{}, &Picture{}, &Product{}, &Variant{}, &LedgerEntry{}, &Deadline{}, &Offer{},
		&Campaign{}, &Page{}, &Change{}, &Step{}, &Route{}, &RouteTarget{}, &MapChange{}, &Walk{}, &Footprint{}, &Assignment{}, &Link{}, &Edition{}, &LivePage{}, &Order{}, &Payment{},
		&OrderLine{}, &Answer{}, &Mail{}, &Parcel{}, &OrderNote{}, &Refund{}, &RefundPart{}, &RefundLine{}, &Event{}, &PictureSize{}, &Attribute{}, &ProductPicture{}, &File{}, &Shelf{},
		&GoodsGroup{}, &Batch{}, &BatchRow{}, &Sighting{}, &OfferGoods{}, &Code{}, &OfferUse{}, &TaxRate{}, &ShippingZone{},
		&ShippingStep{}, &CampaignGoods{}, &Import{}, &ImportProgress{}, &Planned{}, &Video{}, &Handout{}, &Lead{}, &Template{}, &FormerAddress{}, &Unfinished{},
		&List{}, &Contact{}, &Member{}, &Hushed{}, &Followup{}, &Following{}, &Posting{}, &Segment{}, &Broadcast{},
	}
}
