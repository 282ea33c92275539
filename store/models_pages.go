package store

import (
	"time"
)

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
	AsideAt     *time.Time // when it was set aside; nil: it goes out
	AsideFor    *string    // the page to which its address then leads
	ByMail      bool       `gorm:"->"` // it is no page: it goes to people by mail
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
	Gives      string // ID of the file that it asked for

	SlotAt      *time.Time // of an appointment
	SlotMinutes *int
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
	Again   JSON `gorm:"type:jsonb"` // what repeats it; empty: Command does
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
