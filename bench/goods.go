package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"strings"
	"time"

	"chrysagon/app"
	"chrysagon/app/assortment"
	"chrysagon/core/goods"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"github.com/shopspring/decimal"
)

const (
	imported = 100_000
	stocked  = 1_000_000
)

// goodsMany measures the import, the Goods table at 100,000 goods, and shelves
// at 1,000,000.
func goodsMany(ctx context.Context, a *app.App) error {
	id, err := a.Goods.KeepImport(ctx, "", "bench.csv", []byte(table(imported)))
	if err != nil {
		return err
	}
	began := time.Now()
	if _, err := a.Goods.DryRun(ctx, id, nil); err != nil {
		return err
	}
	tried := time.Since(began)
	began = time.Now()
	if _, err := a.Goods.Import(ctx, "", id, nil); err != nil {
		return err
	}
	report("import of 100,000 rows, dry run and applied", "%s and %s", "under 20 s", tried.Round(10*time.Millisecond), time.Since(began).Round(10*time.Millisecond))
	byName := []shelf.Order{{By: shelf.Name}}
	for what, q := range map[string]assortment.GoodsQuery{
		"Goods table at 100,000: first page":         {Shelf: shelf.Shelf{Order: byName}, Number: 50},
		"Goods table at 100,000: search by name":     {Find: "kite 7777", Shelf: shelf.Shelf{Order: byName}, Number: 50},
		"Goods table at 100,000: search by SKU":      {Find: "B-4711", Shelf: shelf.Shelf{Order: byName}, Number: 50},
		"Goods table at 100,000: dearest first":      {Shelf: shelf.Shelf{Order: []shelf.Order{{By: shelf.ListPrice, Down: true}}}, Number: 50},
		"Goods table at 100,000: returned, cheapest": {Shelf: shelf.Shelf{Rule: shelf.Rule{Field: shelf.Condition, Is: []goods.Value{goods.TextOf("returned")}}, Order: []shelf.Order{{By: shelf.Price}}}, Number: 50},
	} {
		took, err := middle(9, func() error { _, err := a.Goods.Goods(ctx, q); return err })
		if err != nil {
			return err
		}
		report(what, "%s", "quick: under 100 ms", took.Round(100*time.Microsecond))
	}
	if err := fill(ctx, a.Store, imported, stocked); err != nil {
		return err
	}
	if err := shelves(ctx, a); err != nil {
		return err
	}
	return listsMany(ctx, a)
}

func table(n int) string {
	var b strings.Builder
	b.WriteString("sku,product,name,category,price,cost,stock,condition,received,lines,wind_min\n")
	for i := range n {
		fmt.Fprintf(&b, "B-%d,B-%d,Kite %d,Category %d,%d.90,%d.10,%d,%s,2026-0%d-1%d,%d,%d\n", i, i/2, i/2, i/2%40, i%300+5, i%200+2, i%90,
			[]string{"new", "new", "new", "new", "new", "new", "new", "new", "returned", "ex-demo"}[i%10], i%9+1, i%9, i%4+1, i%7)
	}
	return b.String()
}

// fill brings the goods from so many to so many, past the triggers.
func fill(ctx context.Context, s *store.Store, have, want int) error {
	for _, sql := range []string{
		"ALTER TABLE variants DISABLE TRIGGER USER",
		"ALTER TABLE products DISABLE TRIGGER USER",
		fmt.Sprintf(`INSERT INTO products (id, name, form, category, added_at) SELECT 'm-' || i, 'Kite number ' || i, 'physical', 'Category ' || i %% 40, now() FROM generate_series(%d, %d) i`, have+1, want),
		fmt.Sprintf(`INSERT INTO variants (id, product_id, sku, price_minor, now_minor, stock, condition, received_at, attributes, address)
			SELECT 'm-' || i, 'm-' || i, 'M-' || i, i %% 30000 + 500, i %% 30000 + 500, i %% 90, CASE i %% 100 WHEN 8 THEN 'returned' WHEN 9 THEN 'ex-demo' ELSE 'new' END,
				now() - (i %% 200) * interval '1 day', jsonb_build_object('lines', i %% 4 + 1, 'wind_min', i %% 7), 'kite-number-' || i FROM generate_series(%d, %d) i`, have+1, want),
		"ALTER TABLE variants ENABLE TRIGGER USER",
		"ALTER TABLE products ENABLE TRIGGER USER",
		"VACUUM ANALYZE variants", "VACUUM ANALYZE products",
	} {
		if _, err := s.Pool.Exec(ctx, sql); err != nil {
			return fmt.Errorf("fill the shelves: %w", err)
		}
	}
	return nil
}

