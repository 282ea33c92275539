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

	"gorm.io/gorm"
)

// choicesShown is how many goods a choice lists; the rest are found by search.
const choicesShown = 300

// Wanted says which lists somebody chooses from.
type Wanted struct {
	Goods, Pictures, Deadlines, Offers, Shelves, Steps, Videos, Attributes, Mailings bool

	Named []string // goods that are listed in any case; without Goods, only they are
}

// Choices lists what somebody chooses from, as far as it was wanted.
type Choices struct {
	Store      facts.Store
	Products   []goods.Product
	Pictures   []facts.Picture
	Deadlines  []deadline.Deadline
	Offers     []OfferRecord
	Shelves    []store.Shelf
	Attributes []store.Attribute
	Steps      []StepChoice
	Videos     []find.Choice
	Mailings   []find.Choice // lists of people
}

// StepChoice is a step of some funnel, as an offer can be bound to it.
type StepChoice struct{ ID, Campaign, Page string }

// Names are the names of the goods among the choices, by their IDs.
func (s Choices) Names() map[string]string {
	out := make(map[string]string, len(s.Products))
	for _, p := range s.Products {
		out[p.ID] = p.Name
	}
	return out
}

// Choices reads what is wanted, a statement a list.
func (offers *Offers) Choices(ctx context.Context, want Wanted) (Choices, error) {
	db := offers.Store.On(ctx)
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return Choices{}, err
	}
	s := Choices{Store: offers.Facts.StoreFacts(shop)}
	for _, list := range []struct {
		wanted bool
		read   func(*gorm.DB, Wanted, *Choices) error
	}{{want.Goods || len(want.Named) > 0, readGoods}, {want.Pictures, readPictures}, {want.Deadlines, readDeadlines}, {want.Shelves, readShelves}, {want.Steps, readSteps}, {want.Videos, readVideos}, {want.Attributes, readAttributes}, {want.Mailings, readMailings}} {
		if !list.wanted {
			continue
		}
		if err := list.read(db, want, &s); err != nil {
			return s, fmt.Errorf("read what can be chosen: %w", err)
		}
	}
	if want.Offers {
		s.Offers, err = offers.OfferRecords(ctx)
	}
	return s, err
}

func readGoods(db *gorm.DB, want Wanted, s *Choices) error {
	var rows []factbook.GoodsRow
	chosen, args := "SELECT unnest(?::text[]) AS id", []any{store.TextArray(want.Named)}
	if want.Goods {
		chosen += ` UNION SELECT id FROM (SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id ORDER BY p.name, v.label, v.id LIMIT ?) first
			UNION SELECT variant_id FROM offer_goods`
		args = append(args, choicesShown)
	}
	err := db.Raw(`SELECT `+factbook.GoodsColumns+` FROM (`+chosen+`) chosen JOIN variants v ON v.id = chosen.id JOIN products p ON p.id = v.product_id
		ORDER BY p.name, v.label, v.id`, args...).Scan(&rows).Error
	for _, r := range rows {
		s.Products = append(s.Products, r.Product(s.Store.Currency))
	}
	return err
}

func readPictures(db *gorm.DB, _ Wanted, s *Choices) error {
	var rows []store.Picture
	err := db.Omit("bytes").Order("name").Limit(choicesShown).Find(&rows).Error
	for _, r := range rows {
		s.Pictures = append(s.Pictures, factbook.PictureFacts(r))
	}
	return err
}

func readDeadlines(db *gorm.DB, _ Wanted, s *Choices) error {
	var rows []store.Deadline
	err := db.Order("at NULLS LAST, name").Find(&rows).Error
	for _, r := range rows {
		s.Deadlines = append(s.Deadlines, factbook.DeadlineOf(r))
	}
	return err
}

func readAttributes(db *gorm.DB, _ Wanted, s *Choices) error {
	return db.Order("label, name").Find(&s.Attributes).Error
}

func readShelves(db *gorm.DB, _ Wanted, s *Choices) error {
	return db.Order("name").Find(&s.Shelves).Error
}

func readSteps(db *gorm.DB, _ Wanted, s *Choices) error {
	return db.Raw(`SELECT s.id, c.name AS campaign, p.name AS page FROM steps s JOIN pages p ON p.id = s.page_id
		JOIN campaigns c ON c.id = s.campaign_id ORDER BY c.name, s.position, s.id`).Scan(&s.Steps).Error
}

func readMailings(db *gorm.DB, _ Wanted, s *Choices) error {
	return db.Raw("SELECT id, name FROM lists ORDER BY name LIMIT ?", choicesShown).Scan(&s.Mailings).Error
}

func readVideos(db *gorm.DB, _ Wanted, s *Choices) error {
	return db.Raw("SELECT id, name FROM videos ORDER BY name LIMIT ?", choicesShown).Scan(&s.Videos).Error
}
