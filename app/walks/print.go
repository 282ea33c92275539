package walks

import (
	"fmt"
	"time"

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
	if o.Visitor == "" || stepID == "" {
		return nil
	}
	err := tx.Exec(`INSERT INTO footprints (at, visitor, campaign_id, edition_id, step_id, outcome, orders, money_minor) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
		at, o.Visitor, o.CampaignID, o.EditionID, stepID, string(outcome), orders, minor).Error
	if err != nil {
		return fmt.Errorf("keep what came of an order: %w", err)
	}
	return nil
}
