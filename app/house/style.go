package house

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"chrysagon/app/factbook"
	"chrysagon/core/refusal"
	"chrysagon/core/style"
	"chrysagon/store"
)

// House is how the store's pages look, and how they did before the last change.
func (k *Keeper) House(ctx context.Context) (now, before style.House, err error) {
	shop, err := k.Store.Shop(ctx)
	return factbook.HouseOf(shop.House), factbook.HouseOf(shop.HouseBefore), err
}

// withType is a stored house with a font file more, or with what is noted of one anew.
func withType(stored store.JSON, t style.Type) (store.JSON, error) {
	h := factbook.HouseOf(stored)
	h.Types = append(slices.DeleteFunc(h.Types, func(one style.Type) bool { return one.ID == t.ID }), t)
	if err := h.Validate(); err != nil {
		return nil, refusal.Of(refusal.ErrInvalid, "The font file was not taken: %s.", err.Error())
	}
	raw, err := json.Marshal(h)
	if err != nil {
		return nil, fmt.Errorf("write the house style: %w", err)
	}
	return raw, nil
}

// SetStyle changes how all pages look, at once. The house before is kept, so
// that one press brings it back.
func (k *Keeper) SetStyle(ctx context.Context, h style.House) error {
	if err := h.Validate(); err != nil {
		return refusal.Of(refusal.ErrInvalid, "The house style cannot be used: %s.", err.Error())
	}
	raw, err := json.Marshal(h)
	if err != nil {
		return fmt.Errorf("write the house style: %w", err)
	}
	err = k.Store.On(ctx).Exec("UPDATE store SET house_before = house, house = ? WHERE house <> ?::jsonb", store.JSON(raw), store.JSON(raw)).Error
	k.News.FactsChanged()
	return err
}
