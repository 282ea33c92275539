package store

import "time"

// Step is one place in a funnel.
type Step struct {
	ID         string `gorm:"primaryKey"`
	CampaignID string
	PageID     *string // nil: it is no page of the store
	Kind       string
	Position   int
	Name       string  // of what is no page
	Address    string  // of a page outside
	FileID     *string // that is handed out
	Aim        *string // of a downsell: the upsell that was declined
	DX         int     `gorm:"column:dx"` // how far it was moved on the map
	DY         int     `gorm:"column:dy"`
}

// Route leads from a step on an outcome, for whom its conditions hold.
type Route struct {
	ID         string `gorm:"primaryKey"`
	FromStep   string
	Outcome    string
	Position   int
	Conditions JSON `gorm:"type:jsonb"`
}

// RouteTarget is a step to which a route leads, with its share.
type RouteTarget struct {
	RouteID  string `gorm:"primaryKey"`
	ToStep   string `gorm:"primaryKey"`
	Share    int
	Position int
}

// MapChange is one change of a campaign's map, with what it was before.
type MapChange struct {
	CampaignID string `gorm:"primaryKey"`
	Seq        int64  `gorm:"primaryKey"`
	At         time.Time
	UserID     string
	What       string
	Before     JSON `gorm:"type:jsonb"`
	After      JSON `gorm:"type:jsonb"`
	Undone     bool
}

// Walk is one visitor's way through a funnel.
type Walk struct {
	CampaignID string `gorm:"primaryKey"`
	Visitor    string `gorm:"primaryKey"`
	ID         string // names it to pages outside
	EditionID  string // whose routes it follows
	BegunAt    time.Time
	Source     string
	Medium     string
	ByCampaign string
	Landing    string // the step at which they came in
	StepID     string // where they were led last
	MovedAt    time.Time
	Counted    bool // that it began was rolled up
}

// Footprint is what came of a visitor and was not yet rolled up.
type Footprint struct {
	ID         int64 `gorm:"primaryKey"`
	At         time.Time
	Visitor    string
	CampaignID string
	EditionID  string
	PageID     string
	StepID     string
	Outcome    string
	ToStep     string
	Orders     int
	MoneyMinor int64
	Source     string
	Medium     string
	ByCampaign string
}

// Assignment is the step to which a fork sends a visitor.
type Assignment struct {
	RouteID string `gorm:"primaryKey"`
	Visitor string `gorm:"primaryKey"`
	ToStep  string
	At      time.Time
}

// Link leads in, by a name, and is counted.
type Link struct {
	ID         string `gorm:"primaryKey"`
	CampaignID string
	Name       string
	Slug       string
	Source     string
	Medium     string
	ByCampaign string
	StepID     *string
	RouteID    *string // a fork
	Clicks     int64
	CreatedAt  time.Time
}
