package store

import (
	"strings"
	"time"

	"chrysagon/core/segment"
)

// paidOrders are those of a contact c.
const paidOrders = "orders o WHERE lower(o.email) = lower(c.email) AND o.state = 'paid'"

// BuildSegment writes a rule as a condition on contacts c, with its values in order. It
// means what segment.Rule.Holds does.
func BuildSegment(r segment.Rule, now time.Time, zone *time.Location) (string, []any) {
	parts, args := []string{"true"}, []any{}
	for _, c := range r.All {
		sql, values := clause(c, c.From(now, zone))
		if c.Not {
			sql = "NOT " + sql
		}
		parts, args = append(parts, sql), append(args, values...)
	}
	return strings.Join(parts, " AND "), args
}

func clause(c segment.Clause, from time.Time) (string, []any) {
	var args []any
	narrowed := func(sql, of, at string) string {
		if c.Of != "" && of != "" {
			sql += " AND " + of + " = ?"
			args = append(args, c.Of)
		}
		if !from.IsZero() {
			sql += " AND " + at + " >= ?"
			args = append(args, from)
		}
		return sql
	}
	switch c.Did {
	case segment.OnList:
		return "EXISTS (" + narrowed("SELECT FROM members m WHERE m.contact_id = c.id AND m.state = 'on'", "m.list_id", "m.on_at") + ")", args
	case segment.Bought:
		return "EXISTS (" + narrowed("SELECT FROM order_lines l JOIN "+strings.Replace(paidOrders, "WHERE", "ON o.id = l.order_id WHERE", 1), "l.variant_id", "o.paid_at") + ")", args
	case segment.Clicked:
		return "EXISTS (" + narrowed("SELECT FROM postings p WHERE p.contact_id = c.id AND p.letter_id IS NOT NULL AND p.clicked_at IS NOT NULL", "p.letter_id", "p.clicked_at") + ")", args
	case segment.Sent:
		return "EXISTS (" + narrowed("SELECT FROM postings p WHERE p.contact_id = c.id AND p.letter_id IS NOT NULL AND p.sent_at IS NOT NULL", "p.letter_id", "p.sent_at") + ")", args
	case segment.CameBy:
		return "EXISTS (" + narrowed("SELECT FROM members m WHERE m.contact_id = c.id AND m.source <> ''", "m.source", "m.asked_at") + ")", args
	case segment.Known:
		return "(" + narrowed("true", "", "c.first_at") + ")", args
	case segment.Ordered:
		return grouped(narrowed, "count(*)"), append(args, c.Least())
	case segment.Spent:
		return grouped(narrowed, "sum(o.total_minor - o.refunded_minor)"), append(args, c.Least())
	}
	return "false", nil
}

// grouped is the condition that something of a contact's paid orders comes to so much: asked
// of the orders once, and not of each contact.
func grouped(narrowed func(sql, of, at string) string, what string) string {
	return "(lower(c.email) IN (" + narrowed("SELECT lower(o.email) FROM orders o WHERE o.state = 'paid'", "", "o.paid_at") + " GROUP BY lower(o.email) HAVING " + what + " >= ?))"
}
