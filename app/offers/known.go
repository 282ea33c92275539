package offers

import (
	"encoding/json"
	"fmt"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/offer/form"
	"chrysagon/store"

	"gorm.io/gorm"
)

// known is what there is of what an offer being typed speaks of.
type known struct {
	Store     facts.Store
	Products  map[string]goods.Product
	Deadlines []deadline.Deadline
	ShelfID   string // the shelf it names, where there is such a one
	Shelf     store.JSON
	Step      string // the step it names, likewise
	StepPage  string // the page that stands there
	Used      int64  // orders that used the offer, where it is kept already
}

// typed is what a form is read with.
func (k known) typed() form.Known {
	ends := make(map[string]time.Time, len(k.Deadlines))
	for _, d := range k.Deadlines {
		ends[d.ID] = d.At
	}
	return form.Known{
		Currency: k.Store.Currency, Zone: k.Store.Zone, Products: k.Products, Deadlines: ends,
		Shelves: map[string]bool{k.ShelfID: k.ShelfID != ""}, Steps: map[string]bool{k.Step: k.Step != ""},
	}
}

// read reads the shelf and the step that an offer names, and how often it was used.
func (k *known) read(db *gorm.DB, in OfferInput) error {
	var row struct {
		Shelf store.JSON
		Page  string
		Used  int64
	}
	err := db.Raw(`SELECT (SELECT shelf FROM shelves WHERE id = @shelf) AS shelf,
			(SELECT p.name FROM steps s JOIN pages p ON p.id = s.page_id WHERE s.id = @step) AS page,
			(SELECT count(*) FROM offer_uses WHERE offer_id = @offer AND held) AS used`,
		map[string]any{"shelf": in.ShelfID, "step": in.Step, "offer": in.ID}).Scan(&row).Error
	if err != nil {
		return fmt.Errorf("read what the offer is bound to: %w", err)
	}
	if len(row.Shelf) > 0 && json.Valid(row.Shelf) {
		k.ShelfID, k.Shelf = in.ShelfID, row.Shelf
	}
	if row.Page != "" {
		k.Step, k.StepPage = in.Step, row.Page
	}
	k.Used = row.Used
	return nil
}
