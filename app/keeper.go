package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"gorm.io/gorm"
)

// KeepLedger writes into the price ledger what offers did to prices since it
// was last kept: each start and end at its own moment, however late this runs.
// It must run before offers, deadlines or shelves change, for it reads them as
// they were.
func (a *App) KeepLedger(ctx context.Context) error {
	return a.Store.In(ctx, func(tx *gorm.DB) error { return a.keepLedger(tx, a.Now()) })
}

func (a *App) keepLedger(tx *gorm.DB, now time.Time) error {
	var shop store.Shop
	if err := tx.Raw("SELECT * FROM store WHERE id = 1 FOR UPDATE").Scan(&shop).Error; err != nil {
		return err
	}
	f, err := a.publicOffers(tx, shop)
	if err != nil {
		return err
	}
	from := now
	if shop.LedgerKeptAt != nil {
		from = shop.LedgerKeptAt.UTC()
	}
	for _, edge := range edges(f, from, now) {
		if err := a.reprice(tx, f, edge, "", nil); err != nil {
			return err
		}
	}
	return tx.Exec("UPDATE store SET ledger_kept_at = ? WHERE id = 1", now).Error
}

// publicOffers reads the offers that everybody meets on one unit.
func (a *App) publicOffers(tx *gorm.DB, shop store.Shop) (facts.Facts, error) {
	f := facts.Facts{Store: a.storeFacts(shop)}
	var rows []offerRow
	if err := tx.Raw(offerRows + " WHERE NOT o.needs_code AND o.only_via = '' AND o.max_uses = 0 AND o.max_uses_each = 0 ORDER BY o.created_at, o.id").Scan(&rows).Error; err != nil {
		return f, fmt.Errorf("read the offers: %w", err)
	}
	if err := takeOffers(tx, rows, &f); err != nil {
		return f, err
	}
	f.Offers = slices.DeleteFunc(f.Offers, func(o offer.Offer) bool {
		// A deadline of the visitor's own makes a price that not everybody is asked.
		return !o.Public() || f.Deadlines[f.Bound[o.ID]].Personal()
	})
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
			if at = (shelf.Shelf{Rule: *o.Shelf}).Changes(sight(f.Store.Zone, at)); at.IsZero() || at.After(until) {
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
func (a *App) reprice(tx *gorm.DB, f facts.Facts, at time.Time, why string, only []string) error {
	if err := setMoment(tx, at, why); err != nil {
		return err
	}
	where, args := a.repriced(f, at, only)
	after := ""
	for {
		var rows []goodsRow
		err := tx.Raw(goodsRows+" WHERE v.id > ? AND ("+where+") ORDER BY v.id LIMIT ?", append(append([]any{after}, args...), repriceChunk)...).Scan(&rows).Error
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

// repriced narrows to the goods whose price can differ from their list price:
// those that an offer reduces now, or that one was reducing.
func (a *App) repriced(f facts.Facts, at time.Time, only []string) (string, []any) {
	where, args := a.reducible(f, at)
	if only == nil {
		return where, args
	}
	return "v.id = ANY(?::text[]) AND (" + where + ")", append([]any{store.TextArray(only)}, args...)
}

func (a *App) reducible(f facts.Facts, at time.Time) (string, []any) {
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
			q, err := store.BuildShelf(shelf.Shelf{Rule: *o.Shelf}, sight(f.Store.Zone, at))
			if err != nil {
				return "true", nil
			}
			parts = append(parts, "("+strings.ReplaceAll(q.Where, "v.now_minor", "v.price_minor")+")")
			args = append(args, q.WhereArgs()...)
		}
	}
	return strings.Join(parts, " OR "), args
}

func writePrices(tx *gorm.DB, f facts.Facts, at time.Time, rows []goodsRow) error {
	var ids, prices []string
	for _, r := range rows {
		f.Products = nil
		p := r.product(f.Store.Currency)
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

// repricing makes a change that prices follow from, in one transaction: the
// ledger is kept up to this moment, the change is made, and the goods that it
// returns, or all when it returns none, are priced anew. The change also
// returns why, in the ledger's words.
func (a *App) repricing(ctx context.Context, change func(tx *gorm.DB) (why string, only []string, err error)) error {
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		if err := a.keepLedger(tx, a.Now()); err != nil {
			return err
		}
		if err := setMoment(tx, a.Now(), ""); err != nil {
			return err
		}
		why, only, err := change(tx)
		if err != nil {
			return err
		}
		return a.afterChange(tx, why, only)
	})
	if err == nil {
		a.factsChanged()
	}
	return err
}

// afterChange prices goods anew once offers, deadlines, shelves or list prices
// have changed. KeepLedger must have run before the change.
func (a *App) afterChange(tx *gorm.DB, why string, only []string) error {
	shop, err := one[store.Shop](tx, "The store is not set up.")
	if err != nil {
		return err
	}
	f, err := a.publicOffers(tx, shop)
	if err != nil {
		return err
	}
	return a.reprice(tx, f, a.Now(), why, only)
}
