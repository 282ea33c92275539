// Package offers saves offers, their codes and deadlines, and tries them out before they count.
package offers

import (
	"context"
	"fmt"

	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/repricing"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/core/offer/form"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Offers is the use cases of offers.
type Offers struct {
	Facts  *factbook.Reader
	News   *news.Hub
	Prices *repricing.Keeper
	Store  *store.Store
}

// OfferRecord is an offer as it is kept, and as core computes with it.
type OfferRecord struct {
	store.Offer
	Rule      offer.Offer
	Goods     []string
	ShelfName string
	Codes     int    // how many it has
	Code      string // the one, when it has one
}

// OfferRecords lists all offers, the older first.
func (offers *Offers) OfferRecords(ctx context.Context) ([]OfferRecord, error) {
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		store.Offer
		Goods     store.StringList
		Shelf     store.JSON
		ShelfName string
		Codes     int
		Code      string
	}
	err = offers.Store.On(ctx).Raw(`SELECT x.*, coalesce(h.name, '') AS shelf_name, coalesce(c.codes, 0) AS codes, coalesce(c.code, '') AS code FROM (` + factbook.OfferRows + `) x
		LEFT JOIN shelves h ON h.id = x.shelf_id
		LEFT JOIN (SELECT offer_id, count(*) AS codes, min(code) AS code FROM codes GROUP BY offer_id) c ON c.offer_id = x.id
		ORDER BY x.created_at, x.id`).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the offers: %w", err)
	}
	full := make([]factbook.OfferRow, len(rows))
	for i, r := range rows {
		full[i] = factbook.OfferRow{Offer: r.Offer, Goods: r.Goods, Shelf: r.Shelf}
	}
	f := facts.Facts{Store: offers.Facts.StoreFacts(shop)}
	rules, err := factbook.BoundOffers(offers.Store.On(ctx), full, &f)
	if err != nil {
		return nil, err
	}
	out := make([]OfferRecord, len(rows))
	for i, r := range rows {
		out[i] = OfferRecord{Offer: r.Offer, Rule: rules[i], Goods: r.Goods, ShelfName: r.ShelfName, Codes: r.Codes, Code: r.Code}
	}
	return out, nil
}

// OfferInput is an offer as it is typed.
type OfferInput = form.Input

// readOffer reads what was typed. Faults are by field.
func (offers *Offers) readOffer(in OfferInput, c known) (factbook.OfferRow, map[string]string, error) {
	o, bound, faults := form.Read(in, c.typed())
	o.Created = offers.Store.Now()
	if o.ID == "" {
		o.ID = store.NewID()
	}
	if len(faults) > 0 {
		return factbook.OfferRow{}, faults, nil
	}
	full, err := factbook.RowOf(o, bound)
	full.Shelf = c.Shelf
	return full, nil, err
}

// SaveOffer writes an offer, new or changed. Faults are by field.
func (offers *Offers) SaveOffer(ctx context.Context, in OfferInput) (string, map[string]string, error) {
	choices, _, err := offers.about(ctx, in, "", nil)
	if err != nil {
		return "", nil, err
	}
	full, faults, err := offers.readOffer(in, choices)
	if err != nil || len(faults) > 0 {
		return "", faults, err
	}
	err = offers.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		return "offer " + in.Name, nil, writeOffer(tx, in, full)
	})
	if taken := refusal.As(err); taken != "" {
		return "", map[string]string{"code": taken}, nil
	}
	if err != nil {
		return "", nil, fmt.Errorf("keep the offer: %w", err)
	}
	return full.ID, nil, nil
}

// writeOffer writes an offer as typed. One that is there already keeps its age
// and its uses.
func writeOffer(tx *gorm.DB, in OfferInput, full factbook.OfferRow) error {
	row := full.Offer
	if in.ID != "" {
		var old store.Offer
		if err := tx.Raw("SELECT * FROM offers WHERE id = ? FOR UPDATE", in.ID).Scan(&old).Error; err != nil {
			return err
		}
		if old.ID == "" {
			return refusal.Of(refusal.ErrNotFound, "There is no such offer.")
		}
		if old.MaxUses == 0 && row.MaxUses > 0 {
			if err := tx.Raw("SELECT count_uses(?)", in.ID).Scan(&old.Used).Error; err != nil {
				return err
			}
		}
		row.CreatedAt, row.Used, row.EndedAt = old.CreatedAt, old.Used, old.EndedAt // an ended one stays ended
		if row.MaxUses > 0 && row.MaxUses < row.Used {
			return refusal.Of(refusal.ErrConflict, "The offer has been used %d times already; allow at least that many, or end it.", row.Used)
		}
	}
	if err := tx.Save(&row).Error; err != nil {
		return err
	}
	if err := writeOfferGoods(tx, row.ID, full.Goods); err != nil {
		return err
	}
	return writeCode(tx, row.ID, in.Code)
}

func writeOfferGoods(tx *gorm.DB, id string, list []string) error {
	if err := tx.Exec("DELETE FROM offer_goods WHERE offer_id = ?", id).Error; err != nil {
		return err
	}
	return tx.Exec("INSERT INTO offer_goods SELECT DISTINCT ?, g FROM unnest(?::text[]) g", id, store.TextArray(list)).Error
}

// EndOffer ends an offer now, early and for good. Whoever has seen its price
// keeps it for the store's grace time.
func (offers *Offers) EndOffer(ctx context.Context, id string) error {
	err := offers.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		o, err := store.One[store.Offer](tx.Where("id = ?", id), "There is no such offer.")
		if err != nil {
			return "", nil, err
		}
		return o.Name + " ended", nil, tx.Exec("UPDATE offers SET ended_at = ? WHERE id = ? AND ended_at IS NULL", offers.Store.Now(), id).Error
	})
	if err != nil {
		return fmt.Errorf("end an offer: %w", err)
	}
	return nil
}
