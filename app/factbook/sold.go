package factbook

import (
	"fmt"
	"maps"
	"slices"

	"chrysagon/core/facts"
	"chrysagon/store"

	"gorm.io/gorm"
)

// readSold reads the live pages that sell goods: all that are at hand, and those
// that links name. A page with a checkout of them goes before one that shows them.
func readSold(db *gorm.DB, linked []string, f *facts.Facts) error {
	f.Sold = map[string]facts.Page{}
	ids := slices.AppendSeq(slices.Clone(linked), maps.Keys(f.Products))
	if len(ids) == 0 {
		return nil
	}
	var rows []struct{ Ref, ID, Name, Address string }
	err := db.Raw(`SELECT DISTINCT ON (s.ref) s.ref, p.id, p.name, s.address FROM public_shows s JOIN pages p ON p.id = s.page_id
		WHERE s.what IN ('checkout', 'product') AND s.ref = ANY(?::text[]) ORDER BY s.ref, (p.purpose = 'sales') DESC, s.what, s.address`, store.TextArray(ids)).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("find the pages that sell the goods: %w", err)
	}
	for _, r := range rows {
		f.Sold[r.Ref] = facts.Page{ID: r.ID, Name: r.Name, Address: r.Address, Live: true}
	}
	return nil
}

// readBooked reads the live page that gives appointments.
func readBooked(db *gorm.DB, f *facts.Facts) error {
	var rows []struct{ ID, Name, Address string }
	err := db.Raw(`SELECT p.id, p.name, s.address FROM public_shows s JOIN pages p ON p.id = s.page_id
		WHERE s.what = 'appointment' ORDER BY s.address LIMIT 1`).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("find the page that gives appointments: %w", err)
	}
	for _, r := range rows {
		f.Booked = facts.Page{ID: r.ID, Name: r.Name, Address: r.Address, Live: true}
	}
	return nil
}
