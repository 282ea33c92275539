package store_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/shelf"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// drawRule makes any tree of conditions.
func drawRule(t *rapid.T, depth int) shelf.Rule {
	if depth > 0 && rapid.IntRange(0, 2).Draw(t, "group") == 0 {
		var group []shelf.Rule
		for range rapid.IntRange(0, 3).Draw(t, "size") {
			group = append(group, drawRule(t, depth-1))
		}
		if group == nil {
			group = []shelf.Rule{}
		}
		return [](func() shelf.Rule){
			func() shelf.Rule { return shelf.Rule{All: group} }, func() shelf.Rule { return shelf.Rule{Any: group} }, func() shelf.Rule { return shelf.Rule{None: group} },
		}[rapid.IntRange(0, 2).Draw(t, "join")]()
	}
	r := shelf.Rule{Field: rapid.SampledFrom([]shelf.Field{
		shelf.Price, shelf.ListPrice, shelf.Saving, shelf.SavingPercent, shelf.Category, shelf.Tag, shelf.Condition, shelf.Attribute,
		shelf.DaysInStock, shelf.Stock, shelf.Sales, shelf.DaysListed, shelf.Added,
	}).Draw(t, "field")}
	bounds := func(most int64) {
		at := func(name string) *decimal.Decimal {
			d := decimal.New(rapid.Int64Range(-10, most*10).Draw(t, name), -1)
			return &d
		}
		if rapid.Bool().Draw(t, "least") {
			r.AtLeast = at("at least")
		}
		if r.AtLeast == nil || rapid.Bool().Draw(t, "most") {
			r.AtMost = at("at most")
		}
	}
	texts := func(from ...string) {
		for range rapid.IntRange(0, 2).Draw(t, "values") {
			r.Is = append(r.Is, goods.TextOf(rapid.SampledFrom(from).Draw(t, "value")))
		}
		if r.Is == nil {
			r.Is = []goods.Value{}
		}
	}
	switch r.Field {
	case shelf.Category:
		texts("kites", "REELS", "bags")
	case shelf.Tag:
		texts("night", "Gift", "none")
	case shelf.Condition:
		texts("new", "returned", "ex-demo")
	case shelf.Attribute:
		r.Name = rapid.SampledFrom([]string{"lines", "skill", "indoor", "gone"}).Draw(t, "name")
		if rapid.Bool().Draw(t, "among") {
			r.Is = []goods.Value{rapid.SampledFrom([]goods.Value{goods.NumberOf("2"), goods.NumberOf("2.5"), goods.TextOf("expert"), goods.YesOf(true), goods.TextOf("2")}).Draw(t, "value")}
		} else {
			bounds(5)
		}
	case shelf.Sales:
		r.Days = rapid.SampledFrom([]int{1, 30}).Draw(t, "days")
		bounds(6)
	case shelf.Added:
		r.Since = rapid.SampledFrom([]string{"2026-11-20", "2026-10-25", "2026-01-01"}).Draw(t, "since")
	case shelf.DaysInStock, shelf.DaysListed:
		bounds(40)
	case shelf.SavingPercent:
		bounds(60)
	case shelf.Stock:
		bounds(5)
	default:
		bounds(90)
	}
	return r
}

func drawGoods(t *rapid.T, i int) shelf.Entry {
	e := shelf.Entry{Product: goods.Product{
		ID: fmt.Sprintf("v%02d", i), Name: rapid.SampledFrom([]string{"Ember", "gull", "Über"}).Draw(t, "name"), Price: money.Of(rapid.Int64Range(0, 90).Draw(t, "price"), "EUR"),
		Category: rapid.SampledFrom([]string{"", "Kites", "Reels"}).Draw(t, "category"), Tags: rapid.SampledFrom([][]string{nil, {"night"}, {"night", "gift"}}).Draw(t, "tags"),
		Condition: rapid.SampledFrom(goods.Conditions).Draw(t, "condition"), Stock: rapid.IntRange(0, 5).Draw(t, "stock"), Attributes: map[string]goods.Value{},
		// Around the change of clocks of 25 October 2026, and of midnight.
		Added: shelfSight.Moment.Add(-time.Duration(rapid.IntRange(0, 40*24).Draw(t, "added")) * time.Hour),
	}}
	e.Now = money.Of(rapid.Int64Range(0, e.Price.Minor).Draw(t, "now"), "EUR")
	if rapid.Bool().Draw(t, "received") {
		e.Received = shelfSight.Moment.Add(-time.Duration(rapid.IntRange(0, 40*24).Draw(t, "hours")) * time.Hour)
	}
	for _, name := range []string{"lines", "skill", "indoor"} {
		if rapid.Bool().Draw(t, name) {
			e.Attributes[name] = rapid.SampledFrom([]goods.Value{goods.NumberOf("2"), goods.NumberOf("2.50"), goods.NumberOf("4"), goods.TextOf("expert"), goods.TextOf("2"), goods.YesOf(true)}).Draw(t, "is")
		}
	}
	e.Sold = map[int]int64{1: int64(rapid.IntRange(0, 2).Draw(t, "sold today"))}
	e.Sold[30] = e.Sold[1] + int64(rapid.IntRange(0, 3).Draw(t, "sold before"))
	return e
}

