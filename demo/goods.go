package demo

import (
	"encoding/json"
	"fmt"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// recorded is for how long the demo's ledger goes back, so that former prices
// can be proved.
const recorded = 120 * 24 * time.Hour

type thing struct {
	id, sku, name, label, form, category, picture string
	tags                                          []string
	price, cost                                   int64
	stock, grams, days                            int // days in stock
	condition                                     string
	attributes                                    map[string]any
	of                                            string // product of which it is another variant
}

func kite(lines, min, max, span int, skill string) map[string]any {
	return map[string]any{"lines": lines, "wind_min": min, "wind_max": max, "wingspan": span, "skill": skill}
}

// things are Gustwell's goods.
func things() []thing {
	single, dual, power, parts := "Single-line kites", "Dual- and four-line kites", "Power kites", "Parts and line"
	return []thing{
		{id: "ember", sku: "GK-EMB-180", name: "Ember 180, with lantern and line", category: single, picture: "ember", tags: []string{"night", "gift"}, price: 6800, cost: 2900, stock: 240, grams: 620, days: 24, attributes: kite(1, 2, 5, 180, "beginner")},
		{id: "quiver", sku: "GK-BAG-3", name: "Quiver bag for three kites", category: "Bags", picture: "bag", price: 3400, cost: 1300, stock: 180, grams: 480, days: 60},
		{id: "lantern-cell", sku: "GK-CEL-1", name: "Spare lantern cell", category: parts, picture: "lantern-cell", tags: []string{"night"}, price: 900, cost: 260, stock: 400, grams: 60, days: 24},
		{id: "gull", sku: "GK-GUL-90", name: "Gull 90, single line", category: single, picture: "gull", tags: []string{"gift"}, price: 2900, cost: 1100, stock: 65, grams: 310, days: 112, attributes: kite(1, 2, 4, 90, "beginner")},
		{id: "gull-back", sku: "GK-GUL-90-R", name: "Gull 90, single line", label: "returned", of: "gull", price: 2300, cost: 1100, stock: 3, grams: 310, days: 19, condition: "returned", attributes: kite(1, 2, 4, 90, "beginner")},
		{id: "line-30", sku: "GK-LIN-30", name: "Line on a reel, 30 m", category: parts, picture: "line", price: 1400, cost: 420, stock: 120, grams: 150, days: 140},
		{id: "plans", sku: "GK-PLN-7", name: "Seven kite plans to print", form: "digital", category: "Plans", picture: "plans", price: 1200},
		{id: "petrel", sku: "GK-PET-160", name: "Petrel 160, dual line", category: dual, picture: "petrel", price: 8900, cost: 3900, stock: 34, grams: 410, days: 41, attributes: kite(2, 1, 3, 160, "improver")},
		{id: "petrel-demo", sku: "GK-PET-160-D", name: "Petrel 160, dual line", label: "ex-demo", of: "petrel", price: 6400, cost: 3900, stock: 2, grams: 410, days: 203, condition: "ex-demo", attributes: kite(2, 1, 3, 160, "improver")},
		{id: "shearwater", sku: "GK-SHE-210", name: "Shearwater 210, dual line", category: dual, picture: "shearwater", price: 13900, cost: 6400, stock: 18, grams: 520, days: 33, attributes: kite(2, 2, 5, 210, "expert")},
		{id: "shearwater-back", sku: "GK-SHE-210-R", name: "Shearwater 210, dual line", label: "returned", of: "shearwater", price: 9800, cost: 6400, stock: 1, grams: 520, days: 12, condition: "returned", attributes: kite(2, 2, 5, 210, "expert")},
		{id: "loom", sku: "GK-LOO-4", name: "Loom, four line", category: dual, picture: "loom", price: 18500, cost: 8800, stock: 12, grams: 690, days: 96, attributes: kite(4, 2, 4, 230, "expert")},
		{id: "loom-demo", sku: "GK-LOO-4-D", name: "Loom, four line", label: "ex-demo", of: "loom", price: 12900, cost: 8800, stock: 1, grams: 690, days: 160, condition: "ex-demo", attributes: kite(4, 2, 4, 230, "expert")},
		{id: "mistral", sku: "GK-MIS-2", name: "Mistral 2.0, power kite", category: power, picture: "mistral", price: 11900, cost: 5700, stock: 22, grams: 980, days: 131, attributes: kite(2, 3, 6, 200, "improver")},
		{id: "mistral-back", sku: "GK-MIS-2-R", name: "Mistral 2.0, power kite", label: "returned", of: "mistral", price: 7900, cost: 5700, stock: 2, grams: 980, days: 27, condition: "returned", attributes: kite(2, 3, 6, 200, "improver")},
		{id: "tramontane", sku: "GK-TRA-3", name: "Tramontane 3.5, power kite", category: power, picture: "tramontane", price: 21900, cost: 11200, stock: 9, grams: 1450, days: 178, attributes: kite(4, 3, 6, 350, "expert")},
		{id: "wisp", sku: "GK-WIS-120", name: "Wisp 120, ultralight dual line", category: dual, picture: "wisp", price: 9900, cost: 4100, stock: 27, grams: 180, days: 15, attributes: kite(2, 0, 2, 120, "improver")},
		{id: "tern", sku: "GK-TER-60", name: "Tern 60, pocket kite", category: single, picture: "tern", tags: []string{"gift"}, price: 1900, cost: 600, stock: 88, grams: 90, days: 9, attributes: kite(1, 2, 4, 60, "beginner")},
		{id: "line-set-2", sku: "GK-SET-2", name: "Line set, two by 25 m", category: parts, picture: "line", price: 2600, cost: 900, stock: 74, grams: 120, days: 88},
		{id: "reel", sku: "GK-REE-1", name: "Beech reel", category: parts, picture: "reel", tags: []string{"gift"}, price: 2200, cost: 800, stock: 41, grams: 260, days: 205},
		{id: "spar-kit", sku: "GK-SPA-6", name: "Spare spars, six", category: parts, picture: "spars", price: 1600, cost: 500, stock: 130, grams: 210, days: 260},
		{id: "repair", sku: "GK-REP-1", name: "Repair kit in a tin", category: parts, picture: "repair", tags: []string{"gift"}, price: 1100, cost: 350, stock: 96, grams: 140, days: 51},
		{id: "build-kit", sku: "GK-BUI-1", name: "Build-a-kite kit", category: "Kits", picture: "build-kit", tags: []string{"gift"}, price: 3900, cost: 1500, stock: 37, grams: 540, days: 22},
		{id: "seat", sku: "GK-WOR-2H", name: "Workshop seat, two hours", form: "bookable", category: "Workshops", picture: "seat", price: 4500, cost: 1200, stock: 24, days: 0},
	}
}

func goods(tx *gorm.DB, now time.Time) error {
	if err := tx.Create(&[]store.Attribute{
		{Name: "lines", Label: "Lines", Type: "number"}, {Name: "wind_min", Label: "Wind from", Type: "number", Unit: "bft"},
		{Name: "wind_max", Label: "Wind to", Type: "number", Unit: "bft"}, {Name: "wingspan", Label: "Wingspan", Type: "number", Unit: "cm"},
		{Name: "skill", Label: "Skill", Type: "text"}, {Name: "light_wind", Label: "Flies in light wind", Type: "yes_no"},
	}).Error; err != nil {
		return err
	}
	began := now.Add(-recorded)
	if err := moment(tx, began, "first listed"); err != nil {
		return err
	}
	for _, g := range things() {
		if err := add(tx, g, now, began); err != nil {
			return fmt.Errorf("add %s: %w", g.id, err)
		}
	}
	return nil
}

// moment tells the database at which moment of the demo what follows happens.
func moment(tx *gorm.DB, at time.Time, why string) error {
	return tx.Exec("SELECT set_config('chrysagon.moment', ?, true), set_config('chrysagon.why', ?, true)", at.Format(time.RFC3339Nano), why).Error
}

func add(tx *gorm.DB, g thing, now, began time.Time) error {
	if g.of == "" {
		p := store.Product{ID: g.id, Name: g.name, Form: g.form, Category: g.category, Tags: g.tags, TaxClass: "standard", AddedAt: began, Description: said[g.id]}
		if p.Form == "" {
			p.Form = "physical"
		}
		if g.picture != "" {
			p.PictureID = &g.picture
		}
		if err := tx.Create(&p).Error; err != nil {
			return err
		}
	}
	v := store.Variant{ID: g.id, ProductID: g.id, SKU: g.sku, Label: g.label, PriceMinor: g.price, NowMinor: g.price, Stock: g.stock, WeightGrams: g.grams, Condition: "new"}
	if g.of != "" {
		v.ProductID = g.of
	}
	if g.condition != "" {
		v.Condition = g.condition
	}
	if g.cost > 0 {
		v.CostMinor = &g.cost
	}
	if g.days > 0 {
		received := now.AddDate(0, 0, -g.days)
		v.ReceivedAt = &received
	}
	if g.attributes == nil {
		g.attributes = map[string]any{}
	} else if low, ok := g.attributes["wind_min"].(int); ok {
		g.attributes["light_wind"] = low <= 1
	}
	raw, err := json.Marshal(g.attributes)
	if err != nil {
		return err
	}
	v.Attributes = raw
	return tx.Create(&v).Error
}

// tables are what is taken for tax and shipping.
func tables(tx *gorm.DB, _ time.Time) error {
	var rates []store.TaxRate
	for country, percent := range map[string]int64{"PT": 23, "ES": 21, "FR": 20, "DE": 19} {
		rates = append(rates, store.TaxRate{Country: country, Class: "standard", Percent: decimal.NewFromInt(percent), Name: map[string]string{"PT": "IVA", "ES": "IVA", "FR": "TVA", "DE": "USt"}[country]})
	}
	rates = append(rates, store.TaxRate{Country: "*", Class: "standard", Percent: decimal.NewFromInt(23), Name: "IVA"})
	if err := tx.Create(&rates).Error; err != nil {
		return err
	}
	free := int64(3000)
	far := int64(15000)
	if err := tx.Create(&[]store.ShippingZone{
		{ID: "home", Name: "Portugal", Countries: store.StringList{"PT"}, By: "weight", FreeMinor: &free, Position: 1},
		{ID: "near", Name: "Neighbours", Countries: store.StringList{"ES", "FR", "DE", "BE", "NL", "LU", "IT", "AT", "IE"}, By: "weight", FreeMinor: &far, Position: 2},
		{ID: "else", Name: "Everywhere else", Countries: store.StringList{"*"}, By: "flat", Position: 3},
	}).Error; err != nil {
		return err
	}
	return tx.Create(&[]store.ShippingStep{
		{ZoneID: "home", FromAmount: 0, PriceMinor: 390}, {ZoneID: "home", FromAmount: 2000, PriceMinor: 690},
		{ZoneID: "near", FromAmount: 0, PriceMinor: 890}, {ZoneID: "near", FromAmount: 1000, PriceMinor: 1290}, {ZoneID: "near", FromAmount: 3000, PriceMinor: 1990},
		{ZoneID: "else", FromAmount: 0, PriceMinor: 2400},
	}).Error
}

func offers(tx *gorm.DB, now time.Time) error {
	end := friday(now)
	if err := tx.Create(&store.Deadline{ID: fridayID, Name: "Lantern Friday", Kind: string(deadline.Fixed), At: &end, Zone: zone}).Error; err != nil {
		return err
	}
	began, until := now.AddDate(0, 0, -3).Truncate(24*time.Hour), fridayID
	list := []store.Offer{
		{ID: "lantern-week", Name: "Lantern week", Kind: "percent_off", Percent: decimal.NewFromInt(25), StartsAt: &began, DeadlineID: &until, CreatedAt: began},
		{ID: "cell-with-kite", Name: "Cell with a kite", Kind: "amount_off", AmountMinor: 200, OnlyVia: "bump", CreatedAt: began.Add(time.Hour)},
		{ID: "bag-with-order", Name: "Bag with the order", Kind: "percent_off", Percent: decimal.NewFromInt(30), OnlyVia: "upsell", CreatedAt: began.Add(2 * time.Hour)},
	}
	on := map[string]string{"lantern-week": "ember", "cell-with-kite": "lantern-cell", "bag-with-order": "quiver"}
	for i := range list {
		list[i].Detail = store.JSON("{}")
	}
	if err := tx.Create(&list).Error; err != nil {
		return err
	}
	for id, variant := range on {
		if err := tx.Create(&store.OfferGoods{OfferID: id, VariantID: variant}).Error; err != nil {
			return err
		}
	}
	// The ledger as the keeper would have written it when the offer began.
	if err := moment(tx, began, "offer Lantern week"); err != nil {
		return err
	}
	return tx.Exec("UPDATE variants SET now_minor = 5100 WHERE id = 'ember'").Error
}

// shelves are the three that the job asks for most, and two of them as cards.
func shelves(tx *gorm.DB, _ time.Time) error {
	err := tx.Create(&[]store.Shelf{
		{ID: "back-and-shown", Name: "Returned and ex-demo, at most 80", Shelf: store.JSON(`{"rule": {"all": [{"field": "condition", "is": ["returned", "ex-demo"]}, {"field": "price", "at_most": 8000}]}, "order": [{"by": "price"}]}`)},
		{ID: "light-wind", Name: "Dual and four lines for light wind", Shelf: store.JSON(`{"rule": {"all": [{"field": "attribute", "name": "lines", "is": [2, 4]}, {"field": "attribute", "name": "wind_min", "at_most": 2}, {"field": "condition", "is": ["new"]}]}, "order": [{"by": "price"}]}`)},
		{ID: "stood-long", Name: "More than 90 days in stock", Shelf: store.JSON(`{"rule": {"all": [{"field": "days_in_stock", "at_least": 91}, {"field": "stock", "at_least": 1}]}, "order": [{"by": "days_in_stock", "down": true}]}`)},
		{ID: "all-goods", Name: "All goods", Shelf: store.JSON(`{"rule": {"all": [{"field": "stock", "at_least": 0}]}, "order": [{"by": "name"}]}`)},
		{ID: "spares", Name: "Parts and line", Shelf: store.JSON(`{"rule": {"all": [{"field": "category", "is": ["Parts and line"]}, {"field": "stock", "at_least": 1}]}, "order": [{"by": "price"}]}`)},
		{ID: "to-begin", Name: "To begin with", Shelf: store.JSON(`{"rule": {"all": [{"field": "category", "is": ["Single-line kites", "Kits", "Plans"]}, {"field": "condition", "is": ["new"]}]}, "order": [{"by": "price"}]}`)},
	}).Error
	if err != nil {
		return err
	}
	dunes, bag := "dunes", "bag"
	return tx.Create(&[]store.GoodsGroup{
		{ID: "group-light-wind", Name: "For light wind", PictureID: &dunes, ShelfID: "light-wind"},
		{ID: "group-back-and-shown", Name: "Back and shown", PictureID: &bag, ShelfID: "back-and-shown"},
	}).Error
}

// year places the three seasons in the year of the demo.
func year(tx *gorm.DB, now time.Time) error {
	y := now.Year()
	set := func(id, begins, ends string, on ...string) error {
		err := tx.Exec("UPDATE campaigns SET begins = ?::jsonb, ends = ?::jsonb, year = ? WHERE id = ?", begins, ends, y, id).Error
		for _, variant := range on {
			if err == nil {
				err = tx.Create(&store.CampaignGoods{CampaignID: id, VariantID: variant}).Error
			}
		}
		return err
	}
	for id, name := range map[string]string{"first-winds": "First Winds", "long-light": "Long Light"} {
		if err := tx.Create(&store.Campaign{ID: id, Name: name}).Error; err != nil {
			return err
		}
	}
	if err := set("first-winds", `{"day": "easter", "offset": -14}`, `{"day": "easter", "offset": 7}`, "gull", "petrel", "tern"); err != nil {
		return err
	}
	if err := set("long-light", fmt.Sprintf(`{"date": "%d-07-06"}`, y), fmt.Sprintf(`{"date": "%d-08-02"}`, y), "gull", "reel", "spar-kit", "mistral"); err != nil {
		return err
	}
	// The one at hand runs around the day the demo was started.
	from, to := now.AddDate(0, 0, -3).Format(time.DateOnly), friday(now).Format(time.DateOnly)
	return set(campaignID, fmt.Sprintf(`{"date": "%s"}`, from), fmt.Sprintf(`{"date": "%s"}`, to), "ember", "quiver", "lantern-cell")
}
