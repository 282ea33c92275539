package house

import (
	"context"
	"encoding/json"
	"errors"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/core/ledger"
	"chrysagon/core/refusal"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// Rates are what is taken for tax and shipping, and the rules by which prices
// are shown.
type Rates struct {
	Shop     store.Shop
	Tax      tax.Table
	Shipping shipping.Table
	Setting  ledger.Setting
	TaxCSV   string
	ShipCSV  string
}

// Rates reads the store's tables.
func (k *Keeper) Rates(ctx context.Context) (Rates, error) {
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return Rates{}, err
	}
	taxes, ships, err := factbook.Tables(k.Store.On(ctx), shop)
	if err != nil {
		return Rates{}, err
	}
	r := Rates{Shop: shop, Tax: tax.Table{Included: shop.TaxIncluded}}
	if taxes != nil {
		r.Tax = *taxes
	}
	if ships != nil {
		r.Shipping = *ships
	}
	if r.Setting, err = factbook.StruckSetting(shop); err != nil {
		return r, err
	}
	var text strings.Builder
	if err := r.Tax.WriteCSV(&text); err != nil {
		return r, err
	}
	r.TaxCSV = text.String()
	text.Reset()
	err = r.Shipping.WriteCSV(&text)
	r.ShipCSV = text.String()
	return r, err
}

// SaveTax replaces the tax table by what a CSV says.
func (k *Keeper) SaveTax(ctx context.Context, text string) error {
	rates, err := tax.ReadCSV(text)
	if err != nil {
		return refusal.Of(refusal.ErrInvalid, "%s", refusal.Sentence(err))
	}
	err = k.Store.In(ctx, func(tx *gorm.DB) error {
		if err := errors.Join(store.SetMoment(tx, k.Store.Now(), ""), tx.Exec("DELETE FROM tax_rates").Error); err != nil {
			return err
		}
		for _, r := range rates {
			if err := tx.Create(&store.TaxRate{Country: r.Country, Region: r.Region, Class: r.Class, Percent: r.Percent, Name: r.Name}).Error; err != nil {
				return err
			}
		}
		return nil
	})
	k.News.FactsChanged()
	return err
}

// SaveShipping replaces the shipping table by what a CSV says.
func (k *Keeper) SaveShipping(ctx context.Context, text string) error {
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return err
	}
	t, err := shipping.ReadCSV(text, shop.Currency)
	if err != nil {
		return refusal.Of(refusal.ErrInvalid, "%s", refusal.Sentence(err))
	}
	err = k.Store.In(ctx, func(tx *gorm.DB) error {
		if err := errors.Join(store.SetMoment(tx, k.Store.Now(), ""), tx.Exec("DELETE FROM shipping_zones").Error); err != nil {
			return err
		}
		for i, z := range t.Zones {
			row := store.ShippingZone{ID: z.ID, Name: z.Name, Countries: z.Countries, By: string(z.By), UpTo: z.UpTo, Position: i}
			if z.FreeFrom != nil {
				row.FreeMinor = &z.FreeFrom.Minor
			}
			if err := tx.Create(&row).Error; err != nil {
				return err
			}
			for _, s := range z.Steps {
				if err := tx.Create(&store.ShippingStep{ZoneID: z.ID, FromAmount: s.From, PriceMinor: s.Price.Minor}).Error; err != nil {
					return err
				}
			}
		}
		return nil
	})
	k.News.FactsChanged()
	return err
}

// SaveRules keeps how prices are shown: with tax or without, which former
// price, and the margin under which the studio warns.
func (k *Keeper) SaveRules(ctx context.Context, included bool, floor string, s ledger.Setting) error {
	percent, err := decimal.NewFromString(strings.Replace(strings.TrimSpace(strings.TrimSuffix(floor, "%")), ",", ".", 1))
	if floor == "" {
		percent, err = decimal.Zero, nil
	}
	if err != nil || percent.IsNegative() || percent.GreaterThan(decimal.NewFromInt(100)) {
		return refusal.Of(refusal.ErrInvalid, "Write the least margin as a percentage from 0 to 100.")
	}
	if err := s.Validate(); err != nil {
		return refusal.Of(refusal.ErrInvalid, "%s", refusal.Sentence(err))
	}
	raw, err := json.Marshal(s)
	if err != nil {
		return err
	}
	err = k.Store.On(ctx).Exec("UPDATE store SET tax_included = ?, floor_percent = ?, struck = ?::jsonb", included, percent, string(raw)).Error
	k.News.FactsChanged()
	return err
}
