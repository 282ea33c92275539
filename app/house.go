package app

import (
	"context"
	"encoding/json"
	"fmt"

	"chrysagon/core/style"
	"chrysagon/store"
)

// houseOf reads a stored house. What cannot be read is as the program ships it:
// nothing that was not valid is ever stored.
func houseOf(raw store.JSON) style.House {
	var h style.House
	_ = json.Unmarshal(raw, &h)
	return h
}

// House is how the store's pages look, and how they did before the last change.
func (a *App) House(ctx context.Context) (now, before style.House, err error) {
	shop, err := a.Shop(ctx)
	return houseOf(shop.House), houseOf(shop.HouseBefore), err
}

// SetHouse changes how all pages look, at once. The house before is kept, so
// that one press brings it back.
func (a *App) SetHouse(ctx context.Context, h style.House) error {
	if err := h.Validate(); err != nil {
		return refuse(ErrInvalid, "The house style cannot be used: %s.", err.Error())
	}
	raw, err := json.Marshal(h)
	if err != nil {
		return fmt.Errorf("write the house style: %w", err)
	}
	err = a.db(ctx).Exec("UPDATE store SET house_before = house, house = ? WHERE house <> ?::jsonb", store.JSON(raw), store.JSON(raw)).Error
	a.factsChanged()
	return err
}

// pixelsOf is what is known of a picture's pixels; of one that was kept before
// they were noted, the worst there can be.
func pixelsOf(p store.Picture) style.Pixels {
	dark, errDark := style.ParseColour(p.Dark)
	light, errLight := style.ParseColour(p.Light)
	if errDark != nil || errLight != nil {
		return style.Pixels{Patch: style.Patch{Light: style.Colour{R: 255, G: 255, B: 255}}}
	}
	return style.Pixels{Patch: style.Patch{Dark: dark, Light: light}, Patches: style.ReadPatches(p.Patches)}
}
