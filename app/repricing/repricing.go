// Package repricing keeps what everybody is asked, and the ledger of it, as offers,
// deadlines, shelves and list prices change.
package repricing

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Keeper keeps prices.
type Keeper struct {
	Facts *factbook.Reader
	News  *news.Hub
	Store *store.Store
}

// KeepLedger writes into the price ledger what offers did to prices since it
// was last kept: each start and end at its own moment, however late this runs.
// It must run before offers, deadlines or shelves change, for it reads them as
// they were.
func (k *Keeper) KeepLedger(ctx context.Context) error {
	return k.Store.In(ctx, func(tx *gorm.DB) error { return k.UpTo(tx, k.Store.Now()) })
}

// UpTo keeps it within a transaction, before the change that it makes.
func (k *Keeper) UpTo(tx *gorm.DB, now time.Time) error {
	var shop store.Shop
	if err := tx.Raw("SELECT * FROM store WHERE id = 1 FOR UPDATE").Scan(&shop).Error; err != nil {
		return err
	}
	f, err := k.PublicOffers(tx, shop)
	if err != nil {
		return err
	}
	from := now
	if shop.LedgerKeptAt != nil {
		from = shop.LedgerKeptAt.UTC()
	}
	for _, edge := range edges(f, from, now) {
		if err := k.reprice(tx, f, edge, "", nil); err != nil {
			return err
		}
	}
	return tx.Exec("UPDATE store SET ledger_kept_at = ? WHERE id = 1", now).Error
}

// PublicOffers reads the offers that everybody meets on one unit.
func (k *Keeper) PublicOffers(tx *gorm.DB, shop store.Shop) (facts.Facts, error) {
	f := facts.Facts{Store: k.Facts.StoreFacts(shop)}
	var rows []factbook.OfferRow
	if err := tx.Raw(factbook.OfferRows + " WHERE NOT o.needs_code AND o.only_via = '' AND o.max_uses = 0 AND o.max_uses_each = 0 ORDER BY o.created_at, o.id").Scan(&rows).Error; err != nil {
		return f, fmt.Errorf("read the offers: %w", err)
	}
	if err := factbook.TakeOffers(tx, rows, &f); err != nil {
		return f, err
	}
	f.Offers = slices.DeleteFunc(f.Offers, func(o offer.Offer) bool { return !factbook.Everybodys(o, f) })
	return f, nil
}

// edges are the moments in (from, until] at which a public price can change by
// itself, in order.
func edges(f facts.Facts, from, until time.Time) []time.Time {
	var out []time.Time
	add := func(t time.Time) {
		if t.After(from) && !t.After(until) {
			out = append(out, t)
		}
	}
	for _, o := range f.Offers {
		add(o.Starts)
		add(o.Ends)
		for _, w := range o.Windows {
			add(w.Starts)
			add(w.Ends)
		}
		if d, bound := f.Deadlines[f.Bound[o.ID]]; bound {
			repeating(d, from, until, add)
		}
		if o.Shelf == nil {
			continue
		}
		for at := from; ; {
			if at = (shelf.Shelf{Rule: *o.Shelf}).Changes(factbook.Sight(f.Store.Zone, at)); at.IsZero() || at.After(until) {
				break
			}
			add(at)
		}
	}
	slices.SortFunc(out, time.Time.Compare)
	return slices.CompactFunc(out, time.Time.Equal)
}

func repeating(d deadline.Deadline, from, until time.Time, add func(time.Time)) {
	for at := from; ; {
		i, err := d.For(deadline.Visitor{}, at)
		if err != nil {
			return
		}
		add(i.Opens)
		add(i.At)
		if !i.At.After(at) || i.At.After(until) {
			return
		}
		at = i.At
	}
}

// repriceChunk is how many goods are computed and written at once.
const repriceChunk = 5000

