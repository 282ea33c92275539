// Package shelves is the rules by which goods stand together, and the groups that lead to them.
package shelves

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/pictures"
	"chrysagon/app/repricing"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Shelves is the use cases of shelves and groups.
type Shelves struct {
	News     *news.Hub
	Pictures *pictures.Library
	Prices   *repricing.Keeper
	Store    *store.Store
}

// Stand is a shelf looked at while it is being written.
type Stand struct {
	Sentence string
	Count    int
	Goods    []goods.Product // the first of them
	Now      map[string]money.Money
	Pictures map[string]facts.Picture
	Warning  string
	Loosen   []shelf.Advice
}

// standShown is how many goods stand under a shelf's sentence.
const standShown = 24

// loosenAmong bounds how many goods are looked through for advice.
const loosenAmong = 20_000

// Evaluate shows what stands on a shelf now.
func (shelves *Shelves) Evaluate(ctx context.Context, s shelf.Shelf) (Stand, error) {
	if err := s.Validate(); err != nil {
		return Stand{}, refusal.Of(refusal.ErrInvalid, "The shelf cannot be read: %s.", err)
	}
	shop, err := shelves.Store.Shop(ctx)
	if err != nil {
		return Stand{}, err
	}
	db, at := shelves.Store.On(ctx), factbook.Sight(shop.Zone, shelves.Store.Now())
	units, err := shelves.units(ctx)
	if err != nil {
		return Stand{}, err
	}
	st := Stand{Sentence: s.Sentence(shop.Currency, units), Now: map[string]money.Money{}}
	q, err := store.BuildShelf(s, at)
	if err != nil {
		return st, refusal.Of(refusal.ErrInvalid, "The shelf cannot be read: %s.", err)
	}
	if st.Count, err = countOn(db, q); err != nil {
		return st, err
	}
	if s.Limit > 0 {
		st.Count = min(st.Count, s.Limit)
	}
	var rows []factbook.GoodsRow
	shown := standShown
	if s.Limit > 0 {
		shown = min(shown, s.Limit)
	}
	if err := db.Raw(factbook.GoodsRows+" WHERE "+q.Where+" ORDER BY "+q.Order+factbook.LimitOf(shown), q.Args...).Scan(&rows).Error; err != nil {
		return st, fmt.Errorf("pick the goods of a shelf: %w", err)
	}
	for _, r := range rows {
		st.Goods = append(st.Goods, r.Product(shop.Currency))
		st.Now[r.ID] = money.Of(r.NowMinor, shop.Currency)
	}
	if st.Pictures, err = picturesOf(db, st.Goods); err != nil {
		return st, err
	}
	if st.Warning = shelf.Warning(st.Count); st.Warning == "" || s.ByHand {
		return st, nil
	}
	all, err := shelves.entries(ctx, shop, s, loosenAmong)
	if err != nil {
		return st, err
	}
	st.Loosen = s.Loosen(all, at, shop.Currency, units)
	return st, nil
}

func picturesOf(db *gorm.DB, list []goods.Product) (map[string]facts.Picture, error) {
	var ids []string
	for _, p := range list {
		if p.PictureID != "" {
			ids = append(ids, p.PictureID)
		}
	}
	return factbook.Pictures(db, ids)
}

// entries reads goods as core's rules see them.
func (shelves *Shelves) entries(ctx context.Context, shop store.Shop, s shelf.Shelf, limit int) ([]shelf.Entry, error) {
	var rows []factbook.GoodsRow
	if err := shelves.Store.On(ctx).Raw(factbook.GoodsRows+" ORDER BY v.id LIMIT ?", limit).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the goods: %w", err)
	}
	out := make([]shelf.Entry, len(rows))
	for i, r := range rows {
		out[i] = shelf.Entry{Product: r.Product(shop.Currency), Now: money.Of(r.NowMinor, shop.Currency)}
	}
	days := map[int]bool{}
	s.Rule.Walk(func(r shelf.Rule) {
		if r.Field == shelf.Sales {
			days[r.Days] = true
		}
	})
	at := factbook.Sight(shop.Zone, shelves.Store.Now())
	for n := range days {
		y, m, d := at.Moment.In(at.Zone).Date()
		var sold []struct {
			VariantID string
			Units     int64
		}
		err := shelves.Store.On(ctx).Raw(`SELECT l.variant_id, sum(l.quantity) AS units FROM order_lines l JOIN payments y ON y.id = l.payment_id
			WHERE y.state = 'charged' AND y.settled_at >= ? GROUP BY l.variant_id`, time.Date(y, m, d-n, 0, 0, 0, 0, at.Zone)).Scan(&sold).Error
		if err != nil {
			return nil, fmt.Errorf("count what was sold: %w", err)
		}
		byID := map[string]int64{}
		for _, r := range sold {
			byID[r.VariantID] = r.Units
		}
		for i := range out {
			if out[i].Sold == nil {
				out[i].Sold = map[int]int64{}
			}
			out[i].Sold[n] = byID[out[i].ID]
		}
	}
	return out, nil
}

