package factbook

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/store"

	"gorm.io/gorm"
)

// DraftFacts reads what a page being written shows to a visitor of whom
// nothing is known, who stands on the page's own step.
func (reader *Reader) DraftFacts(ctx context.Context, pageID string, names manuscript.Names) (facts.Facts, error) {
	var who Buyer
	if err := reader.Store.On(ctx).Raw("SELECT id FROM steps WHERE page_id = ? LIMIT 1", pageID).Scan(&who.Step).Error; err != nil {
		return facts.Facts{}, fmt.Errorf("read the page's step: %w", err)
	}
	return reader.FactsFor(ctx, names, who)
}

// FactsFor reads what a page names, for somebody of whom something is known.
func (reader *Reader) FactsFor(ctx context.Context, names manuscript.Names, who Buyer) (facts.Facts, error) {
	shop, err := reader.Store.Shop(ctx)
	if err != nil {
		return facts.Facts{}, err
	}
	f, err := reader.ReadPrices(reader.Store.On(ctx), shop, names, who)
	if err != nil {
		return f, err
	}
	if err := ReadLedgers(reader.Store.On(ctx), &f); err != nil {
		return f, err
	}
	if err := readPages(reader.Store.On(ctx), names.Pages, &f); err != nil {
		return f, err
	}
	if err := readGroups(reader.Store.On(ctx), names.Groups, &f); err != nil {
		return f, err
	}
	if err := ReadFiles(reader.Store.On(ctx), names.Files, &f); err != nil {
		return f, err
	}
	if err := readSold(reader.Store.On(ctx), names.Sold, &f); err != nil {
		return f, err
	}
	if names.Booked {
		if err := readBooked(reader.Store.On(ctx), &f); err != nil {
			return f, err
		}
	}
	if err := readVideos(reader.Store.On(ctx), names.Videos, &f); err != nil {
		return f, err
	}
	reader.readSlots(ctx, names.Slots, &f)
	if err := ReadPictures(reader.Store.On(ctx), append(slices.Clone(names.Pictures), f.Store.House.Logo, f.Store.Icon), &f); err != nil {
		return f, err
	}
	return f, readShown(reader.Store.On(ctx), who.Edition, names.Pictures, &f)
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

// ReadPrices reads what prices depend on: goods, offers, deadlines, tax and
// shipping.
func (reader *Reader) ReadPrices(db *gorm.DB, shop store.Shop, names manuscript.Names, who Buyer) (facts.Facts, error) {
	f := facts.Facts{
		Products: map[string]goods.Product{}, Pictures: map[string]facts.Picture{}, Shelves: map[string]facts.Shelf{},
		Floor: shop.FloorPercent, Context: offer.Context{Country: who.Country, Link: who.Link, Step: who.Step},
	}
	f.Store = reader.StoreFacts(shop)
	if f.Context.Country == "" {
		f.Context.Country = shop.Country
	}
	if who.Code != "" {
		f.Codes = []string{who.Code}
	}
	var err error
	if f.Setting, err = StruckSetting(shop); err != nil {
		return f, err
	}
	products, err := reader.readShelves(db, names, &f)
	if err != nil {
		return f, err
	}
	if err := readProducts(db, products, &f); err != nil {
		return f, err
	}
	if err := readOffers(db, products, &f); err != nil {
		return f, err
	}
	if err := ReadCodes(db, &f); err != nil {
		return f, err
	}
	if err := readDeadlines(db, names.Deadlines, &f); err != nil {
		return f, err
	}
	if err := ReadTables(db, shop, &f); err != nil {
		return f, err
	}
	if who.Joined {
		f.Shipping = nil
	}
	return f, reader.readBuyer(db, who, &f)
}

// StruckSetting is how the store wants its struck prices.
func StruckSetting(shop store.Shop) (ledger.Setting, error) {
	var s ledger.Setting
	if len(shop.Struck) > 2 {
		if err := json.Unmarshal(shop.Struck, &s); err != nil {
			return s, fmt.Errorf("read the setting of struck prices: %w", err)
		}
	}
	return s, nil
}

// ReadLedgers reads every price that the goods at hand have had.
func ReadLedgers(db *gorm.DB, f *facts.Facts) error {
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
		f.Ledgers[r.VariantID] = append(f.Ledgers[r.VariantID], LedgerEntry(r))
	}
	return nil
}

// LedgerEntry is a row of the price ledger as core reads it.
func LedgerEntry(r store.LedgerEntry) ledger.Entry {
	list := r.ListMinor
	return ledger.Entry{Since: r.Since.UTC(), Price: r.PriceMinor, List: &list, Why: r.Why}
}

// Deref is a text that may be missing, "" where it is.
func Deref(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}
