package selling

import (
	"context"
	"time"

	"chrysagon/app/publishing"
	"chrysagon/core/offer"
	"chrysagon/core/seal"
	"chrysagon/pieces"
	"chrysagon/store"

	"gorm.io/gorm"
)

// placeOf is where a visitor stands on a live page.
func placeOf(live publishing.Live, visitor string) seal.Place {
	step := live.Step.ID
	if step == "" {
		step = live.Page.ID
	}
	return seal.At(live.Edition.ID, step, visitor)
}

// Sealer returns what signs quotes with the store's key, for a live page and,
// where it is drawn for one visitor, for them.
func (counter *Counter) Sealer(ctx context.Context, live publishing.Live, visitor string) (pieces.Sealer, error) {
	shop, err := counter.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	return sealer(shop.SealKey, placeOf(live, visitor)), nil
}

func sealer(key []byte, at seal.Place) pieces.Sealer {
	return func(c *pieces.Context, carts ...[]offer.Item) string {
		return seal.WriteBy(key, c.Facts, at, c.Moment, func(cart []offer.Item) (offer.Quote, error) { return c.Quote(cart...) }, carts...)
	}
}

// firstChange is the first moment after a price was seen at which anything that
// it follows from was changed by hand: the goods of a cart, an offer on them, or
// the rates. Zero: nothing was.
func firstChange(db *gorm.DB, cart []offer.Item, since time.Time) (time.Time, error) {
	var ids []string
	for _, item := range cart {
		ids = append(ids, item.ProductID)
	}
	var first []struct{ At time.Time }
	err := db.Raw("SELECT at FROM price_changes WHERE at > ? AND (goods IS NULL OR goods && ?::text[]) ORDER BY at LIMIT 1", since, store.TextArray(ids)).Scan(&first).Error
	if err != nil || len(first) == 0 {
		return time.Time{}, err
	}
	return first[0].At.UTC(), nil
}

// ForgetChanges drops what no seal that is still honoured can ask for.
func (counter *Counter) ForgetChanges(ctx context.Context) error {
	return counter.Store.On(ctx).Exec("DELETE FROM price_changes WHERE at < ?", counter.Store.Now().Add(-seal.Kept-48*time.Hour)).Error
}
