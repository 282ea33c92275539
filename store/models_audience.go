package store

import (
	"time"
)

// List is people who asked for the same letters.
type List struct {
	ID        string `gorm:"primaryKey"`
	Name      string
	FromName  string
	ReplyTo   string
	Why       string
	Confirmed bool
	Gives     *string // the file it hands out
	CodeOffer *string // the offer of which it hands out a code
	AfterID   *string // the page to which it leads
	Tells     string
	CreatedAt time.Time
}

// Contact is a person, by their address.
type Contact struct {
	ID          string `gorm:"primaryKey"`
	Email       string
	Name        string
	Zone        string
	FirstAt     time.Time
	PausedUntil *time.Time
}

// Member is how a contact stands to a list.
type Member struct {
	ListID    string `gorm:"primaryKey"`
	ContactID string `gorm:"primaryKey"`
	State     string
	Consent   string
	PageID    *string
	EditionID *string
	Source    string
	AskedAt   time.Time
	OnAt      *time.Time
	OffAt     *time.Time
	ToldAt    *time.Time
}

// Hushed is an address that must never be written to again.
type Hushed struct {
	Hush string `gorm:"primaryKey"`
	Why  string
	At   time.Time
}

// TableName is hushed.
func (Hushed) TableName() string { return "hushed" }

// Followup is a line of letters; package followup reads what the line says.
type Followup struct {
	ID         string `gorm:"primaryKey"`
	CampaignID string
	Name       string
	Line       JSON `gorm:"type:jsonb"`
	ListID     *string
	DeadlineID *string
	Begins     bool
	Since      *time.Time // from when on it begins
	Revision   int64
	CreatedAt  time.Time
}

// Following is a contact on the line of a follow-up.
type Following struct {
	FollowupID string `gorm:"primaryKey"`
	ContactID  string `gorm:"primaryKey"`
	BeganAt    time.Time
}

// Posting is one letter to one contact.
type Posting struct {
	ID          string `gorm:"primaryKey"`
	ContactID   string
	Kind        string
	ListID      *string
	LetterID    *string
	FollowupID  *string
	BroadcastID *string
	DueAt       time.Time
	TakenUntil  *time.Time
	Tries       int
	Subject     string
	SentAt      *time.Time
	Dropped     string
	ClickedAt   *time.Time
	OpenedAt    *time.Time // first, as a guess
}

// Segment is people picked by a sentence; package segment reads its rule.
type Segment struct {
	ID        string `gorm:"primaryKey"`
	Name      string
	Rule      JSON `gorm:"type:jsonb"`
	CreatedAt time.Time
}

// Broadcast is one letter to many at once.
type Broadcast struct {
	ID         string `gorm:"primaryKey"`
	CampaignID string
	LetterID   string
	ListID     string
	SegmentID  *string
	Rule       JSON `gorm:"type:jsonb"`
	State      string
	At         *time.Time
	Pace       int
	CreatedAt  time.Time
}

// Return is what a mail server said of a letter after it was sent.
type Return struct {
	ID        string `gorm:"primaryKey"`
	PostingID *string
	MailID    *string
	Kind      string
	Attempt   int
	Status    string
	Says      string
	At        time.Time
}

// MailKey is by what letters of a domain are signed.
type MailKey struct {
	Domain   string `gorm:"primaryKey"`
	Selector string
	Private  []byte
	MadeAt   time.Time
}

// Relay is another program that is told of what happens.
type Relay struct {
	ID        string `gorm:"primaryKey"`
	Name      string
	URL       string
	Secret    string
	Events    StringList `gorm:"type:text[]"`
	ListID    *string
	PageID    *string
	Shape     string
	Fields    JSON `gorm:"type:jsonb"`
	Stopped   string
	CreatedAt time.Time
}

// Dispatch is one piece of news for one of them.
type Dispatch struct {
	ID      string `gorm:"primaryKey"`
	RelayID string
	Event   string
	Ref     string
	Other   string
	At      time.Time
	Kind    string
	Body    string
	DueAt   time.Time
	Tries   int
	DoneAt  *time.Time
	Dropped string
}

// DispatchTry is one try to tell it, and what came back.
type DispatchTry struct {
	DispatchID string    `gorm:"primaryKey"`
	At         time.Time `gorm:"primaryKey"`
	Status     int
	Says       string
}