// shelves holds our SQL against what a person would write for the same, with
// the same values handed in: the first page of 24.
func shelves(ctx context.Context, a *app.App) error {
	n := decimal.NewFromInt
	eighty, ninetyOne, two, one := n(8000), n(91), n(2), n(1)
	at := shelf.Sight{Moment: time.Now(), Zone: time.UTC}
	since := at.Moment.UTC().Truncate(24*time.Hour).AddDate(0, 0, -90)
	explained := []string{"# Shelves over 1,000,000 goods\n\nWritten by `BENCH_EXPLAIN=docs/shelf-plans.md make bench`: what PostgreSQL does for the first page of the three shelves.\n"}
	for _, c := range []struct {
		name  string
		shelf shelf.Shelf
		hand  string
		args  []any
	}{
		{"returned and ex-demo, at most 80", shelf.Shelf{Rule: shelf.Rule{All: []shelf.Rule{
			{Field: shelf.Condition, Is: []goods.Value{goods.TextOf("returned"), goods.TextOf("ex-demo")}}, {Field: shelf.Price, AtMost: &eighty},
		}}, Order: []shelf.Order{{By: shelf.Price}}},
			`v.condition IN (?, ?) AND v.now_minor <= ? ORDER BY v.now_minor, v.id COLLATE "C"`, []any{"returned", "ex-demo", 8000}},
		{"two or four lines, light wind", shelf.Shelf{Rule: shelf.Rule{All: []shelf.Rule{
			{Field: shelf.Attribute, Name: "lines", Is: []goods.Value{goods.NumberOf("2"), goods.NumberOf("4")}}, {Field: shelf.Attribute, Name: "wind_min", AtMost: &two},
		}}, Order: []shelf.Order{{By: shelf.Price}}},
			`v.attributes ->> 'lines' IN (?, ?) AND (v.attributes ->> 'wind_min')::numeric <= ? ORDER BY v.now_minor, v.id COLLATE "C"`, []any{"2", "4", 2}},
		{"more than 90 days in stock", shelf.Shelf{Rule: shelf.Rule{All: []shelf.Rule{{Field: shelf.DaysInStock, AtLeast: &ninetyOne}, {Field: shelf.Stock, AtLeast: &one}}}, Order: []shelf.Order{{By: shelf.Price}}},
			`v.received_at < ? AND v.stock - v.reserved >= ? ORDER BY v.now_minor, v.id COLLATE "C"`, []any{since, 1}},
	} {
		q, err := store.BuildShelf(c.shelf, at)
		if err != nil {
			return err
		}
		const columns = "SELECT v.id, p.name, v.now_minor "
		ours := columns + store.GoodsFrom + " WHERE " + q.Where + " ORDER BY " + q.Order + " LIMIT 24"
		hand := columns + store.GoodsFrom + " WHERE " + c.hand + " LIMIT 24"
		run := func(sql string, args ...any) func() error {
			return func() error {
				var rows []struct{ ID, Name string }
				return a.Store.DB.WithContext(ctx).Raw(sql, args...).Scan(&rows).Error
			}
		}
		mine, err := middle(41, run(ours, q.Args...))
		if err != nil {
			return err
		}
		theirs, err := middle(41, run(hand, c.args...))
		if err != nil {
			return err
		}
		report("shelf of 1,000,000 goods, first page: "+c.name, "%s, %.2f of hand-written SQL", "under 50 ms, within 1.2", mine.Round(10*time.Microsecond), float64(mine)/float64(theirs))
		var plan []string
		if err := a.Store.DB.WithContext(ctx).Raw("EXPLAIN (ANALYZE, COSTS OFF, TIMING OFF, SUMMARY ON) "+ours, q.Args...).Scan(&plan).Error; err != nil {
			return err
		}
		explained = append(explained, fmt.Sprintf("## %s\n\n```\n%s\n```\n", c.name, strings.Join(plan, "\n")))
	}
	if file := os.Getenv("BENCH_EXPLAIN"); file != "" {
		return os.WriteFile(file, []byte(strings.Join(explained, "\n")), 0o644) //nolint:gosec // documentation, for everybody to read
	}
	return nil
}

// middle runs something several times and returns the middle time.
func middle(times int, do func() error) (time.Duration, error) {
	var all []time.Duration
	for range times {
		began := time.Now()
		if err := do(); err != nil {
			return 0, err
		}
		all = append(all, time.Since(began))
	}
	if len(all) == 0 {
		return 0, errors.New("nothing was measured")
	}
	for i := range all {
		for j := i + 1; j < len(all); j++ {
			if all[j] < all[i] {
				all[i], all[j] = all[j], all[i]
			}
		}
	}
	return all[len(all)/2], nil
}
