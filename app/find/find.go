// Package find finds what the owner looks for, and what can be chosen in a slip.
package find

import (
	"context"
	"fmt"
	"strings"

	"chrysagon/app/assortment"
	"chrysagon/app/orders"
	"chrysagon/store"
)

// Finder finds.
type Finder struct {
	Goods *assortment.Assortment
	Store *store.Store
}

// Spot is something of the store that a word leads to.
type Spot struct {
	Kind string // page, product, SKU, offer, shelf, order, buyer, picture
	Name string
	More string // what tells it from others of its name
	Path string // in the studio
	Do   string // what it does where one is, instead of leading anywhere
}

// foundOfKind is how many of each kind a search shows.
const foundOfKind = 6

// Find looks for pages, goods, offers, shelves and pictures by words of
// their names, those that begin so first.
func (f *Finder) Find(ctx context.Context, question string) ([]Spot, error) {
	question = strings.TrimSpace(question)
	if question == "" {
		return nil, nil
	}
	var out []Spot
	err := f.Store.On(ctx).Raw(`
		(SELECT 'page'::text AS kind, p.name, c.name || CASE WHEN p.aside_at IS NULL THEN '' ELSE ', set aside' END AS more, '/pages/' || p.id AS path FROM pages p JOIN campaigns c ON c.id = p.campaign_id
			WHERE p.name ILIKE @q OR p.address ILIKE @q OR p.title ILIKE @q ORDER BY (p.name ILIKE @begins) DESC, p.name LIMIT @most)
		UNION ALL (SELECT 'product', p.name, p.category, '/goods/' || p.id FROM products p WHERE p.name ILIKE @q LIMIT @most)
		UNION ALL (SELECT 'offer', o.name, ''::text, '/offers' || chr(63) || 'offer=' || o.id FROM offers o WHERE o.name ILIKE @q ORDER BY o.name LIMIT @most)
		UNION ALL (SELECT 'shelf', s.name, '', '/shelves' || chr(63) || 'shelf=' || s.id FROM shelves s WHERE s.name ILIKE @q ORDER BY s.name LIMIT @most)
		UNION ALL (SELECT 'SKU', v.sku, p.name || CASE WHEN v.label = '' THEN '' ELSE ', ' || v.label END, '/goods/' || p.id FROM variants v JOIN products p ON p.id = v.product_id WHERE v.sku ILIKE @begins ORDER BY v.sku LIMIT @most)
		UNION ALL (SELECT 'order', coalesce(o.number::text, 'being paid for'), o.name, '/orders/' || o.id FROM orders o WHERE o.state IN ('paid', 'paying', 'awaited')
			AND (o.number::text = @is OR o.name ILIKE @q OR o.email ILIKE @q) ORDER BY `+orders.OrderAt+` DESC LIMIT @most)
		UNION ALL (SELECT 'buyer', (array_agg(o.name ORDER BY o.paid_at DESC))[1], lower(o.email), '/orders' || chr(63) || 'q=' || lower(o.email) FROM orders o WHERE o.state = 'paid'
			AND (o.name ILIKE @q OR o.email ILIKE @q) GROUP BY lower(o.email) ORDER BY max(o.paid_at) DESC LIMIT @most)
		UNION ALL (SELECT 'picture', p.name, p.alt, '/pictures#picture-' || p.id FROM pictures p WHERE p.name ILIKE @q OR p.alt ILIKE @q ORDER BY p.name LIMIT @most)`,
		map[string]any{"q": store.Pattern(question), "begins": store.Pattern(question)[1:], "is": strings.TrimPrefix(question, "#"), "most": foundOfKind}).Scan(&out).Error
	if err != nil {
		return nil, fmt.Errorf("find %q: %w", question, err)
	}
	return out, nil
}