var lisbon, _ = time.LoadLocation("Europe/Lisbon")

var shelfSight = shelf.Sight{Moment: time.Date(2026, 11, 23, 0, 30, 0, 0, time.UTC), Zone: lisbon}

// SQL and core pick the same goods in the same order, on random trees and goods.
func TestShelvesInSQLAndInCoreAgree(t *testing.T) {
	s := testkit.DB(t)
	require.NoError(t, s.DB.Exec("DELETE FROM order_lines").Error)
	rapid.Check(t, func(t *rapid.T) {
		var all []shelf.Entry
		for i := range rapid.IntRange(0, 12).Draw(t, "goods") {
			all = append(all, drawGoods(t, i))
		}
		tx := s.DB.Begin()
		defer tx.Rollback()
		for _, table := range []string{"campaign_goods", "offer_goods", "order_lines", "variants", "products"} {
			require.NoError(t, tx.Exec("DELETE FROM "+table).Error)
		}
		for _, e := range all {
			raw, err := json.Marshal(e.Attributes)
			require.NoError(t, err)
			require.NoError(t, tx.Create(&store.Product{ID: e.ID, Name: e.Name, Form: "physical", Category: e.Category, Tags: e.Tags, TaxClass: "standard", AddedAt: e.Added}).Error)
			v := store.Variant{ID: e.ID, ProductID: e.ID, SKU: e.ID, PriceMinor: e.Price.Minor, NowMinor: e.Now.Minor, Stock: e.Stock, Condition: string(e.Condition), Attributes: raw}
			if !e.Received.IsZero() {
				v.ReceivedAt = &e.Received
			}
			require.NoError(t, tx.Create(&v).Error)
			sell(t, func(sql string, args ...any) error { return tx.Exec(sql, args...).Error }, e)
		}
		sh := shelf.Shelf{Rule: drawRule(t, 3), Limit: rapid.IntRange(0, 5).Draw(t, "limit")}
		for range rapid.IntRange(0, 2).Draw(t, "orders") {
			sh.Order = append(sh.Order, shelf.Order{
				By:   rapid.SampledFrom([]shelf.Field{shelf.Price, shelf.Name, shelf.DaysInStock, shelf.Stock, shelf.Sales, shelf.Category, shelf.SavingPercent}).Draw(t, "by"),
				Days: 30, Down: rapid.Bool().Draw(t, "down"),
			})
		}
		if rapid.Bool().Draw(t, "pins") {
			sh.Pinned, sh.LeftOut = []string{"v03", "gone", "v01"}, []string{"v02"}
		}
		require.NoError(t, sh.Validate())
		q, err := store.BuildShelf(sh, shelfSight)
		require.NoError(t, err)
		sql := "SELECT v.id " + store.GoodsFrom + " WHERE " + q.Where + " ORDER BY " + q.Order
		if sh.Limit > 0 {
			sql += fmt.Sprintf(" LIMIT %d", sh.Limit)
		}
		ids := []string{}
		require.NoError(t, tx.Raw(sql, q.Args...).Scan(&ids).Error)
		want := []string{}
		for _, e := range sh.Pick(all, shelfSight) {
			want = append(want, e.ID)
		}
		require.Equal(t, want, ids)
	})
}

// sell writes what was sold of one of the goods: today, and before.
func sell(t *rapid.T, exec func(string, ...any) error, e shelf.Entry) {
	for days, units := range map[int]int64{1: e.Sold[1], 20: e.Sold[30] - e.Sold[1]} {
		if units == 0 {
			continue
		}
		id := fmt.Sprintf("%s-%d", e.ID, days)
		at := shelfSight.Moment.AddDate(0, 0, 1-days)
		require.NoError(t, exec(`INSERT INTO orders (id, token, number, visitor, campaign_id, step_id, edition_id, state, name, email, currency, created_at, paid_at)
			VALUES (?, ?, nextval('order_numbers'), 'v', 'frost-lanterns', 'night-flight', 'frost-1', 'paid', 'n', 'e', 'EUR', ?, ?)`, id, id, at, at))
		require.NoError(t, exec(`INSERT INTO payments (id, order_id, key, kind, step_id, state, amount_minor, asked_at, settled_at) VALUES (?, ?, ?, 'checkout', 'night-flight', 'charged', 1, ?, ?)`, id, id, id, at, at))
		require.NoError(t, exec(`INSERT INTO order_lines (payment_id, position, order_id, variant_id, name, via, quantity, list_minor, price_minor) VALUES (?, 0, ?, ?, 'x', 'page', ?, 1, 1)`, id, id, e.ID, units))
	}
}
