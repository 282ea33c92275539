package factbook

import (
	"encoding/json"
	"fmt"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/store"

	"gorm.io/gorm"
)

// GoodsColumns are what a variant and its product come to, as one of the goods.
const GoodsColumns = `v.id, v.product_id, p.name, v.label, p.form, p.category, p.tags, p.tax_class, p.perishable, p.added_at, p.picture_id,
	v.sku, v.price_minor, v.now_minor, v.cost_minor, v.stock - v.reserved AS available, v.weight_grams, v.condition, v.received_at, v.attributes, v.archived_at IS NOT NULL AS archived`

// GoodsRows selects goods as [GoodsRow] reads them.
const GoodsRows = "SELECT " + GoodsColumns + " " + store.GoodsFrom

// GoodsDescribed selects them with what is said of them.
const GoodsDescribed = "SELECT " + GoodsColumns + ", p.description " + store.GoodsFrom

// GoodsRow is one of the goods as pages and lists read it.
type GoodsRow struct {
	ID, ProductID, Name, Label, Form, Category, TaxClass string
	SKU                                                  string
	Tags                                                 store.StringList
	Perishable                                           bool
	AddedAt                                              time.Time
	PictureID                                            *string
	PriceMinor, NowMinor                                 int64
	CostMinor                                            *int64
	Available, WeightGrams                               int
	Condition                                            string
	ReceivedAt                                           *time.Time
	Archived                                             bool
	Attributes                                           store.JSON
	Description                                          string // where it was read: lists do without
}

// Product is one of the goods as core computes with it.
func (r GoodsRow) Product(currency string) goods.Product {
	p := goods.Product{
		ID: r.ID, ProductID: r.ProductID, SKU: r.SKU, Name: r.Name, Form: goods.Form(r.Form), Category: r.Category, Tags: r.Tags,
		TaxClass: r.TaxClass, Perishable: r.Perishable, Added: r.AddedAt.UTC(), Price: money.Of(r.PriceMinor, currency),
		Stock: r.Available, Weight: r.WeightGrams, Condition: goods.Condition(r.Condition), Archived: r.Archived,
	}
	if r.Label != "" {
		p.Name += ", " + r.Label
	}
	if r.PictureID != nil {
		p.PictureID = *r.PictureID
	}
	if r.CostMinor != nil {
		cost := money.Of(*r.CostMinor, currency)
		p.Cost = &cost
	}
	if r.ReceivedAt != nil {
		p.Received = r.ReceivedAt.UTC()
	}
	if len(r.Attributes) > 2 {
		if err := json.Unmarshal(r.Attributes, &p.Attributes); err != nil {
			p.Attributes = nil // written by another hand; it is shown without
		}
	}
	return p
}

func readProducts(db *gorm.DB, ids []string, currency string) (map[string]goods.Product, error) {
	out := map[string]goods.Product{}
	if len(ids) == 0 {
		return out, nil
	}
	var rows []GoodsRow
	if err := db.Raw(GoodsRows+" WHERE v.id IN ?", ids).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the goods: %w", err)
	}
	for _, r := range rows {
		out[r.ID] = r.Product(currency)
	}
	return out, nil
}
