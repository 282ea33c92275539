package offers

import (
	"encoding/json"
	"fmt"
	"strings"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/store"

	"gorm.io/gorm"
)

// known is what there is of what an offer being typed speaks of.
type known struct {
	Store     facts.Store
	Products  map[string]goods.Product
	Deadlines []deadline.Deadline
	Shelves   []store.Shelf
	Steps     []StepChoice
	Used      int64 // orders that used the offer, where it is kept already
}

// named are the goods that an offer names.
func (in OfferInput) named() []string {
	ids := append([]string{in.Gift}, in.Goods...)
	for part := range strings.SplitSeq(in.Parts, ",") {
		id, _, _ := strings.Cut(strings.TrimSpace(part), "×")
		ids = append(ids, strings.TrimSpace(id))
	}
	return ids
}

// read reads the shelf and the step that an offer names, and how often it was used.
func (k *known) read(db *gorm.DB, in OfferInput) error {
	var row struct {
		Shelf    store.JSON
		Campaign string
		Page     string
		Used     int64
	}
	err := db.Raw(`SELECT (SELECT shelf FROM shelves WHERE id = @shelf) AS shelf,
			(SELECT c.name FROM steps s JOIN campaigns c ON c.id = s.campaign_id WHERE s.id = @step) AS campaign,
			(SELECT p.name FROM steps s JOIN pages p ON p.id = s.page_id WHERE s.id = @step) AS page,
			(SELECT count(*) FROM offer_uses WHERE offer_id = @offer AND held) AS used`,
		map[string]any{"shelf": in.ShelfID, "step": in.Step, "offer": in.ID}).Scan(&row).Error
	if err != nil {
		return fmt.Errorf("read what the offer is bound to: %w", err)
	}
	if len(row.Shelf) > 0 && json.Valid(row.Shelf) {
		k.Shelves = []store.Shelf{{ID: in.ShelfID, Shelf: row.Shelf}}
	}
	if row.Page != "" {
		k.Steps = []StepChoice{{ID: in.Step, Campaign: row.Campaign, Page: row.Page}}
	}
	k.Used = row.Used
	return nil
}
