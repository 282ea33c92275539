package orders

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/store"
)

// OrderQuery says which orders are asked for.
type OrderQuery struct {
	Find     string // number, or words of name, email or goods
	Standing string // to_pack, sent, done, waiting or refunded; "": all
	Campaign string
	From, To string // days in the store's zone, 2026-11-27; both included
	Before   string // ID of the last order of the page before
	IDs      []string
	Number   int // most that are wanted; 0: as many as there are
}

// OrderRow is one order in the list.
type OrderRow struct {
	ID            string
	Number        *int64
	Name, Email   string
	Address       store.JSON
	Said          store.JSON
	Items         string // 2 × Ember 180, 1 × Spare lantern cell
	Units         int
	Currency      string
	TotalMinor    int64
	RefundedMinor int64
	At            time.Time
	Standing      string
	Campaign      string
	Carrier       string // of the last parcel
	Parcel        string // its number
	Way           order.Way
	HeldUntil     *time.Time // its goods, while it is awaited
	Reference     *string    // that its transfer bears
}

// Waits tells until when an awaited order is held, in the store's zone.
func (r OrderRow) Waits(zone string) string {
	if r.HeldUntil == nil {
		return ""
	}
	return deadline.Day(*r.HeldUntil, zone)
}

// Total is what was paid.
func (r OrderRow) Total() money.Money { return money.Of(r.TotalMinor, r.Currency) }

// Refunded is what of it went back.
func (r OrderRow) Refunded() money.Money { return money.Of(r.RefundedMinor, r.Currency) }

// Town is where it goes.
func (r OrderRow) Town() string { return factbook.Town(store.Order{Address: r.Address}) }

// Place is the address by its fields.
func (r OrderRow) Place() map[string]string { return factbook.PlaceOf(store.Order{Address: r.Address}) }

// said is what a buyer answered to something that was asked besides, by its name.
func (r OrderRow) said(name string) string {
	for _, s := range factbook.Said(store.Order{Said: r.Said}) {
		if s.Name == name {
			return s.Says
		}
	}
	return ""
}

// Standings are where orders can stand, in the order in which they are worked.
var Standings = []struct{ Name, Words string }{
	{"awaited", "To confirm"}, {"to_pack", "To pack"}, {"sent", "Sent"}, {"done", "Done"}, {"waiting", "Being paid for"}, {"refunded", "Refunded"},
}

// standing is [order.Standing] in SQL; a test holds the two together.
const standing = `CASE WHEN o.state = 'awaited' THEN 'awaited' WHEN o.state <> 'paid' THEN 'waiting' WHEN o.total_minor > 0 AND o.refunded_minor >= o.total_minor THEN 'refunded' ELSE coalesce(o.handling, 'to_pack') END`

// OrderAt is the moment by which orders are listed.
const OrderAt = `coalesce(o.paid_at, o.created_at)`

const orderRows = `SELECT o.id, o.number, o.name, o.email, o.address, o.said, o.currency, CASE WHEN o.state = 'awaited' THEN coalesce(y.amount_minor, 0) ELSE o.total_minor END AS total_minor, o.refunded_minor, y.held_until, coalesce(y.way, 'card') AS way, o.reference, ` + OrderAt + ` AS at, ` + standing + ` AS standing, c.name AS campaign,
	l.items, coalesce(l.units, 0) AS units, coalesce(k.carrier, '') AS carrier, coalesce(k.number, '') AS parcel
	FROM orders o JOIN campaigns c ON c.id = o.campaign_id
	LEFT JOIN LATERAL (SELECT string_agg(l.quantity || ' × ' || l.name, ', ' ORDER BY p.asked_at, l.position) AS items, sum(l.quantity) AS units
		FROM order_lines l JOIN payments p ON p.id = l.payment_id WHERE l.order_id = o.id AND (p.state = 'charged' OR (o.state IN ('paying', 'awaited') AND p.state IN ('asked', 'confirming', 'waiting')))) l ON true
	LEFT JOIN LATERAL (SELECT p.way, p.amount_minor, p.held_until FROM payments p WHERE p.order_id = o.id AND p.kind = 'checkout' ORDER BY p.asked_at DESC LIMIT 1) y ON true
	LEFT JOIN LATERAL (SELECT carrier, number FROM parcels WHERE order_id = o.id ORDER BY sent_at DESC LIMIT 1) k ON true`

