package app

import (
	"context"
	"encoding/json"
	"fmt"
	"regexp"

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
	a.tell(FactsChanged)
	return err
}

var drawnColour = regexp.MustCompile(`#[0-9a-fA-F]{6}\b`)

// DrawnPixels are the darkest and lightest colours that a drawn picture names.
func DrawnPixels(raw []byte) style.Pixels {
	var p style.Pixels
	first := true
	for _, hex := range drawnColour.FindAll(raw, -1) {
		c, err := style.ParseColour(string(hex))
		if err != nil {
			continue
		}
		if first || c.Luminance() < p.Dark.Luminance() {
			p.Dark = c
		}
		if first || c.Luminance() > p.Light.Luminance() {
			p.Light = c
		}
		first = false
	}
	if first {
		p.Light = style.Colour{R: 255, G: 255, B: 255}
	}
	return p
}

// pixelsOf are a picture's darkest and lightest places; of one that was kept
// before they were noted, the worst there can be.
func pixelsOf(p store.Picture) style.Pixels {
	dark, errDark := style.ParseColour(p.Dark)
	light, errLight := style.ParseColour(p.Light)
	if errDark != nil || errLight != nil {
		return style.Pixels{Light: style.Colour{R: 255, G: 255, B: 255}}
	}
	return style.Pixels{Dark: dark, Light: light}
}
