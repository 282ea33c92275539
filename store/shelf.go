package store

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/shelf"

	"github.com/shopspring/decimal"
)

// GoodsFrom joins variants to their products, as shelf queries read them.
const GoodsFrom = "FROM variants v JOIN products p ON p.id = v.product_id"

// GoodsName is what one of the goods is called, over [GoodsFrom].
const GoodsName = "p.name || CASE v.label WHEN '' THEN '' ELSE ', ' || v.label END"

// PageOfProducts is the live page that stands for each of the goods: where several
// campaigns have one, that which went live last.
const PageOfProducts = `SELECT l.page_id, c.live_edition_id AS edition_id, e.published_at FROM live_pages l JOIN pages g ON g.id = l.page_id AND g.purpose = 'product'
	JOIN campaigns c ON c.id = l.campaign_id JOIN editions e ON e.id = c.live_edition_id ORDER BY e.published_at DESC, l.page_id LIMIT 1`

// ShelfSQL is a shelf as SQL over [GoodsFrom]. It picks what [shelf.Shelf.Pick]
// picks, in the same order; a property test holds the two equal.
type ShelfSQL struct {
	Where string
	Order string
	Args  []any // of Where, then of Order
	split int
}

// unarchived ends every condition: what is archived stands on no shelf.
const unarchived = " AND v.archived_at IS NULL"

// AllGoods is the condition of a shelf that picks everything.
const AllGoods = "true" + unarchived

// Archived is the shelf as it would pick among what is archived.
func (q ShelfSQL) Archived() ShelfSQL {
	q.Where = strings.TrimSuffix(q.Where, unarchived) + " AND v.archived_at IS NOT NULL"
	return q
}

// WhereArgs are the arguments of Where alone, for counting.
func (q ShelfSQL) WhereArgs() []any { return q.Args[:q.split] }

// OrderArgs are the arguments of Order alone.
func (q ShelfSQL) OrderArgs() []any { return q.Args[q.split:] }

// BuildShelf writes a valid shelf as SQL.
func BuildShelf(s shelf.Shelf, at shelf.Sight) (ShelfSQL, error) {
	b := &shelfBuilder{at: at}
	where := "false"
	if !s.ByHand {
		where = b.rule(s.Rule)
	}
	if len(s.Pinned) > 0 {
		where = fmt.Sprintf("(%s OR v.id = ANY(%s))", where, b.arg(textArray(s.Pinned)))
	}
	if len(s.LeftOut) > 0 {
		where = fmt.Sprintf("%s AND v.id <> ALL(%s)", where, b.arg(textArray(s.LeftOut)))
	}
	where += unarchived
	split := len(b.args)
	var order []string
	if len(s.Pinned) > 0 {
		order = append(order, fmt.Sprintf("array_position(%s, v.id)", b.arg(textArray(s.Pinned))))
	}
	for _, o := range s.Order {
		expression := b.expression(shelf.Rule{Field: o.By, Name: o.Name, Days: o.Days})
		if o.Down {
			expression += " DESC"
		}
		if o.By == shelf.Attribute || o.By == shelf.DaysInStock {
			expression += " NULLS LAST" // all others are always known, and an index may serve
		}
		order = append(order, expression)
	}
	order = append(order, `v.id COLLATE "C"`)
	return ShelfSQL{Where: where, Order: strings.Join(order, ", "), Args: b.args, split: split}, b.err
}

// textArray hands a list to PostgreSQL as text[] through GORM, which would
// spread a slice over several placeholders.
func textArray(list []string) string {
	quoted := make([]string, len(list))
	for i, s := range list {
		quoted[i] = `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`).Replace(s) + `"`
	}
	return "{" + strings.Join(quoted, ",") + "}"
}

// TextArray is a list of texts as PostgreSQL writes an array.
func TextArray(list []string) string { return textArray(list) }

type shelfBuilder struct {
	at   shelf.Sight
	args []any
	err  error
}

func (b *shelfBuilder) arg(v any) string {
	b.args = append(b.args, v)
	if _, isText := v.(string); isText {
		return "?::text[]"
	}
	return "?"
}

func (b *shelfBuilder) text(v string) string {
	b.args = append(b.args, v)
	return "?"
}

func (b *shelfBuilder) rule(r shelf.Rule) string {
	if r.Field != "" {
		return b.condition(r)
	}
	group, join, none := r.All, " AND ", "true"
	switch {
	case r.Any != nil:
		group, join, none = r.Any, " OR ", "false"
	case r.None != nil:
		group, join, none = r.None, " OR ", "false"
	}
	parts := make([]string, 0, len(group))
	for _, c := range group {
		parts = append(parts, b.rule(c))
	}
	text := none
	if len(parts) > 0 {
		text = "(" + strings.Join(parts, join) + ")"
	}
	if r.None != nil {
		return "NOT coalesce(" + text + ", false)" // what is not known meets no condition
	}
	return text
}

