package factbook

import (
	"encoding/json"
	"fmt"

	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"
	"chrysagon/store"

	"gorm.io/gorm"
)

// ReadTables reads tax and shipping by one statement: every checkout does.
func ReadTables(db *gorm.DB, shop store.Shop, f *facts.Facts) error {
	var raw string
	err := db.Raw(`SELECT jsonb_build_object(
		'rates', (SELECT coalesce(jsonb_agg(jsonb_build_object('country', country, 'region', region, 'class', class, 'percent', percent::text, 'name', name)
			ORDER BY country, region, class), '[]') FROM tax_rates),
		'zones', (SELECT coalesce(jsonb_agg(jsonb_build_object('id', z.id, 'name', z.name, 'countries', z.countries, 'by', z.by, 'up_to', z.up_to, 'free', z.free_minor,
			'steps', (SELECT jsonb_agg(jsonb_build_object('from', s.from_amount, 'price', s.price_minor) ORDER BY s.from_amount) FROM shipping_steps s WHERE s.zone_id = z.id))
			ORDER BY z.position, z.id), '[]') FROM shipping_zones z))::text`).Scan(&raw).Error
	if err != nil {
		return fmt.Errorf("read tax and shipping: %w", err)
	}
	var read struct {
		Rates []tax.Rate
		Zones []struct {
			ID, Name  string
			Countries []string
			By        shipping.By
			UpTo      int64 `json:"up_to"`
			Free      *int64
			Steps     []struct{ From, Price int64 }
		}
	}
	if err := json.Unmarshal([]byte(raw), &read); err != nil {
		return fmt.Errorf("read tax and shipping: %w", err)
	}
	if len(read.Rates) > 0 {
		f.Tax = &tax.Table{Included: shop.TaxIncluded, Rates: read.Rates}
	}
	if len(read.Zones) == 0 {
		return nil
	}
	f.Shipping = &shipping.Table{}
	for _, z := range read.Zones {
		zone := shipping.Zone{ID: z.ID, Name: z.Name, Countries: z.Countries, By: z.By, UpTo: z.UpTo}
		if z.Free != nil {
			free := money.Of(*z.Free, shop.Currency)
			zone.FreeFrom = &free
		}
		for _, s := range z.Steps {
			zone.Steps = append(zone.Steps, shipping.Step{From: s.From, Price: money.Of(s.Price, shop.Currency)})
		}
		if len(zone.Steps) > 0 {
			f.Shipping.Zones = append(f.Shipping.Zones, zone)
		}
	}
	return nil
}
