package assortment

import (
	"context"
	"fmt"

	"chrysagon/core/money"
	"chrysagon/store"
)

// soldDays is over how many days what was sold is told.
const soldDays = 90

// Sold is what one of the goods sold of late, less what went back.
type Sold struct {
	Days    int // over which it is told
	Units   int
	Revenue money.Money  // paid for them, with the tax in it
	Margin  *money.Money // of that, without tax, what is left beyond their cost; nil: the cost is not known
	Percent int          // margin of the revenue without tax
	Lasts   int          // days for which the stock lasts at that pace; -1: nobody can say
}

// sold reads what goods sold of late.
func (g *Assortment) sold(ctx context.Context, rows []GoodsRow, currency string) (map[string]Sold, error) {
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	var found []struct {
		VariantID           string
		Units               int
		Revenue, Net, Spent int64
	}
	err := g.Store.On(ctx).Raw(`SELECT l.variant_id, sum(l.quantity - coalesce(b.units, 0)) AS units,
			sum(l.price_minor * l.quantity - l.off_minor + CASE WHEN p.tax_included THEN 0 ELSE l.tax_minor END - coalesce(b.amount, 0)) AS revenue,
			sum(l.price_minor * l.quantity - l.off_minor - CASE WHEN p.tax_included THEN l.tax_minor ELSE 0 END - coalesce(b.amount - b.tax, 0)) AS net,
			sum((l.quantity - coalesce(b.units, 0)) * coalesce(v.cost_minor, 0)) AS spent
		FROM order_lines l JOIN payments p ON p.id = l.payment_id AND p.state = 'charged' AND p.settled_at >= ? JOIN variants v ON v.id = l.variant_id
		LEFT JOIN LATERAL (SELECT sum(r.quantity) AS units, sum(r.amount_minor) AS amount, sum(r.tax_minor) AS tax FROM refund_lines r JOIN refund_parts t USING (refund_id, payment_id)
			WHERE r.payment_id = l.payment_id AND r.position = l.position AND t.state <> 'refused') b ON true
		WHERE l.variant_id = ANY(?::text[]) GROUP BY 1`, g.Store.Now().AddDate(0, 0, -soldDays), store.TextArray(ids)).Scan(&found).Error
	if err != nil {
		return nil, fmt.Errorf("read what goods sold: %w", err)
	}
	out := map[string]Sold{}
	for _, r := range rows {
		s := Sold{Days: soldDays, Revenue: money.Of(0, currency), Lasts: -1}
		for _, f := range found {
			if f.VariantID != r.ID {
				continue
			}
			s.Units, s.Revenue = f.Units, money.Of(f.Revenue, currency)
			if r.Cost != nil {
				kept := money.Of(f.Net-f.Spent, currency)
				s.Margin = &kept
				if f.Net > 0 {
					s.Percent = int((kept.Minor*200 + f.Net) / (2 * f.Net))
				}
			}
		}
		if s.Units > 0 && r.Form != "digital" {
			s.Lasts = max(r.Stock, 0) * soldDays / s.Units
		}
		out[r.ID] = s
	}
	return out, nil
}
