package factbook

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/shelf"
	"chrysagon/store"
)

// Buyer is what is known of whom prices are computed for.
type Buyer struct {
	Visitor string // secret of the browser
	Zone    string // of the browser
	Email   string // typed
	Country string // typed; empty: the store's own
	Code    string // typed
	Link    string // by which they came
	Step    string
	Edition string     // the live one that is looked at; its pictures are as it showed them
	View    shelf.View // of the list that the page shows in pages
	Joined  bool       // what is bought goes with an order that is paid for already
}

// Wanted is what one page names, and for whom it is drawn.
type Wanted struct {
	Names manuscript.Names
	Who   Buyer
}

// DraftFacts reads what a page being written shows to a visitor of whom
// nothing is known, who stands on the page's own step.
func (reader *Reader) DraftFacts(ctx context.Context, pageID string, names manuscript.Names) (facts.Facts, error) {
	var who Buyer
	if err := reader.Store.On(ctx).Raw("SELECT s.id FROM steps s JOIN pages p ON p.id = s.page_id AND p.campaign_id = s.campaign_id WHERE s.page_id = ?", pageID).Scan(&who.Step).Error; err != nil {
		return facts.Facts{}, fmt.Errorf("read the page's step: %w", err)
	}
	return reader.FactsFor(ctx, names, who)
}

// FactsFor reads what a page names, for somebody of whom something is known.
func (reader *Reader) FactsFor(ctx context.Context, names manuscript.Names, who Buyer) (facts.Facts, error) {
	list, err := reader.FactsForAll(ctx, Wanted{names, who})
	if err != nil {
		return facts.Facts{}, err
	}
	return list[0], nil
}

// FactsForAll reads what pages name, by as many statements for many as for one: what
// their names tell, what stands on their shelves, the offers on that, and what all of it
// shows.
func (reader *Reader) FactsForAll(ctx context.Context, pages ...Wanted) ([]facts.Facts, error) {
	r, err := reader.read(ctx, all, pages)
	if err != nil {
		return nil, err
	}
	out := make([]facts.Facts, len(pages))
	for i, p := range pages {
		if out[i], err = reader.assemble(ctx, r, p); err != nil {
			return nil, err
		}
		reader.readSlots(ctx, p.Names.Slots, &out[i])
	}
	return out, nil
}

// Prices reads only what prices depend on, with the store's own row.
func (reader *Reader) Prices(ctx context.Context, names manuscript.Names, who Buyer) (facts.Facts, store.Shop, error) {
	p := Wanted{manuscript.Names{Products: names.Products, Shelves: names.Shelves, Deadlines: names.Deadlines, Mailings: names.Mailings}, who}
	r, err := reader.read(ctx, pricesOnly, []Wanted{p})
	if err != nil {
		return facts.Facts{}, store.Shop{}, err
	}
	f, err := reader.assemble(ctx, r, p)
	return f, r.named.shop(), err
}

// assemble makes one page's facts of what was read for all.
func (reader *Reader) assemble(ctx context.Context, r reading, p Wanted) (facts.Facts, error) {
	shop := r.named.shop()
	f := facts.Facts{
		Store: reader.StoreFacts(shop), Floor: shop.FloorPercent,
		Products: map[string]goods.Product{}, Shelves: map[string]facts.Shelf{}, Deadlines: map[string]deadline.Deadline{},
		View:    p.Who.View,
		Context: offer.Context{Country: p.Who.Country, Link: p.Who.Link, Step: p.Who.Step},
	}
	if f.Context.Country == "" {
		f.Context.Country = shop.Country
	}
	var err error
	if f.Setting, err = StruckSetting(shop); err != nil {
		return f, err
	}
	products := slices.Clone(p.Names.Products)
	for _, id := range p.Names.Shelves {
		if s, known := r.standing[id]; known {
			for _, paged := range p.Names.Lists {
				if l, read := r.lists[listKey(paged, p.Who.View)]; read && paged.Shelf == id {
					s.List = &l
					if paged.Alone {
						s.Goods = l.Goods
					}
					products = append(products, l.Goods...)
				}
			}
			f.Shelves[id] = s
			products = append(products, s.Goods...)
		}
	}
	for _, id := range p.Names.Deadlines {
		if d, known := r.named.deadline(id); known {
			f.Deadlines[id] = d
		}
	}
	r.offered.on(products, r.named, &f)
	r.shown.goods(products, &f)
	if p.Who.Code != "" {
		f.Codes = []string{p.Who.Code}
		Attach(r.offered.codes, &f)
	}
	f.Tax, f.Shipping = r.named.tables(shop)
	if p.Who.Joined {
		f.Shipping = nil
	}
	r.named.pages(p.Names, &f)
	r.shown.pictures(p.Names, &f)
	r.named.groups(p.Names.Groups, r.shown, &f)
	r.named.files(p.Names, &f)
	r.named.mailings(p.Names.Mailings, &f)
	r.shown.sold(p.Names, r.named, &f)
	if p.Names.Described {
		r.shown.describe(p.Names.Products, &f)
	}
	return f, reader.readBuyer(reader.Store.On(ctx), p.Who, &f)
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

// LedgerEntry is a row of the price ledger as core reads it.
func LedgerEntry(r store.LedgerEntry) ledger.Entry {
	list := r.ListMinor
	return ledger.Entry{Since: r.Since.UTC(), Price: r.PriceMinor, List: &list, Why: r.Why}
}

// Ref is a text that is missing where it is "".
func Ref(text string) *string {
	if text == "" {
		return nil
	}
	return &text
}

// Deref is a text that may be missing, "" where it is.
func Deref(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// union joins the names of pages.
func union(pages []Wanted) manuscript.Names {
	var n manuscript.Names
	for _, p := range pages {
		n.Products = append(n.Products, p.Names.Products...)
		n.Deadlines = append(n.Deadlines, p.Names.Deadlines...)
		n.Pictures = append(n.Pictures, p.Names.Pictures...)
		n.Shelves = append(n.Shelves, p.Names.Shelves...)
		n.Pages = append(n.Pages, p.Names.Pages...)
		n.Groups = append(n.Groups, p.Names.Groups...)
		n.Videos = append(n.Videos, p.Names.Videos...)
		n.Mailings = append(n.Mailings, p.Names.Mailings...)
		n.Sold = append(n.Sold, p.Names.Sold...)
		n.Files = append(n.Files, p.Names.Files...)
		n.Booked = n.Booked || p.Names.Booked
		n.Described = n.Described || p.Names.Described
	}
	for _, list := range []*[]string{&n.Products, &n.Deadlines, &n.Pictures, &n.Shelves, &n.Pages, &n.Groups, &n.Videos, &n.Mailings, &n.Sold, &n.Files} {
		slices.Sort(*list)
		*list = slices.Compact(*list)
	}
	return n
}

// keys are those of a map, in order.
func keys[V any](m map[string]V) []string { return slices.Sorted(maps.Keys(m)) }
