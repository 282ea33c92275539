package walks

import (
	"fmt"
	"time"

	"chrysagon/app/publishing"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Print is something that came of a visitor: an outcome of the step they were on.
type Print struct {
	At      time.Time
	Visitor string
	Place   Place
	PageID  string
	Outcome route.Outcome
	To      string // the step to which it led; "" not known yet
	Orders  int    // that it was: 1 where an order was paid by it
	Minor   int64  // what it brought, or, below zero, what went back
}

// Leave keeps a print, in the transaction in which it came to be, until it is
// rolled up. Nobody's is not kept, nor one of a page that is no step.
func Leave(tx *gorm.DB, p Print) error {
	if p.Visitor == "" || p.Place.Step.ID == "" {
		return nil
	}
	err := tx.Exec(`INSERT INTO footprints (at, visitor, campaign_id, edition_id, page_id, step_id, outcome, to_step, orders, money_minor) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		p.At, p.Visitor, p.Place.Edition.CampaignID, p.Place.Edition.ID, p.PageID, p.Place.Step.ID, string(p.Outcome), p.To, p.Orders, p.Minor).Error
	if err != nil {
		return fmt.Errorf("keep what came of a visitor: %w", err)
	}
	return nil
}

// LeaveOf is Leave for an order, by what is stored of it: whoever settles it knows no more.
func LeaveOf(tx *gorm.DB, o store.Order, stepID string, outcome route.Outcome, orders int, minor int64, at time.Time) error {
	place := Place{&publishing.Edition{ID: o.EditionID, CampaignID: o.CampaignID}, route.Step{ID: stepID}}
	return Leave(tx, Print{At: at, Visitor: o.Visitor, Place: place, Outcome: outcome, Orders: orders, Minor: minor})
}
