package assortment

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/shelf"
	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
)

// GoodsQuery is what the Goods place is asked to list.
type GoodsQuery struct {
	Archived bool        // those that are archived, and no others
	Find     string      // words of the name or the SKU
	Shelf    shelf.Shelf // filter and order
	After    int         // rows to leave out
	Number   int         // rows wanted
}

// GoodsRow is one row of the Goods table.
type GoodsRow struct {
	goods.Product
	Now   money.Money
	Days  int    // in stock; -1: not known
	Label string // what sets it apart from its product's others
}

// GoodsList is a page of the Goods table.
type GoodsList struct {
	Rows  []GoodsRow
	Count int
	Exact bool // Count was counted to the end
	Total int  // of all goods, as PostgreSQL estimates where they are many
}

// countUpTo bounds counting: beyond it the table says “more than”.
const countUpTo = 10_000

// find looks for words in names and for beginnings of SKUs, up to as many as
// are counted: two searches, each with its index, rather than one OR that has
// none. They are planned anew each time, because a plan made without the text
// cannot know how rare it is and reads the whole table.
func (g *Assortment) find(ctx context.Context, text string) ([]string, error) {
	rows, err := g.Store.Pool.Query(ctx, `(SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id WHERE p.name ILIKE $1 LIMIT $2)
		UNION (SELECT v.id FROM variants v WHERE lower(v.sku) LIKE $3 LIMIT $2)`,
		pgx.QueryExecModeExec, store.Pattern(text), countUpTo+1, strings.ToLower(store.Pattern(text)[1:]))
	if err != nil {
		return nil, fmt.Errorf("search the goods: %w", err)
	}
	ids, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil {
		return nil, fmt.Errorf("search the goods: %w", err)
	}
	return ids, nil
}

func (g *Assortment) goodsWhere(ctx context.Context, q GoodsQuery, at shelf.Sight) (where, order string, whereArgs, orderArgs []any, err error) {
	built, err := store.BuildShelf(q.Shelf, at)
	if err != nil {
		return "", "", nil, nil, refusal.Of(refusal.ErrInvalid, "The filter cannot be read: %s.", err)
	}
	if q.Archived {
		built = built.Archived()
	}
	where, whereArgs, orderArgs = built.Where, slices.Clone(built.WhereArgs()), built.OrderArgs()
	if strings.TrimSpace(q.Find) != "" {
		found, err := g.find(ctx, q.Find)
		if err != nil {
			return "", "", nil, nil, err
		}
		where = "v.id = ANY(?::text[]) AND (" + where + ")"
		whereArgs = append([]any{store.TextArray(found)}, whereArgs...)
	}
	return where, built.Order, whereArgs, orderArgs, nil
}

// Goods lists goods by search, filter and order.
func (g *Assortment) Goods(ctx context.Context, q GoodsQuery) (GoodsList, error) {
	var list GoodsList
	if err := q.Shelf.Validate(); err != nil {
		return list, refusal.Of(refusal.ErrInvalid, "The filter cannot be read: %s.", err)
	}
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return list, err
	}
	at := factbook.Sight(shop.Zone, g.Store.Now())
	where, order, whereArgs, orderArgs, err := g.goodsWhere(ctx, q, at)
	if err != nil {
		return list, err
	}
	var rows []factbook.GoodsRow
	args := append(slices.Clone(whereArgs), orderArgs...)
	err = g.Store.On(ctx).Raw(factbook.GoodsRows+" WHERE "+where+" ORDER BY "+order+" LIMIT ? OFFSET ?", append(args, q.Number, q.After)...).Scan(&rows).Error
	if err != nil {
		return list, fmt.Errorf("list the goods: %w", err)
	}
	for _, r := range rows {
		list.Rows = append(list.Rows, g.goodsRow(r, shop, at))
	}
	err = g.Store.On(ctx).Raw(`SELECT CASE WHEN reltuples < 20000 THEN (SELECT count(*) FROM variants) ELSE reltuples::bigint END FROM pg_class WHERE oid = 'variants'::regclass`).Scan(&list.Total).Error
	if err != nil {
		return list, fmt.Errorf("count the goods: %w", err)
	}
	if where == store.AllGoods && list.Total > countUpTo {
		list.Count = countUpTo + 1
		return list, nil
	}
	err = g.Store.On(ctx).Raw("SELECT count(*) FROM (SELECT 1 "+store.GoodsFrom+" WHERE "+where+" LIMIT ?) x", append(slices.Clone(whereArgs), countUpTo+1)...).Scan(&list.Count).Error
	if err != nil {
		return list, fmt.Errorf("count the goods: %w", err)
	}
	list.Exact = list.Count <= countUpTo
	return list, nil
}

func (g *Assortment) goodsRow(r factbook.GoodsRow, shop store.Shop, at shelf.Sight) GoodsRow {
	out := GoodsRow{Product: r.Product(shop.Currency), Now: money.Of(r.NowMinor, shop.Currency), Days: -1, Label: r.Label}
	if days, ok := goods.DaysSince(out.Received, at.Moment, at.Zone); ok {
		out.Days = days
	}
	return out
}

// Categories lists the categories there are, for choosing.
func (g *Assortment) Categories(ctx context.Context) ([]string, error) {
	var list []string
	err := g.Store.On(ctx).Raw("SELECT category FROM products WHERE category <> '' GROUP BY category ORDER BY category LIMIT 200").Scan(&list).Error
	return list, err
}

// GoodsPage is everything about one product: its variants, their ledgers and
// where they are used.
type GoodsPage struct {
	Product  store.Product
	Variants []GoodsRow
	Ledgers  map[string][]ledger.Entry
	Struck   map[string]ledger.Struck
	Pictures []store.Picture
	Used     []Use
	File     string
	Zone     string
	Setting  ledger.Setting
	Sold     map[string]Sold
}

