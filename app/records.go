package app

import (
	"context"
	"fmt"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// Shelf lists what slips choose from: all goods, pictures, deadlines, offers.
type Shelf struct {
	Store     facts.Store
	Products  []goods.Product
	Pictures  []facts.Picture
	Deadlines []deadline.Deadline
	Offers    []store.Offer
}

// ProductName is the name of a product on the shelf.
func (s Shelf) ProductName(id string) string {
	for _, p := range s.Products {
		if p.ID == id {
			return p.Name
		}
	}
	return ""
}

// Shelf reads everything that can be chosen.
func (a *App) Shelf(ctx context.Context) (Shelf, error) {
	db := a.db(ctx)
	shop, err := one[store.Shop](db, "The store is not set up.")
	if err != nil {
		return Shelf{}, err
	}
	s := Shelf{Store: storeFacts(shop)}
	var rows []stockRow
	err = db.Raw(stockRows + " ORDER BY p.name").Scan(&rows).Error
	if err != nil {
		return s, fmt.Errorf("read the goods: %w", err)
	}
	for _, r := range rows {
		s.Products = append(s.Products, r.product(shop.Currency))
	}
	var pics []store.Picture
	if err := db.Omit("bytes").Order("name").Find(&pics).Error; err != nil {
		return s, fmt.Errorf("read the pictures: %w", err)
	}
	for _, r := range pics {
		s.Pictures = append(s.Pictures, pictureFacts(r))
	}
	var ends []store.Deadline
	if err := db.Order("at").Find(&ends).Error; err != nil {
		return s, fmt.Errorf("read the deadlines: %w", err)
	}
	for _, r := range ends {
		s.Deadlines = append(s.Deadlines, deadline.Deadline{ID: r.ID, Name: r.Name, At: r.At.UTC(), Zone: r.Zone})
	}
	err = db.Order("created_at, id").Find(&s.Offers).Error
	return s, err
}

// OfferInput is an offer as it is typed.
type OfferInput struct {
	ID, Name, Kind, Value, ProductID, Only, Starts, DeadlineID string
}

// SaveOffer writes an offer, new or changed. Faults are by field.
func (a *App) SaveOffer(ctx context.Context, in OfferInput) (string, map[string]string, error) {
	shelf, err := a.Shelf(ctx)
	if err != nil {
		return "", nil, err
	}
	row, faults := a.readOffer(in, shelf)
	if len(faults) > 0 {
		return "", faults, nil
	}
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		if in.ID != "" {
			old, err := one[store.Offer](tx.Where("id = ?", in.ID), "There is no such offer.")
			if err != nil {
				return err
			}
			row.ID, row.CreatedAt = old.ID, old.CreatedAt
		}
		if err := tx.Save(&row).Error; err != nil {
			return err
		}
		return a.touch(tx)
	})
	if err != nil {
		return "", nil, fmt.Errorf("keep the offer: %w", err)
	}
	a.tell(FactsChanged)
	return row.ID, nil, nil
}

func (a *App) readOffer(in OfferInput, shelf Shelf) (store.Offer, map[string]string) {
	faults := map[string]string{}
	row := store.Offer{ID: NewID(), Name: in.Name, Kind: in.Kind, ProductID: in.ProductID, OnlyVia: in.Only, CreatedAt: a.Now()}
	if in.Name == "" || len([]rune(in.Name)) > 80 {
		faults["name"] = "Give the offer a name of at most 80 characters."
	}
	if shelf.ProductName(in.ProductID) == "" {
		faults["product"] = "Choose the product this offer is on."
	}
	if in.Only != "" && in.Only != string(offer.Bump) && in.Only != string(offer.Upsell) {
		faults["only"] = "Choose where the offer holds."
	}
	var ends time.Time
	if in.DeadlineID != "" {
		row.DeadlineID = &in.DeadlineID
		for _, d := range shelf.Deadlines {
			if d.ID == in.DeadlineID {
				ends = d.At
			}
		}
		if ends.IsZero() {
			faults["deadline"] = "Choose one of the deadlines."
		}
	}
	switch offer.Kind(in.Kind) {
	case offer.PercentOff:
		percent, err := decimal.NewFromString(in.Value)
		if err != nil || !percent.IsPositive() || percent.GreaterThan(decimal.NewFromInt(100)) || percent.Exponent() < -4 {
			faults["value"] = "Write a percentage above 0 and at most 100, such as 25."
		}
		row.Percent = percent
	case offer.AmountOff:
		amount, err := money.Parse(in.Value, shelf.Store.Currency)
		if err != nil || amount.Minor <= 0 {
			faults["value"] = "Write an amount above zero, such as " + money.Of(500, shelf.Store.Currency).Plain() + "."
		}
		row.AmountMinor = amount.Minor
	default:
		faults["kind"] = "Choose percent off or an amount off."
	}
	if in.Starts != "" {
		starts, err := deadline.Resolve(in.Starts, shelf.Store.Zone)
		if err != nil {
			faults["starts"] = "Write the day and time it begins."
		} else if !ends.IsZero() && !starts.Before(ends) {
			faults["starts"] = "It would begin after its deadline, " + deadline.Written(ends, shelf.Store.Zone) + ". Begin it earlier, or choose a later deadline."
		}
		row.StartsAt = &starts
	}
	return row, faults
}

