package factbook

import (
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
	offered   // every offer, bound to its deadline
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
	if c.offered, err = readOffers(db, c.Facts.Store.Currency, "", nil, []string{offer.Normal(typed)}); err != nil {
		return c, err
	}
	for i, r := range c.rows {
		r.bind(&c.rules[i], &c.Facts)
	}
	if c.Facts.Products, err = readProducts(db, append(slices.Clone(products), c.gifts()...), c.Facts.Store.Currency); err != nil {
		return c, err
	}
	c.Facts.Tax, c.Facts.Shipping, err = Tables(db, shop)
	return c, err
}

// Basket are the facts by which these goods are priced: with the offers that can touch
// them.
func (c Counter) Basket(products []string) facts.Facts {
	f := apart(c.Facts)
	f.Context.Uses = map[string]int{}
	for i, r := range c.rows {
		if r.touches(products) {
			r.put(c.rules[i], &f)
		}
	}
	Attach(c.codes, &f)
	return f
}

// Public are the facts by which everybody is asked: with the offers that everybody meets
// on one unit.
func (c Counter) Public() facts.Facts {
	f := apart(c.Facts)
	for _, o := range c.rules {
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
