package factbook

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/facts"
	"chrysagon/core/ledger"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/store"

	"gorm.io/gorm"
)

// reading is all that pages need, read in four steps, each of which depends on those
// before it.
type reading struct {
	named    named                  // what names alone tell
	standing map[string]facts.Shelf // what stands on the shelves among it
	lists    map[string]facts.List  // pages of them that are looked at
	offered  offered                // offers that can touch the goods named and standing
	shown    shown                  // goods, with what offers give, and what belongs to them
}

// extent is how much is read.
type extent int

const (
	pricesOnly extent = iota // what prices depend on
	all                      // and what pages show
)

func (reader *Reader) read(ctx context.Context, how extent, pages []Wanted) (reading, error) {
	db, names := reader.Store.On(ctx), union(pages)
	var r reading
	var err error
	if r.named, err = readNamed(db, how, names); err != nil {
		return r, err
	}
	if r.standing, err = r.named.stand(db, reader, names.Products, paged(pages)); err != nil {
		return r, err
	}
	if err := r.named.besides(db, reader, names.Shelves, r.standing); err != nil {
		return r, err
	}
	products := slices.Clone(names.Products)
	for _, s := range r.standing {
		products = append(products, s.Goods...)
	}
	if r.lists, err = r.named.lists(db, reader, pages); err != nil {
		return r, err
	}
	for _, l := range r.lists {
		products = append(products, l.Goods...)
	}
	slices.Sort(products)
	products = slices.Compact(products)
	var codes []string
	edition := ""
	for _, p := range pages {
		if p.Who.Code != "" {
			codes = append(codes, offer.Normal(p.Who.Code))
		}
		edition = p.Who.Edition
	}
	if r.offered, err = readOffered(db, r.named.shop().Currency, products, codes); err != nil {
		return r, err
	}
	r.shown, err = readShown(db, how, append(products, r.offered.gifts()...), names, edition, r.named)
	return r, err
}

// paged are the shelves that pages show in pages and not otherwise: what is seen of them
// is read with their lists.
func paged(pages []Wanted) map[string]bool {
	out := map[string]bool{}
	for _, p := range pages {
		for _, id := range p.Names.Shelves {
			alone := slices.ContainsFunc(p.Names.Lists, func(l manuscript.Paged) bool { return l.Shelf == id && l.Alone })
			before, seen := out[id]
			out[id] = alone && (before || !seen)
		}
	}
	return out
}

// stand evaluates the rules of the shelves, all by one statement; of those in pages only
// which goods are named.
func (n named) stand(db *gorm.DB, reader *Reader, products []string, inPages map[string]bool) (map[string]facts.Shelf, error) {
	out := map[string]facts.Shelf{}
	if len(n.Shelves) == 0 {
		return out, nil
	}
	at := Sight(n.shop().Zone, reader.Store.Now())
	var parts []string
	var args []any
	for _, row := range n.Shelves {
		s, err := ParseShelf(row)
		if err != nil {
			return nil, err
		}
		if s.Limit == 0 || s.Limit > shelfShown {
			s.Limit = shelfShown
		}
		q, err := store.BuildShelf(s, at)
		if err != nil {
			return nil, err
		}
		goods, of := "ARRAY(SELECT v.id "+store.GoodsFrom+" WHERE "+q.Where+" ORDER BY "+q.Order+LimitOf(s.Limit)+")", q.Args
		if inPages[row.ID] {
			goods, of = "ARRAY[]::text[]", nil
		}
		parts = append(parts, "(SELECT ?::text AS shelf, "+goods+" AS goods, ARRAY(SELECT v.id "+store.GoodsFrom+" WHERE "+q.Where+" AND v.id = ANY(?::text[])) AS named)")
		args = append(append(append(append(args, row.ID), of...), q.WhereArgs()...), store.TextArray(products))
		out[row.ID] = facts.Shelf{ID: row.ID, Name: row.Name, Changes: s.Changes(at)}
	}
	var rows []struct {
		Shelf string
		Goods store.StringList
		Named store.StringList
	}
	if err := db.Raw(strings.Join(parts, " UNION ALL "), args...).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("pick the goods of shelves: %w", err)
	}
	for _, r := range rows {
		s := out[r.Shelf]
		s.Goods, s.Named = r.Goods, r.Named
		out[r.Shelf] = s
	}
	return out, nil
}

// offered are offers, with the codes that were typed.
type offered struct {
	rows  []OfferRow
	rules []offer.Offer // of the rows, as core computes with them
	codes []store.Code
}

// readOffered reads the offers that can touch these goods.
func readOffered(db *gorm.DB, currency string, products, codes []string) (offered, error) {
	if len(products) == 0 && len(codes) == 0 {
		return offered{}, nil
	}
	return readOffers(db, currency, ` WHERE o.general OR o.shelf_id IS NOT NULL
		OR o.id IN (SELECT g.offer_id FROM offer_goods g WHERE g.variant_id = ANY(?::text[]))`, []any{store.TextArray(products)}, codes)
}

// readOffers reads offers and codes by one statement.
func readOffers(db *gorm.DB, currency, where string, args []any, codes []string) (offered, error) {
	var o offered
	err := store.Together(db,
		store.Part{SQL: OfferRows + where + " ORDER BY o.created_at, o.id", Args: args, Into: &o.rows},
		store.Part{SQL: "SELECT * FROM codes WHERE normal = ANY(?::text[])", Args: []any{store.TextArray(codes)}, Into: &o.codes})
	if err != nil {
		return o, fmt.Errorf("read the offers: %w", err)
	}
	o.rules, err = rulesOf(o.rows, currency)
	return o, err
}

// gifts are the goods that the offers give.
func (o offered) gifts() []string {
	var ids []string
	for _, rule := range o.rules {
		if rule.GiftID != "" {
			ids = append(ids, rule.GiftID)
		}
	}
	return ids
}

// on puts the offers that can touch these goods into facts, each bound to its deadline.
func (o offered) on(products []string, n named, f *facts.Facts) {
	if len(products) == 0 {
		return
	}
	for i, r := range o.rows {
		if !r.touches(products) {
			continue
		}
		if r.DeadlineID != nil {
			if d, known := n.deadline(*r.DeadlineID); known {
				f.Deadlines[*r.DeadlineID] = d
			}
		}
		rule := o.rules[i]
		r.bind(&rule, f)
		r.put(rule, f)
	}
}

// touches tells whether an offer can touch one of these goods.
func (r OfferRow) touches(products []string) bool {
	return r.General || r.ShelfID != nil || slices.ContainsFunc(r.Goods, func(id string) bool { return slices.Contains(products, id) })
}

// Attach gives codes to the offers whose they are.
func Attach(codes []store.Code, f *facts.Facts) {
	for _, c := range codes {
		for i := range f.Offers {
			if f.Offers[i].ID == c.OfferID {
				f.Offers[i].Codes = append(f.Offers[i].Codes, offer.Code{Code: c.Code, MaxUses: c.MaxUses, Used: c.Used})
			}
		}
	}
}

// goods puts goods into facts, and those that its offers give, with their ledgers.
func (s shown) goods(products []string, f *facts.Facts) {
	put := func(id string) {
		if row, known := s.byID[id]; known {
			f.Products[id] = row.Product(f.Store.Currency)
			if list := s.ledgers[id]; len(list) > 0 {
				f.Ledgers[id] = list
			}
		}
	}
	if len(products) > 0 {
		f.Ledgers = map[string][]ledger.Entry{}
	}
	for _, id := range products {
		put(id)
	}
	for _, o := range f.Offers {
		if o.GiftID != "" {
			put(o.GiftID)
		}
	}
}
