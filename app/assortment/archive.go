package assortment

import (
	"context"
	"fmt"

	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Archive takes goods out of the shop and off every shelf, or brings them back. What was
// sold of them stays as it was; what is reserved is sold still.
func (g *Assortment) Archive(ctx context.Context, ids []string, back bool) error {
	var at any
	if !back {
		at = g.Store.Now()
	}
	changed := g.Store.On(ctx).Exec("UPDATE variants SET archived_at = ? WHERE id = ANY(?::text[]) AND (archived_at IS NULL) <> ?", at, store.TextArray(ids), back)
	if changed.Error != nil {
		return fmt.Errorf("archive goods: %w", changed.Error)
	}
	if changed.RowsAffected == 0 {
		return refusal.Of(refusal.ErrConflict, "They are as you want them already.")
	}
	g.News.FactsChanged()
	return nil
}

// Copy makes a product like another, with variants like its own, none of which is in stock:
// each has an SKU of its own, which the owner then changes. It answers with the copy's ID.
func (g *Assortment) Copy(ctx context.Context, productID string) (string, error) {
	id := store.NewID()
	err := g.Store.In(ctx, func(tx *gorm.DB) error {
		now := g.Store.Now()
		if err := store.SetMoment(tx, now, "copied"); err != nil {
			return err
		}
		var p store.Product
		if err := tx.Raw("SELECT * FROM products WHERE id = ?", productID).Scan(&p).Error; err != nil {
			return err
		}
		if p.ID == "" {
			return refusal.Of(refusal.ErrNotFound, "There is no such product.")
		}
		p.ID, p.AddedAt = id, now
		if name := []rune(p.Name); len(name) > 190 {
			p.Name = string(name[:190])
		}
		p.Name += ", copy"
		if err := tx.Create(&p).Error; err != nil {
			return err
		}
		var variants []store.Variant
		if err := tx.Raw("SELECT * FROM variants WHERE product_id = ? AND archived_at IS NULL ORDER BY id", productID).Scan(&variants).Error; err != nil {
			return err
		}
		var ids []string
		for _, v := range variants {
			v.ID, v.ProductID, v.Stock, v.Reserved, v.ReceivedAt, v.NowMinor = store.NewID(), id, 0, 0, nil, v.PriceMinor
			var err error
			if v.SKU, err = freeSKU(tx, v.SKU); err != nil {
				return err
			}
			v.Address = ""
			if err := tx.Create(&v).Error; err != nil {
				return err
			}
			ids = append(ids, v.ID)
		}
		return g.Prices.AfterChange(tx, "copied", ids)
	})
	if err != nil {
		return "", fmt.Errorf("copy goods: %w", err)
	}
	g.News.FactsChanged()
	return id, nil
}

// freeSKU is an SKU like another that no goods have.
func freeSKU(tx *gorm.DB, like string) (string, error) {
	base := []rune(like)
	base = base[:min(len(base), 54)]
	for n := 2; ; n++ {
		sku, taken := fmt.Sprintf("%s-%d", string(base), n), false
		if err := tx.Raw("SELECT EXISTS (SELECT FROM variants WHERE sku = ?)", sku).Scan(&taken).Error; err != nil || !taken {
			return sku, err
		}
	}
}