// SaveDeadline moves or makes a deadline. local is a date and time in the
// store's zone. Everything that shares the deadline moves with it.
func (a *App) SaveDeadline(ctx context.Context, id, name, local string) (string, map[string]string, error) {
	shop, err := one[store.Shop](a.db(ctx), "The store is not set up.")
	if err != nil {
		return "", nil, err
	}
	faults := map[string]string{}
	if name == "" || len([]rune(name)) > 80 {
		faults["name"] = "Give the deadline a name of at most 80 characters."
	}
	at, err := deadline.Resolve(local, shop.Zone)
	if err != nil || at.Year() < 2000 || at.Year() > 2200 {
		faults["at"] = "Write the day and time it ends, such as 27 November, 23:59."
	}
	if len(faults) > 0 {
		return "", faults, nil
	}
	row := store.Deadline{ID: id, Name: name, At: at, Zone: shop.Zone}
	if id == "" {
		row.ID = NewID()
	}
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		if id != "" {
			if _, err := one[store.Deadline](tx.Where("id = ?", id), "There is no such deadline."); err != nil {
				return err
			}
		}
		if err := tx.Save(&row).Error; err != nil {
			return err
		}
		return a.touch(tx)
	})
	if err != nil {
		return "", nil, fmt.Errorf("keep the deadline: %w", err)
	}
	a.tell(FactsChanged)
	return row.ID, nil, nil
}

// touch notes that prices changed by hand at this moment.
func (a *App) touch(tx *gorm.DB) error {
	return tx.Model(&store.Shop{}).Where("id = 1").Update("changed_at", a.Now()).Error
}

// Example prices one unit of a product as an offer being typed would, beside
// everything else that holds, for the receipt on the Offers place.
func (a *App) Example(ctx context.Context, in OfferInput, moment time.Time) (offer.Quote, map[string]string, error) {
	shelf, err := a.Shelf(ctx)
	if err != nil {
		return offer.Quote{}, nil, err
	}
	row, faults := a.readOffer(in, shelf)
	if faults["value"] != "" || faults["product"] != "" || faults["kind"] != "" {
		return offer.Quote{}, faults, nil
	}
	f := facts.Facts{Store: shelf.Store, Products: map[string]goods.Product{}}
	for _, p := range shelf.Products {
		f.Products[p.ID] = p
	}
	if err := readOffers(a.db(ctx), []string{in.ProductID}, &f); err != nil {
		return offer.Quote{}, nil, err
	}
	typed := offerRow{Offer: row}
	for _, d := range shelf.Deadlines {
		if row.DeadlineID != nil && d.ID == *row.DeadlineID {
			at := d.At
			typed.EndsAt = &at
		}
	}
	var others []offer.Offer
	for _, o := range f.Offers {
		if o.ID == in.ID {
			typed.CreatedAt = o.Created
			continue
		}
		others = append(others, o)
	}
	if in.ID != "" {
		typed.ID = in.ID
	}
	f.Offers = append(others, typed.offer(shelf.Store.Currency))
	via := offer.Via(in.Only)
	if via == offer.Anywhere {
		via = offer.Page
	}
	q, err := f.Quote([]offer.Item{{ProductID: in.ProductID, Quantity: 1, Via: via}}, moment)
	if err != nil {
		return q, map[string]string{"starts": "The offer would end before it begins."}, nil //nolint:nilerr // the fault is told beside its field
	}
	return q, nil, nil
}
