package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/purpose"
	"chrysagon/store"

	"gorm.io/gorm"
)

// goodsColumns are what a variant and its product come to, as one of the goods.
const goodsColumns = `v.id, v.product_id, p.name, v.label, p.form, p.category, p.tags, p.tax_class, p.perishable, p.added_at, p.picture_id,
	v.sku, v.price_minor, v.now_minor, v.cost_minor, v.stock - v.reserved AS available, v.weight_grams, v.condition, v.received_at, v.attributes`

const goodsRows = "SELECT " + goodsColumns + " " + store.GoodsFrom

// goodsRow is one of the goods as pages and lists read it.
type goodsRow struct {
	ID, ProductID, Name, Label, Form, Category, TaxClass string
	SKU                                                  string
	Tags                                                 store.StringList
	Perishable                                           bool
	AddedAt                                              time.Time
	PictureID                                            *string
	PriceMinor, NowMinor                                 int64
	CostMinor                                            *int64
	Available, WeightGrams                               int
	Condition                                            string
	ReceivedAt                                           *time.Time
	Attributes                                           store.JSON
}

func (r goodsRow) product(currency string) goods.Product {
	p := goods.Product{
		ID: r.ID, ProductID: r.ProductID, SKU: r.SKU, Name: r.Name, Form: goods.Form(r.Form), Category: r.Category, Tags: r.Tags,
		TaxClass: r.TaxClass, Perishable: r.Perishable, Added: r.AddedAt.UTC(), Price: money.Of(r.PriceMinor, currency),
		Stock: r.Available, Weight: r.WeightGrams, Condition: goods.Condition(r.Condition),
	}
	if r.Label != "" {
		p.Name += ", " + r.Label
	}
	if r.PictureID != nil {
		p.PictureID = *r.PictureID
	}
	if r.CostMinor != nil {
		cost := money.Of(*r.CostMinor, currency)
		p.Cost = &cost
	}
	if r.ReceivedAt != nil {
		p.Received = r.ReceivedAt.UTC()
	}
	if len(r.Attributes) > 2 {
		if err := json.Unmarshal(r.Attributes, &p.Attributes); err != nil {
			p.Attributes = nil // written by another hand; it is shown without
		}
	}
	return p
}

// readPages reads the pages that links and menus lead to: where they are live,
// or where they will be.
func readPages(db *gorm.DB, ids []string, f *facts.Facts) error {
	f.Pages = map[string]facts.Page{}
	var rows []struct {
		ID, Name, Address, Purpose string
		Live, Aside                bool
	}
	err := db.Raw(`SELECT p.id, p.name, coalesce(l.address, p.address) AS address, p.purpose, l.address IS NOT NULL AS live, p.aside_at IS NOT NULL AS aside
		FROM pages p LEFT JOIN live_pages l ON l.page_id = p.id
		WHERE p.id = ANY(?::text[]) OR (l.address IS NOT NULL AND p.purpose = ANY(?::text[])) ORDER BY p.name`, store.TextArray(ids), store.TextArray(purpose.Led())).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the pages: %w", err)
	}
	for _, r := range rows {
		page := facts.Page{ID: r.ID, Name: r.Name, Address: r.Address, Live: r.Live, Aside: r.Aside}
		f.Pages[r.ID] = page
		switch of := purpose.Of(r.Purpose); {
		case r.Live && of.Menu:
			f.Menu = append(f.Menu, page)
		case r.Live && of.Foot:
			f.Legal = append(f.Legal, page)
		}
	}
	return nil
}

// readGroups reads groups of goods with the live page that shows each one's shelf.
func readGroups(db *gorm.DB, ids []string, f *facts.Facts) error {
	if len(ids) == 0 {
		return nil
	}
	var rows []struct {
		ID, Name, Address string
		PictureID         *string
	}
	err := db.Raw(`SELECT g.id, g.name, g.picture_id, coalesce((SELECT min(s.address) FROM public_shows s WHERE s.what = 'shelf' AND s.ref = g.shelf_id), '') AS address
		FROM goods_groups g WHERE g.id IN ?`, ids).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the groups: %w", err)
	}
	f.Groups = map[string]facts.Group{}
	var pictures []string
	for _, r := range rows {
		if r.PictureID != nil {
			pictures = append(pictures, *r.PictureID)
		}
	}
	shown := facts.Facts{Pictures: map[string]facts.Picture{}}
	if err := readPictures(db, pictures, &shown); err != nil {
		return err
	}
	for _, r := range rows {
		g := facts.Group{ID: r.ID, Name: r.Name, Address: r.Address}
		if r.PictureID != nil {
			g.Picture = shown.Pictures[*r.PictureID]
		}
		f.Groups[r.ID] = g
	}
	return nil
}

// DraftFacts reads what a page being written shows to a visitor of whom
// nothing is known, who stands on the page's own step.
func (a *App) DraftFacts(ctx context.Context, pageID string, names manuscript.Names) (facts.Facts, error) {
	var who Buyer
	if err := a.db(ctx).Raw("SELECT id FROM steps WHERE page_id = ? LIMIT 1", pageID).Scan(&who.Step).Error; err != nil {
		return facts.Facts{}, fmt.Errorf("read the page's step: %w", err)
	}
	return a.FactsFor(ctx, names, who)
}