// Use is a place in which a product is used.
type Use struct{ What, Name, Link string }

// GoodsPage reads one product.
func (g *Assortment) GoodsPage(ctx context.Context, productID string) (GoodsPage, error) {
	db := g.Store.On(ctx)
	p, err := store.One[store.Product](db.Where("id = ?", productID), "There is no such product.")
	if err != nil {
		return GoodsPage{}, err
	}
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return GoodsPage{}, err
	}
	page := GoodsPage{Product: p, Ledgers: map[string][]ledger.Entry{}, Struck: map[string]ledger.Struck{}, Zone: shop.Zone}
	if page.Setting, err = factbook.StruckSetting(shop); err != nil {
		return page, err
	}
	var rows []factbook.GoodsRow
	if err := db.Raw(factbook.GoodsRows+" WHERE v.product_id = ? ORDER BY v.label, v.id", productID).Scan(&rows).Error; err != nil {
		return page, fmt.Errorf("read the variants: %w", err)
	}
	at := factbook.Sight(shop.Zone, g.Store.Now())
	ids := make([]string, len(rows))
	for i, r := range rows {
		page.Variants = append(page.Variants, g.goodsRow(r, shop, at))
		ids[i] = r.ID
	}
	var entries []store.LedgerEntry
	if err := db.Where("variant_id IN ?", ids).Order("since").Find(&entries).Error; err != nil {
		return page, fmt.Errorf("read the price ledger: %w", err)
	}
	for _, e := range entries {
		page.Ledgers[e.VariantID] = append(page.Ledgers[e.VariantID], factbook.LedgerEntry(e))
	}
	for _, v := range page.Variants {
		s, err := ledger.Compute(ledger.Input{
			Currency: shop.Currency, Zone: shop.Zone, Entries: page.Ledgers[v.ID], Moment: g.Store.Now(), OnSale: v.Added, Perishable: v.Perishable, Setting: page.Setting,
		})
		if err != nil {
			return page, fmt.Errorf("read the price ledger of %s: %w", v.SKU, err)
		}
		page.Struck[v.ID] = s
	}
	err = db.Raw(`SELECT id, name, alt, mime, width, height, hash FROM pictures WHERE id IN
		(SELECT picture_id FROM product_pictures WHERE product_id = ? UNION SELECT picture_id FROM products WHERE id = ?) ORDER BY name`, productID, productID).Scan(&page.Pictures).Error
	if err != nil {
		return page, fmt.Errorf("read the pictures: %w", err)
	}
	if err := db.Raw("SELECT name FROM files WHERE product_id = ?", productID).Scan(&page.File).Error; err != nil {
		return page, err
	}
	if page.Sold, err = g.sold(ctx, page.Variants, shop.Currency); err != nil {
		return page, err
	}
	page.Used, err = g.usesOf(ctx, ids)
	return page, err
}

// usesOf lists where goods are used: offers, pages, campaigns, shelves.
func (g *Assortment) usesOf(ctx context.Context, ids []string) ([]Use, error) {
	var out []Use
	err := g.Store.On(ctx).Raw(`SELECT 'Offer' AS what, o.name, '/offers' || chr(63) || 'offer=' || o.id AS link FROM offers o WHERE o.ended_at IS NULL AND o.id IN (SELECT offer_id FROM offer_goods WHERE variant_id IN ?)
		UNION ALL SELECT 'Page', p.name, '/pages/' || p.id FROM pages p WHERE EXISTS (SELECT FROM unnest(?::text[]) g WHERE p.manuscript::text LIKE '%"' || g || '"%')
		UNION ALL SELECT 'Campaign', c.name, '/season' FROM campaigns c WHERE c.id IN (SELECT campaign_id FROM campaign_goods WHERE variant_id IN ?) ORDER BY 1, 2`,
		ids, store.TextArray(ids), ids).Scan(&out).Error
	if err != nil {
		return nil, fmt.Errorf("look for where goods are used: %w", err)
	}
	shelves, err := g.shelvesWith(ctx, ids)
	return append(out, shelves...), err
}

func (g *Assortment) shelvesWith(ctx context.Context, ids []string) ([]Use, error) {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	shelves, err := g.Shelves.Shelves(ctx)
	if err != nil {
		return nil, err
	}
	var out []Use
	for _, r := range shelves {
		q, err := store.BuildShelf(r.Shelf, factbook.Sight(shop.Zone, g.Store.Now()))
		if err != nil {
			return nil, err
		}
		var n int
		err = g.Store.On(ctx).Raw("SELECT count(*) "+store.GoodsFrom+" WHERE v.id = ANY(?::text[]) AND ("+q.Where+")", append([]any{store.TextArray(ids)}, q.WhereArgs()...)...).Scan(&n).Error
		if err != nil {
			return nil, err
		}
		if n > 0 {
			out = append(out, Use{"Shelf", r.Name, "/shelves?shelf=" + r.ID})
		}
	}
	return out, nil
}

// Written writes a moment in the store's zone.
func (p GoodsPage) Written(at time.Time) string { return deadline.Short(at, p.Zone) }

// GoodsIDs lists the IDs of all goods that a search and filter find.
func (g *Assortment) GoodsIDs(ctx context.Context, q GoodsQuery) ([]string, error) {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	where, _, whereArgs, _, err := g.goodsWhere(ctx, q, factbook.Sight(shop.Zone, g.Store.Now()))
	if err != nil {
		return nil, err
	}
	var ids []string
	err = g.Store.On(ctx).Raw("SELECT v.id "+store.GoodsFrom+" WHERE "+where+" LIMIT ?", append(whereArgs, q.Number)...).Scan(&ids).Error
	return ids, err
}
