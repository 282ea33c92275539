package factbook

import (
	"encoding/json"
	"fmt"
	"slices"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/offer"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Counter is all offers of the store with the goods at hand, read once: a basket can be
// priced by it, and what everybody is asked.
type Counter struct {
	Facts     facts.Facts // without offers
	Deadlines []store.Deadline
	rows      []OfferRow
	offers    []offer.Offer // by rows
	codes     []store.Code
}

// Counter reads it, for goods and for what was typed as a code.
func (reader *Reader) Counter(db *gorm.DB, shop store.Shop, products []string, typed string) (Counter, error) {
	c := Counter{Facts: facts.Facts{
		Store: reader.StoreFacts(shop), Products: map[string]goods.Product{}, Deadlines: map[string]deadline.Deadline{},
		Floor: shop.FloorPercent, Context: offer.Context{Country: shop.Country},
	}}
	var err error
	if c.Facts.Setting, err = StruckSetting(shop); err != nil {
		return c, err
	}
	if err := db.Order("at NULLS LAST, name").Find(&c.Deadlines).Error; err != nil {
		return c, fmt.Errorf("read the deadlines: %w", err)
	}
	for _, d := range c.Deadlines {
		c.Facts.Deadlines[d.ID] = DeadlineOf(d)
	}
	if c.rows, c.codes, err = readAllOffers(db, typed); err != nil {
		return c, err
	}
	if c.offers, err = BoundOffers(db, c.rows, &c.Facts); err != nil {
		return c, err
	}
	ids := slices.Clone(products)
	for _, o := range c.offers {
		if o.GiftID != "" {
			ids = append(ids, o.GiftID)
		}
	}
	if c.Facts.Products, err = readProducts(db, ids, c.Facts.Store.Currency); err != nil {
		return c, err
	}
	c.Facts.Tax, c.Facts.Shipping, err = Tables(db, shop)
	return c, err
}

// readAllOffers reads every offer, and the codes that what was typed could be.
func readAllOffers(db *gorm.DB, typed string) ([]OfferRow, []store.Code, error) {
	var rows []struct {
		OfferRow
		Typed store.JSON
	}
	err := db.Raw(`SELECT x.*, (SELECT jsonb_agg(jsonb_build_object('code', c.code, 'max_uses', c.max_uses, 'used', c.used))
			FROM codes c WHERE c.offer_id = x.id AND c.normal = ?) AS typed
		FROM (`+OfferRows+`) x ORDER BY x.created_at, x.id`, offer.Normal(typed)).Scan(&rows).Error
	if err != nil {
		return nil, nil, fmt.Errorf("read the offers: %w", err)
	}
	var out []OfferRow
	var codes []store.Code
	for _, r := range rows {
		out = append(out, r.OfferRow)
		if len(r.Typed) == 0 {
			continue
		}
		var list []struct {
			Code    string
			MaxUses int `json:"max_uses"`
			Used    int
		}
		if err := json.Unmarshal(r.Typed, &list); err != nil {
			return nil, nil, fmt.Errorf("read the codes: %w", err)
		}
		for _, c := range list {
			codes = append(codes, store.Code{OfferID: r.ID, Code: c.Code, MaxUses: c.MaxUses, Used: c.Used})
		}
	}
	return out, codes, nil
}

// Basket are the facts by which these goods are priced: with the offers that can touch
// them.
func (c Counter) Basket(products []string) facts.Facts {
	f := apart(c.Facts)
	f.Context.Uses = map[string]int{}
	for i, r := range c.rows {
		if !r.touches(products) {
			continue
		}
		o := c.offers[i]
		for _, code := range c.codes {
			if code.OfferID == o.ID {
				o.Codes = append(slices.Clone(o.Codes), offer.Code{Code: code.Code, MaxUses: code.MaxUses, Used: code.Used})
			}
		}
		if r.MaxUses > 0 {
			f.Context.Uses[o.ID] = r.Used
		}
		f.Offers = append(f.Offers, o)
	}
	return f
}

// Public are the facts by which everybody is asked: with the offers that everybody meets
// on one unit.
func (c Counter) Public() facts.Facts {
	f := apart(c.Facts)
	for _, o := range c.offers {
		if Everybodys(o, f) {
			f.Offers = append(f.Offers, o)
		}
	}
	return f
}

// Everybodys tells whether an offer makes a price that everybody is asked. A deadline
// of the visitor's own makes one that not everybody is.
func Everybodys(o offer.Offer, f facts.Facts) bool {
	return o.Public() && !f.Deadlines[f.Bound[o.ID]].Personal()
}
