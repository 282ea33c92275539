package app

import (
	"context"
	"fmt"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/store"

	"gorm.io/gorm"
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
	Pages     []PageChoice
	Videos    []Choice
	Files     []Choice
}

// PageChoice is a page that a link can lead to.
type PageChoice struct{ ID, Name, Campaign string }

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
func (a *App) Choices(ctx context.Context, named ...string) (Choices, error) {
	db := a.db(ctx)
	shop, err := one[store.Shop](db, "The store is not set up.")
	if err != nil {
		return Choices{}, err
	}
	s := Choices{Store: a.storeFacts(shop)}
	var rows []goodsRow
	err = db.Raw(`SELECT `+goodsColumns+` FROM (SELECT id FROM (SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id ORDER BY p.name, v.label, v.id LIMIT ?) first
			UNION SELECT variant_id FROM offer_goods UNION SELECT id FROM variants WHERE id = ANY(?::text[])) chosen
		JOIN variants v ON v.id = chosen.id JOIN products p ON p.id = v.product_id ORDER BY p.name, v.label, v.id`, choicesShown, store.TextArray(named)).Scan(&rows).Error
	if err != nil {
		return s, fmt.Errorf("read the goods: %w", err)
	}
	for _, r := range rows {
		s.Products = append(s.Products, r.product(shop.Currency))
	}
	var pics []store.Picture
	if err := db.Omit("bytes").Order("name").Limit(choicesShown).Find(&pics).Error; err != nil {
		return s, fmt.Errorf("read the pictures: %w", err)
	}
	for _, r := range pics {
		s.Pictures = append(s.Pictures, pictureFacts(r))
	}
	var ends []store.Deadline
	if err := db.Order("at NULLS LAST, name").Find(&ends).Error; err != nil {
		return s, fmt.Errorf("read the deadlines: %w", err)
	}
	for _, r := range ends {
		s.Deadlines = append(s.Deadlines, deadlineOf(r))
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
	s.Offers, err = a.OfferRecords(ctx)
	return s, err
}

// DeadlineInput is a deadline as it is typed. Durations are in the unit that
// their field names.
type DeadlineInput struct {
	ID, Name, Kind string
	At             string // local date and time, of a fixed one
	Day            string // of one at the visitor's midnight
	Start, Rule    string // of a repeating one
	RunsHours      int
	SpanMinutes    int
	GraceMinutes   int
}

// SaveDeadline moves or makes a deadline. Everything that shares it moves with
// it. Faults are by field.
func (a *App) SaveDeadline(ctx context.Context, in DeadlineInput) (string, map[string]string, error) {
	shop, err := one[store.Shop](a.db(ctx), "The store is not set up.")
	if err != nil {
		return "", nil, err
	}
	row, faults := readDeadline(in, shop.Zone)
	if len(faults) > 0 {
		return "", faults, nil
	}
	err = a.repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		why := "deadline " + in.Name
		if in.ID != "" {
			if _, err := one[store.Deadline](tx.Where("id = ?", in.ID), "There is no such deadline."); err != nil {
				return why, nil, err
			}
		}
		return why, nil, tx.Save(&row).Error
	})
	if err != nil {
		return "", nil, fmt.Errorf("keep the deadline: %w", err)
	}
	return row.ID, nil, nil
}

func readDeadline(in DeadlineInput, zone string) (store.Deadline, map[string]string) {
	faults := map[string]string{}
	row := store.Deadline{
		ID: in.ID, Name: in.Name, Zone: zone, Kind: in.Kind, Day: in.Day, StartsLocal: in.Start, Rule: in.Rule,
		RunsSeconds: int64(in.RunsHours) * 3600, SpanSeconds: int64(in.SpanMinutes) * 60, GraceSeconds: in.GraceMinutes * 60,
	}
	if in.ID == "" {
		row.ID = NewID()
	}
	if row.Kind == "" {
		row.Kind = string(deadline.Fixed)
	}
	if in.Name == "" || len([]rune(in.Name)) > 80 {
		faults["name"] = "Give the deadline a name of at most 80 characters."
	}
	if row.Kind == string(deadline.Fixed) {
		at, err := deadline.Resolve(in.At, zone)
		if err != nil || at.Year() < 2000 || at.Year() > 2200 {
			faults["at"] = "Write the day and time it ends, such as 27 November, 23:59."
		}
		row.At = &at
		return row, faults
	}
	if err := deadlineOf(row).Validate(); err != nil {
		field, say := cutPlace(err.Error())
		faults[field] = say
	}
	return row, faults
}