// units are the attributes by name, for their labels and units.
func (shelves *Shelves) units(ctx context.Context) (map[string]goods.Attribute, error) {
	list, err := shelves.AttributeList(ctx)
	units := map[string]goods.Attribute{}
	for _, at := range list {
		units[at.Name] = at
	}
	return units, err
}

// AttributeList lists the declared attributes.
func (shelves *Shelves) AttributeList(ctx context.Context) ([]goods.Attribute, error) {
	var rows []store.Attribute
	if err := shelves.Store.On(ctx).Order("label").Find(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the attributes: %w", err)
	}
	out := make([]goods.Attribute, len(rows))
	for i, r := range rows {
		out[i] = goods.Attribute{Name: r.Name, Label: r.Label, Type: goods.Type(r.Type), Unit: r.Unit}
	}
	return out, nil
}

// NamedShelf is a shelf of the store.
type NamedShelf struct {
	ID, Name string
	Shelf    shelf.Shelf
}

// NamedShelves are shelves of the store.
type NamedShelves []NamedShelf

// Find finds a shelf by its ID.
func (l NamedShelves) Find(id string) (NamedShelf, bool) {
	i := slices.IndexFunc(l, func(n NamedShelf) bool { return n.ID == id })
	if i < 0 {
		return NamedShelf{}, false
	}
	return l[i], true
}

// Shelves lists the store's shelves. It looks at no goods.
func (shelves *Shelves) Shelves(ctx context.Context) (NamedShelves, error) {
	var rows []store.Shelf
	if err := shelves.Store.On(ctx).Order("name, id").Find(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the shelves: %w", err)
	}
	out := make(NamedShelves, len(rows))
	for i, r := range rows {
		s, err := factbook.ParseShelf(r)
		if err != nil {
			return nil, err
		}
		out[i] = NamedShelf{ID: r.ID, Name: r.Name, Shelf: s}
	}
	return out, nil
}

// CountedShelf is a shelf with what stands on it.
type CountedShelf struct {
	NamedShelf
	Sentence string
	Count    int
}

// CountShelves counts what stands on shelves, a statement for each: the rule of
// every shelf is its own.
func (shelves *Shelves) CountShelves(ctx context.Context, list NamedShelves) ([]CountedShelf, error) {
	shop, err := shelves.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	units, err := shelves.units(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]CountedShelf, len(list))
	for i, n := range list {
		out[i] = CountedShelf{NamedShelf: n, Sentence: n.Shelf.Sentence(shop.Currency, units)}
		q, err := store.BuildShelf(n.Shelf, factbook.Sight(shop.Zone, shelves.Store.Now()))
		if err != nil {
			return nil, err
		}
		if out[i].Count, err = countOn(shelves.Store.On(ctx), q); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func countOn(db *gorm.DB, q store.ShelfSQL) (int, error) {
	var n int
	if err := db.Raw("SELECT count(*) "+store.GoodsFrom+" WHERE "+q.Where, q.WhereArgs()...).Scan(&n).Error; err != nil {
		return 0, fmt.Errorf("count the goods of a shelf: %w", err)
	}
	return n, nil
}

// SaveShelf keeps a shelf, new or changed. Offers on it follow at once.
func (shelves *Shelves) SaveShelf(ctx context.Context, id, name string, s shelf.Shelf) (string, error) {
	name = strings.TrimSpace(name)
	if name == "" || len([]rune(name)) > 80 {
		return "", refusal.Of(refusal.ErrInvalid, "Give the shelf a name of at most 80 characters.")
	}
	if err := s.Validate(); err != nil {
		return "", refusal.Of(refusal.ErrInvalid, "The shelf cannot be read: %s.", err)
	}
	raw, err := json.Marshal(s)
	if err != nil {
		return "", fmt.Errorf("write a shelf: %w", err)
	}
	row := store.Shelf{ID: id, Name: name, Shelf: raw}
	if id == "" {
		row.ID = store.NewID()
	}
	err = shelves.Store.In(ctx, func(tx *gorm.DB) error {
		if err := errors.Join(shelves.Prices.UpTo(tx, shelves.Store.Now()), store.SetMoment(tx, shelves.Store.Now(), "")); err != nil {
			return err
		}
		if id != "" {
			if _, err := store.One[store.Shelf](tx.Where("id = ?", id), "There is no such shelf."); err != nil {
				return err
			}
		}
		if err := tx.Save(&row).Error; err != nil {
			return err
		}
		var offers int64
		if err := tx.Raw("SELECT count(*) FROM offers WHERE shelf_id = ?", row.ID).Scan(&offers).Error; err != nil || offers == 0 {
			return err
		}
		return shelves.Prices.AfterChange(tx, "shelf "+name, nil)
	})
	if err != nil {
		return "", err
	}
	shelves.News.FactsChanged()
	return row.ID, nil
}
