package app

import (
	"context"
	"fmt"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/store"

	"gorm.io/gorm"
)

const stockRows = `SELECT p.id, p.name, p.form, p.picture_id, v.sku, v.price_minor, v.stock - v.reserved AS available
	FROM products p JOIN variants v ON v.product_id = p.id`

// stockRow is a product as pages and lists read it: with its variant's price
// and stock.
type stockRow struct {
	ID, Name, Form, SKU string
	PictureID           *string
	PriceMinor          int64
	Available           int
}

// Facts reads what a page names. Every offer on its products comes with the
// moment at which its deadline ends it.
func (a *App) Facts(ctx context.Context, names manuscript.Names) (facts.Facts, error) {
	shop, err := a.Shop(ctx)
	if err != nil {
		return facts.Facts{}, err
	}
	f, err := readPrices(a.db(ctx), shop, names)
	if err != nil {
		return f, err
	}
	return f, readPictures(a.db(ctx), names.Pictures, &f)
}

// readPrices reads what prices depend on: goods, offers and deadlines.
func readPrices(db *gorm.DB, shop store.Shop, names manuscript.Names) (facts.Facts, error) {
	f := facts.Facts{
		Products:  map[string]goods.Product{},
		Deadlines: map[string]deadline.Deadline{},
		Pictures:  map[string]facts.Picture{},
	}
	f.Store = storeFacts(shop)
	if err := readProducts(db, names.Products, &f); err != nil {
		return f, err
	}
	if err := readOffers(db, names.Products, &f); err != nil {
		return f, err
	}
	if err := readDeadlines(db, names.Deadlines, &f); err != nil {
		return f, err
	}
	return f, nil
}

func storeFacts(s store.Shop) facts.Store {
	return facts.Store{
		Name: s.Name, Currency: s.Currency, Zone: s.Zone, Grace: time.Duration(s.GraceSeconds) * time.Second,
		LegalName: s.LegalName, LegalAddress: s.LegalAddress, ContactEmail: s.ContactEmail,
	}
}

func readProducts(db *gorm.DB, ids []string, f *facts.Facts) error {
	if len(ids) == 0 {
		return nil
	}
	var rows []stockRow
	err := db.Raw(stockRows+" WHERE p.id IN ?", ids).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the goods: %w", err)
	}
	for _, r := range rows {
		f.Products[r.ID] = r.product(f.Store.Currency)
	}
	return nil
}

func (r stockRow) product(currency string) goods.Product {
	p := goods.Product{
		ID: r.ID, SKU: r.SKU, Name: r.Name, Form: goods.Form(r.Form),
		Price: money.Of(r.PriceMinor, currency), Stock: r.Available,
	}
	if r.PictureID != nil {
		p.PictureID = *r.PictureID
	}
	return p
}

type offerRow struct {
	store.Offer
	EndsAt *time.Time
}

func readOffers(db *gorm.DB, products []string, f *facts.Facts) error {
	if len(products) == 0 {
		return nil
	}
	var rows []offerRow
	err := db.Raw(`SELECT o.*, d.at AS ends_at FROM offers o LEFT JOIN deadlines d ON d.id = o.deadline_id
		WHERE o.product_id IN ? ORDER BY o.created_at, o.id`, products).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the offers: %w", err)
	}
	for _, r := range rows {
		f.Offers = append(f.Offers, r.offer(f.Store.Currency))
	}
	return nil
}

func (r offerRow) offer(currency string) offer.Offer {
	o := offer.Offer{
		ID: r.ID, Name: r.Name, Kind: offer.Kind(r.Kind), Percent: r.Percent,
		ProductID: r.ProductID, Only: offer.Via(r.OnlyVia), Created: r.CreatedAt.UTC(),
	}
	if o.Kind == offer.AmountOff {
		o.Amount = money.Of(r.AmountMinor, currency)
	}
	if r.StartsAt != nil {
		o.Starts = r.StartsAt.UTC()
	}
	if r.EndsAt != nil {
		o.Ends = r.EndsAt.UTC()
	}
	return o
}

func readDeadlines(db *gorm.DB, ids []string, f *facts.Facts) error {
	if len(ids) == 0 {
		return nil
	}
	var rows []store.Deadline
	if err := db.Where("id IN ?", ids).Find(&rows).Error; err != nil {
		return fmt.Errorf("read the deadlines: %w", err)
	}
	for _, r := range rows {
		f.Deadlines[r.ID] = deadline.Deadline{ID: r.ID, Name: r.Name, At: r.At.UTC(), Zone: r.Zone}
	}
	return nil
}

// readPictures reads those a page names and those of its goods.
func readPictures(db *gorm.DB, ids []string, f *facts.Facts) error {
	for _, p := range f.Products {
		if p.PictureID != "" {
			ids = append(ids, p.PictureID)
		}
	}
	if len(ids) == 0 {
		return nil
	}
	var rows []store.Picture
	if err := db.Omit("bytes").Where("id IN ?", ids).Find(&rows).Error; err != nil {
		return fmt.Errorf("read the pictures: %w", err)
	}
	for _, r := range rows {
		f.Pictures[r.ID] = pictureFacts(r)
	}
	return nil
}

func pictureFacts(r store.Picture) facts.Picture {
	return facts.Picture{ID: r.ID, Name: r.Name, Alt: r.Alt, Path: PicturePath(r), Width: r.Width, Height: r.Height}
}

var extensions = map[string]string{"image/svg+xml": ".svg", "image/png": ".png", "image/jpeg": ".jpg"}

// PicturePath is a picture's address. It holds the content's hash, so that it
// may be kept for ever.
func PicturePath(p store.Picture) string { return "/pictures/" + p.Hash + extensions[p.Mime] }