// FactsFor reads what a page names, for somebody of whom something is known.
func (a *App) FactsFor(ctx context.Context, names manuscript.Names, who Buyer) (facts.Facts, error) {
	shop, err := a.Shop(ctx)
	if err != nil {
		return facts.Facts{}, err
	}
	f, err := a.readPrices(a.db(ctx), shop, names, who)
	if err != nil {
		return f, err
	}
	if err := readLedgers(a.db(ctx), &f); err != nil {
		return f, err
	}
	if err := readPages(a.db(ctx), names.Pages, &f); err != nil {
		return f, err
	}
	if err := readGroups(a.db(ctx), names.Groups, &f); err != nil {
		return f, err
	}
	if err := readFiles(a.db(ctx), names.Files, &f); err != nil {
		return f, err
	}
	if err := readSold(a.db(ctx), names.Sold, &f); err != nil {
		return f, err
	}
	if names.Booked {
		if err := readBooked(a.db(ctx), &f); err != nil {
			return f, err
		}
	}
	if err := readVideos(a.db(ctx), names.Videos, &f); err != nil {
		return f, err
	}
	a.readSlots(ctx, names.Slots, &f)
	if err := readPictures(a.db(ctx), append(slices.Clone(names.Pictures), f.Store.House.Logo, f.Store.Icon), &f); err != nil {
		return f, err
	}
	return f, readShown(a.db(ctx), who.Edition, names.Pictures, &f)
}

// Buyer is what is known of whom prices are computed for.
type Buyer struct {
	Visitor string // secret of the browser
	Zone    string // of the browser
	Email   string // typed
	Country string // typed; empty: the store's own
	Code    string // typed
	Link    string // by which they came
	Step    string
	Edition string // the live one that is looked at; its pictures are as it showed them
	Joined  bool   // what is bought goes with an order that is paid for already
}

// readPrices reads what prices depend on: goods, offers, deadlines, tax and
// shipping.
func (a *App) readPrices(db *gorm.DB, shop store.Shop, names manuscript.Names, who Buyer) (facts.Facts, error) {
	f := facts.Facts{
		Products: map[string]goods.Product{}, Pictures: map[string]facts.Picture{}, Shelves: map[string]facts.Shelf{},
		Floor: shop.FloorPercent, Context: offer.Context{Country: who.Country, Link: who.Link, Step: who.Step},
	}
	f.Store = a.storeFacts(shop)
	if f.Context.Country == "" {
		f.Context.Country = shop.Country
	}
	if who.Code != "" {
		f.Codes = []string{who.Code}
	}
	var err error
	if f.Setting, err = struckSetting(shop); err != nil {
		return f, err
	}
	products, err := a.readShelves(db, names, &f)
	if err != nil {
		return f, err
	}
	if err := readProducts(db, products, &f); err != nil {
		return f, err
	}
	if err := readOffers(db, products, &f); err != nil {
		return f, err
	}
	if err := readCodes(db, &f); err != nil {
		return f, err
	}
	if err := readDeadlines(db, names.Deadlines, &f); err != nil {
		return f, err
	}
	if err := readTables(db, shop, &f); err != nil {
		return f, err
	}
	if who.Joined {
		f.Shipping = nil
	}
	return f, a.readBuyer(db, who, &f)
}

// struckSetting is how the store wants its struck prices.
func struckSetting(shop store.Shop) (ledger.Setting, error) {
	var s ledger.Setting
	if len(shop.Struck) > 2 {
		if err := json.Unmarshal(shop.Struck, &s); err != nil {
			return s, fmt.Errorf("read the setting of struck prices: %w", err)
		}
	}
	return s, nil
}

func (a *App) storeFacts(s store.Shop) facts.Store {
	return facts.Store{
		Icon: deref(s.IconID), Unpaid: a.Payments == nil, Unmailed: a.Post == nil,
		House: houseOf(s.House), Own: ownOf(s.Own),
		Name: s.Name, Currency: s.Currency, Zone: s.Zone, Grace: time.Duration(s.GraceSeconds) * time.Second,
		LegalName: s.LegalName, LegalAddress: s.LegalAddress, ContactEmail: s.ContactEmail, Phone: s.Phone,
	}
}

func readProducts(db *gorm.DB, ids []string, f *facts.Facts) error {
	if len(ids) == 0 {
		return nil
	}
	var rows []goodsRow
	err := db.Raw(goodsRows+" WHERE v.id IN ?", ids).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the goods: %w", err)
	}
	for _, r := range rows {
		f.Products[r.ID] = r.product(f.Store.Currency)
	}
	return nil
}

// readLedgers reads every price that the goods at hand have had.
func readLedgers(db *gorm.DB, f *facts.Facts) error {
	var ids []string
	for id := range f.Products {
		ids = append(ids, id)
	}
	if len(ids) == 0 {
		return nil
	}
	var rows []store.LedgerEntry
	if err := db.Where("variant_id IN ?", ids).Order("variant_id, since").Find(&rows).Error; err != nil {
		return fmt.Errorf("read the price ledger: %w", err)
	}
	f.Ledgers = map[string][]ledger.Entry{}
	for _, r := range rows {
		f.Ledgers[r.VariantID] = append(f.Ledgers[r.VariantID], ledgerEntry(r))
	}
	return nil
}

func ledgerEntry(r store.LedgerEntry) ledger.Entry {
	list := r.ListMinor
	return ledger.Entry{Since: r.Since.UTC(), Price: r.PriceMinor, List: &list, Why: r.Why}
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
	p := facts.Picture{ID: r.ID, Name: r.Name, Alt: r.Alt, Path: PicturePath(r), Width: r.Width, Height: r.Height, Pixels: pixelsOf(r), Focus: facts.Focus{X: r.FocusX, Y: r.FocusY}}
	if r.Mime != "image/svg+xml" {
		p.Sizes = fittingWidths(r.Width)
	}
	return p
}

var extensions = map[string]string{"image/svg+xml": ".svg", "image/png": ".png", "image/jpeg": ".jpg"}

// PicturePath is a picture's address. It holds the content's hash, so that it
// may be kept for ever.
func PicturePath(p store.Picture) string { return "/pictures/" + p.Hash + extensions[p.Mime] }