// reprice computes what everybody is asked at a moment and writes what changed;
// the database keeps the ledger. Only these goods, or all when there are none
// named.
func (k *Keeper) reprice(tx *gorm.DB, f facts.Facts, at time.Time, why string, only []string) error {
	if err := store.SetMoment(tx, at, why); err != nil {
		return err
	}
	where, args := k.Repriced(f, at, only)
	after := ""
	for {
		var rows []factbook.GoodsRow
		err := tx.Raw(factbook.GoodsRows+" WHERE v.id > ? AND ("+where+") ORDER BY v.id LIMIT ?", append(append([]any{after}, args...), repriceChunk)...).Scan(&rows).Error
		if err != nil {
			return fmt.Errorf("read the goods to price: %w", err)
		}
		if err := writePrices(tx, f, at, rows); err != nil {
			return err
		}
		if len(rows) < repriceChunk {
			return nil
		}
		after = rows[len(rows)-1].ID
	}
}

// Repriced narrows to the goods whose price can differ from their list price:
// those that an offer reduces now, or that one was reducing.
func (k *Keeper) Repriced(f facts.Facts, at time.Time, only []string) (string, []any) {
	where, args := k.reducible(f, at)
	if only == nil {
		return where, args
	}
	return "v.id = ANY(?::text[]) AND (" + where + ")", append([]any{store.TextArray(only)}, args...)
}

func (k *Keeper) reducible(f facts.Facts, at time.Time) (string, []any) {
	parts := []string{"v.now_minor <> v.price_minor"}
	var args []any
	for _, o := range f.Offers {
		if o.General() {
			return "true", nil
		}
		if len(o.Products) > 0 {
			parts = append(parts, "v.id = ANY(?::text[])")
			args = append(args, store.TextArray(o.Products))
		}
		if o.Shelf != nil {
			q, err := store.BuildShelf(shelf.Shelf{Rule: *o.Shelf}, factbook.Sight(f.Store.Zone, at))
			if err != nil {
				return "true", nil
			}
			parts = append(parts, "("+strings.ReplaceAll(q.Where, "v.now_minor", "v.price_minor")+")")
			args = append(args, q.WhereArgs()...)
		}
	}
	return strings.Join(parts, " OR "), args
}

func writePrices(tx *gorm.DB, f facts.Facts, at time.Time, rows []factbook.GoodsRow) error {
	var ids, prices []string
	for _, r := range rows {
		f.Products = nil
		p := r.Product(f.Store.Currency)
		price, err := f.PublicPrice(p, at)
		if err != nil {
			return fmt.Errorf("price %s: %w", r.SKU, err)
		}
		if price != r.NowMinor {
			ids, prices = append(ids, r.ID), append(prices, fmt.Sprint(price))
		}
	}
	if len(ids) == 0 {
		return nil
	}
	return tx.Exec(`UPDATE variants v SET now_minor = n.price FROM unnest(?::text[], ?::bigint[]) AS n(id, price) WHERE v.id = n.id`,
		store.TextArray(ids), store.TextArray(prices)).Error
}

// Repricing makes a change that prices follow from, in one transaction: the
// ledger is kept up to this moment, the change is made, and the goods that it
// returns, or all when it returns none, are priced anew. The change also
// returns why, in the ledger's words.
func (k *Keeper) Repricing(ctx context.Context, change func(tx *gorm.DB) (why string, only []string, err error)) error {
	err := k.Store.In(ctx, func(tx *gorm.DB) error {
		if err := k.UpTo(tx, k.Store.Now()); err != nil {
			return err
		}
		if err := store.SetMoment(tx, k.Store.Now(), ""); err != nil {
			return err
		}
		why, only, err := change(tx)
		if err != nil {
			return err
		}
		return k.AfterChange(tx, why, only)
	})
	if err == nil {
		k.News.FactsChanged()
	}
	return err
}

// AfterChange prices goods anew once offers, deadlines, shelves or list prices
// have changed. KeepLedger must have run before the change.
func (k *Keeper) AfterChange(tx *gorm.DB, why string, only []string) error {
	shop, err := store.One[store.Shop](tx, store.NoShop)
	if err != nil {
		return err
	}
	f, err := k.PublicOffers(tx, shop)
	if err != nil {
		return err
	}
	return k.reprice(tx, f, k.Store.Now(), why, only)
}