// where writes the conditions of a query.
func (q OrderQuery) where(zone string) (string, []any, error) {
	conditions, args := []string{"o.state IN ('paid', 'paying', 'awaited')"}, []any{}
	add := func(sql string, values ...any) { conditions, args = append(conditions, sql), append(args, values...) }
	if len(q.IDs) > 0 {
		add("o.id = ANY(?::text[])", store.TextArray(q.IDs))
	}
	if q.Standing != "" {
		add(standing+" = ?", q.Standing)
		if q.Standing == "to_pack" {
			add("o.handling = 'to_pack'") // the index of it
		}
	}
	if q.Campaign != "" {
		add("o.campaign_id = ?", q.Campaign)
	}
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return "", nil, fmt.Errorf("the store's zone: %w", err)
	}
	for _, d := range []struct {
		text, sql string
		days      int
	}{{q.From, OrderAt + " >= ?", 0}, {q.To, OrderAt + " < ?", 1}} {
		if d.text == "" {
			continue
		}
		day, err := time.ParseInLocation(time.DateOnly, d.text, loc)
		if err != nil {
			return "", nil, refusal.Of(refusal.ErrInvalid, "“%s” is not a day; write it like 2026-11-27.", d.text)
		}
		add(d.sql, day.AddDate(0, 0, d.days))
	}
	if find := strings.TrimSpace(q.Find); find != "" {
		if n, err := strconv.ParseInt(strings.TrimPrefix(find, "#"), 10, 64); err == nil {
			add("o.number = ?", n)
		} else if order.ReferenceHolds(find) {
			add("o.reference = ?", strings.ToUpper(strings.Join(strings.Fields(find), "")))
		} else {
			add(`(o.name ILIKE ? OR o.email ILIKE ? OR EXISTS (SELECT FROM order_lines f LEFT JOIN variants v ON v.id = f.variant_id WHERE f.order_id = o.id AND (f.name ILIKE ? OR v.sku ILIKE ?)))`,
				store.Pattern(find), store.Pattern(find), store.Pattern(find), find)
		}
	}
	return strings.Join(conditions, " AND "), args, nil
}

// asked writes the conditions of a query, whose days are the store's.
func (office *Office) asked(ctx context.Context, q OrderQuery) (string, []any, error) {
	shop, err := office.Store.Shop(ctx)
	if err != nil {
		return "", nil, err
	}
	return q.where(shop.Zone)
}

// Orders lists orders, the newest first.
func (office *Office) Orders(ctx context.Context, q OrderQuery) ([]OrderRow, error) {
	where, args, err := office.asked(ctx, q)
	if err != nil {
		return nil, err
	}
	if q.Before != "" {
		where += " AND (" + OrderAt + ", o.id) < (SELECT " + OrderAt + ", o.id FROM orders o WHERE o.id = ?)"
		args = append(args, q.Before)
	}
	sql := orderRows + " WHERE " + where + " ORDER BY " + OrderAt + " DESC, o.id DESC"
	if q.Number > 0 {
		sql += " LIMIT " + strconv.Itoa(q.Number)
	}
	var rows []OrderRow
	if err := office.Store.On(ctx).Raw(sql, args...).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the orders: %w", err)
	}
	return rows, nil
}

// StandingCount is how many orders stand somewhere, and what they come to.
type StandingCount struct {
	Standing string
	Orders   int
	Minor    int64 // paid, less what went back
}

// CountOrders counts orders by where they stand, whatever standing the query names.
func (office *Office) CountOrders(ctx context.Context, q OrderQuery) (map[string]StandingCount, error) {
	q.Standing = ""
	where, args, err := office.asked(ctx, q)
	if err != nil {
		return nil, err
	}
	var rows []StandingCount
	err = office.Store.On(ctx).Raw("SELECT "+standing+" AS standing, count(*) AS orders, coalesce(sum(o.total_minor - o.refunded_minor), 0) AS minor FROM orders o WHERE "+where+" GROUP BY 1", args...).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("count the orders: %w", err)
	}
	out := map[string]StandingCount{}
	for _, r := range rows {
		out[r.Standing] = r
		all := out[""]
		out[""] = StandingCount{"", all.Orders + r.Orders, all.Minor + r.Minor}
	}
	return out, nil
}

// Pick is one of the goods to fetch from the shelves, for all orders together.
type Pick struct {
	SKU, Name string
	Units     int
	Orders    int
}

// Picks lists what must be fetched to pack orders, less what has gone back.
func (office *Office) Picks(ctx context.Context, q OrderQuery) ([]Pick, error) {
	q.Standing = "to_pack"
	where, args, err := office.asked(ctx, q)
	if err != nil {
		return nil, err
	}
	var rows []Pick
	err = office.Store.On(ctx).Raw(`SELECT v.sku, min(l.name) AS name, sum(l.quantity - coalesce(b.back, 0)) AS units, count(DISTINCT o.id) AS orders
		FROM orders o JOIN order_lines l ON l.order_id = o.id JOIN payments p ON p.id = l.payment_id AND p.state = 'charged'
		JOIN variants v ON v.id = l.variant_id JOIN products q ON q.id = v.product_id AND q.form = 'physical'
		LEFT JOIN LATERAL (`+factbook.UnitsBack+`) b ON true
		WHERE `+where+` GROUP BY v.id, v.sku HAVING sum(l.quantity - coalesce(b.back, 0)) > 0 ORDER BY units DESC, v.sku`, args...).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read what is to be fetched: %w", err)
	}
	return rows, nil
}