// expression is what a number, or an order, looks at; null where not known.
func (b *shelfBuilder) expression(r shelf.Rule) string {
	switch r.Field {
	case shelf.Price:
		return "v.now_minor"
	case shelf.ListPrice:
		return "v.price_minor"
	case shelf.Saving:
		return "(v.price_minor - v.now_minor)"
	case shelf.SavingPercent:
		return "(CASE WHEN v.now_minor < v.price_minor THEN (v.price_minor - v.now_minor) * 100 / v.price_minor ELSE 0 END)"
	case shelf.Stock:
		return "(v.stock - v.reserved)"
	case shelf.Sales:
		return `coalesce((SELECT sum(l.quantity) FROM order_lines l JOIN payments y ON y.id = l.payment_id
			WHERE l.variant_id = v.id AND y.state = 'charged' AND y.settled_at >= ` + b.moment(r.Days) + `), 0)`
	case shelf.Attribute:
		name := b.text(r.Name)
		again := b.text(r.Name)
		return "(CASE WHEN jsonb_typeof(v.attributes -> " + name + "::text) = 'number' THEN (v.attributes ->> " + again + "::text)::numeric END)"
	case shelf.Category:
		return `p.category COLLATE "C"`
	case shelf.Condition:
		return `v.condition COLLATE "C"`
	case shelf.Name:
		return `p.name COLLATE "C"`
	case shelf.Added:
		return "date_trunc('second', p.added_at)"
	case shelf.DaysInStock:
		return b.dayOf("v.received_at")
	case shelf.DaysListed:
		return b.dayOf("p.added_at")
	case shelf.Tag:
	}
	b.err = fmt.Errorf("goods cannot be ordered by %q", r.Field)
	return "v.id"
}

// dayOf is how many midnights of the zone lie between a column and the moment.
func (b *shelfBuilder) dayOf(column string) string {
	today := b.at.Moment.In(b.at.Zone).Format(time.DateOnly)
	return fmt.Sprintf("(%s::date - (%s AT TIME ZONE %s)::date)", b.text(today), column, b.text(b.at.Zone.String()))
}

// moment is the first instant of the day so many days ago.
func (b *shelfBuilder) moment(daysAgo int) string {
	b.args = append(b.args, b.midnight(daysAgo))
	return "?::timestamptz"
}

func (b *shelfBuilder) midnight(daysAgo int) time.Time {
	y, m, d := b.at.Moment.In(b.at.Zone).Date()
	return time.Date(y, m, d-daysAgo, 0, 0, 0, 0, b.at.Zone).UTC()
}

func (b *shelfBuilder) condition(r shelf.Rule) string {
	switch {
	case r.Is != nil:
		return b.among(r)
	case r.Field == shelf.Added:
		since, err := time.ParseInLocation(time.DateOnly, r.Since, b.at.Zone)
		if err != nil {
			b.err = err
		}
		b.args = append(b.args, since.UTC())
		return "(p.added_at >= ?::timestamptz)"
	case r.Field == shelf.DaysInStock:
		return b.days("v.received_at", r)
	case r.Field == shelf.DaysListed:
		return b.days("p.added_at", r)
	}
	// The expression is written once for each bound: its arguments stand in order.
	var parts []string
	bound := func(operator string, d *decimal.Decimal) {
		if d == nil {
			return
		}
		expression := b.expression(r)
		b.args = append(b.args, d.String())
		parts = append(parts, expression+" "+operator+" ?::numeric")
	}
	bound(">=", r.AtLeast)
	bound("<=", r.AtMost)
	return "(" + strings.Join(parts, " AND ") + ")"
}

// days bounds a column of moments by days, so that an index on it serves.
func (b *shelfBuilder) days(column string, r shelf.Rule) string {
	var parts []string
	bound := func(operator string, n decimal.Decimal) {
		days := n.IntPart()
		b.args = append(b.args, b.midnight(int(min(max(days, -100_000), 100_000))))
		parts = append(parts, column+" "+operator+" ?::timestamptz")
	}
	if r.AtLeast != nil {
		bound("<", r.AtLeast.Ceil().Sub(decimal.NewFromInt(1)))
	}
	if r.AtMost != nil {
		bound(">=", r.AtMost.Floor())
	}
	return "(" + strings.Join(parts, " AND ") + ")"
}

func (b *shelfBuilder) among(r shelf.Rule) string {
	if len(r.Is) == 0 {
		return "false"
	}
	if r.Field == shelf.Attribute {
		var parts []string
		for _, v := range r.Is {
			raw, err := json.Marshal(map[string]goods.Value{r.Name: v})
			if err != nil {
				b.err = err
			}
			parts = append(parts, "v.attributes @> "+b.text(string(raw))+"::jsonb")
		}
		return "(" + strings.Join(parts, " OR ") + ")"
	}
	var words []string
	for _, v := range r.Is {
		if v.Type == goods.Text && v.Text != "" {
			words = append(words, strings.ToLower(v.Text))
		}
	}
	column := map[shelf.Field]string{shelf.Category: "lower(p.category) = ANY(%s)", shelf.Condition: "v.condition = ANY(%s)", shelf.Tag: "p.tags && %s"}[r.Field]
	return "(" + fmt.Sprintf(column, b.arg(textArray(words))) + ")"
}
