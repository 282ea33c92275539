package offers

import (
	"context"
	"fmt"

	"chrysagon/app/factbook"
	"chrysagon/app/find"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/store"
)

// choicesShown is how many goods a choice lists; the rest are found by search.
const choicesShown = 300

// Choices lists what slips choose from: goods, pictures, deadlines, offers,
// shelves.
type Choices struct {
	Store     facts.Store
	Products  []goods.Product
	Pictures  []facts.Picture
	Deadlines []deadline.Deadline
	Offers    []OfferRecord
	Shelves   []store.Shelf
	Steps     []StepChoice
	Pages     []find.PageChoice
	Videos    []find.Choice
	Files     []find.Choice
}

// StepChoice is a step of some funnel, as an offer can be bound to it.
type StepChoice struct{ ID, Campaign, Page string }

// ProductName is the name of one of the goods among the choices.
func (s Choices) ProductName(id string) string {
	for _, p := range s.Products {
		if p.ID == id {
			return p.Name
		}
	}
	return ""
}

// Choices reads what can be chosen, and always the goods that are named.
func (offers *Offers) Choices(ctx context.Context, named ...string) (Choices, error) {
	db := offers.Store.On(ctx)
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return Choices{}, err
	}
	s := Choices{Store: offers.Facts.StoreFacts(shop)}
	var rows []factbook.GoodsRow
	err = db.Raw(`SELECT `+factbook.GoodsColumns+` FROM (SELECT id FROM (SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id ORDER BY p.name, v.label, v.id LIMIT ?) first
			UNION SELECT variant_id FROM offer_goods UNION SELECT id FROM variants WHERE id = ANY(?::text[])) chosen
		JOIN variants v ON v.id = chosen.id JOIN products p ON p.id = v.product_id ORDER BY p.name, v.label, v.id`, choicesShown, store.TextArray(named)).Scan(&rows).Error
	if err != nil {
		return s, fmt.Errorf("read the goods: %w", err)
	}
	for _, r := range rows {
		s.Products = append(s.Products, r.Product(shop.Currency))
	}
	var pics []store.Picture
	if err := db.Omit("bytes").Order("name").Limit(choicesShown).Find(&pics).Error; err != nil {
		return s, fmt.Errorf("read the pictures: %w", err)
	}
	for _, r := range pics {
		s.Pictures = append(s.Pictures, factbook.PictureFacts(r))
	}
	var ends []store.Deadline
	if err := db.Order("at NULLS LAST, name").Find(&ends).Error; err != nil {
		return s, fmt.Errorf("read the deadlines: %w", err)
	}
	for _, r := range ends {
		s.Deadlines = append(s.Deadlines, factbook.DeadlineOf(r))
	}
	if err := db.Order("name").Find(&s.Shelves).Error; err != nil {
		return s, fmt.Errorf("read the shelves: %w", err)
	}
	if err := db.Raw(`SELECT s.id, c.name AS campaign, p.name AS page FROM steps s JOIN pages p ON p.id = s.page_id
		JOIN campaigns c ON c.id = s.campaign_id ORDER BY c.name, s.position, s.id`).Scan(&s.Steps).Error; err != nil {
		return s, fmt.Errorf("read the steps: %w", err)
	}
	if err := db.Raw(`SELECT p.id, p.name, c.name AS campaign FROM pages p JOIN campaigns c ON c.id = p.campaign_id WHERE p.aside_at IS NULL ORDER BY c.name, p.name LIMIT ?`, choicesShown).Scan(&s.Pages).Error; err != nil {
		return s, fmt.Errorf("read the pages: %w", err)
	}
	if err := db.Raw("SELECT id, name FROM videos ORDER BY name LIMIT ?", choicesShown).Scan(&s.Videos).Error; err != nil {
		return s, fmt.Errorf("read the videos: %w", err)
	}
	if err := db.Raw("SELECT id, name FROM handouts ORDER BY name LIMIT ?", choicesShown).Scan(&s.Files).Error; err != nil {
		return s, fmt.Errorf("read the files: %w", err)
	}
	s.Offers, err = offers.OfferRecords(ctx)
	return s, err
}
