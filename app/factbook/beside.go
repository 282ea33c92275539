package factbook

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"gorm.io/gorm"
)

// besideFrom is on how many shelves a product is looked for, and besideShown how many goods
// beside it are shown at most: of a shelf of more than besideAmong goods the first of some
// of them, since a page that is drawn must not put a whole store in order.
const (
	besideFrom  = 200
	besideShown = 12
	besideAmong = 100
)

// besides puts what stands beside products, where shelves of pages are that, among what
// stands on shelves.
func (n named) besides(db *gorm.DB, reader *Reader, shelves []string, standing map[string]facts.Shelf) error {
	products := map[string]string{}
	for _, id := range shelves {
		if product, is := manuscript.Beside(id); is {
			products[product] = id
		}
	}
	if len(products) == 0 {
		return nil
	}
	found, err := n.beside(db, reader, keys(products))
	for product, s := range found {
		s.ID = products[product]
		standing[s.ID] = s
	}
	return err
}

// beside are the goods that stand beside products on their own shelves, by the product:
// those of the smallest shelf first, for it says most of what they have in common.
func (n named) beside(db *gorm.DB, reader *Reader, products []string) (map[string]facts.Shelf, error) {
	var rows []store.Shelf
	if err := db.Raw("SELECT id, name, shelf FROM shelves ORDER BY name, id LIMIT ?", besideFrom).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the shelves: %w", err)
	}
	at := Sight(n.shop().Zone, reader.Store.Now())
	rules := make([]shelf.Shelf, len(rows))
	for i, row := range rows {
		var err error
		if rules[i], err = ParseShelf(row); err != nil {
			return nil, err
		}
	}
	holds, err := holding(db, rules, at, products)
	if err != nil {
		return nil, err
	}
	first, err := beginnings(db, rules, at, holds)
	if err != nil {
		return nil, err
	}
	out := map[string]facts.Shelf{}
	for _, product := range products {
		own := holds[product]
		slices.SortStableFunc(own, func(a, b int) int { return len(first[a]) - len(first[b]) })
		s := facts.Shelf{Name: "From its shelves"}
		for _, i := range own {
			if c := rules[i].Changes(at); !c.IsZero() && (s.Changes.IsZero() || c.Before(s.Changes)) {
				s.Changes = c
			}
			for _, id := range first[i] {
				if id != product && len(s.Goods) < besideShown && !slices.Contains(s.Goods, id) {
					s.Goods = append(s.Goods, id)
				}
			}
		}
		out[product] = s
	}
	return out, nil
}

// holding are the shelves on which products stand, by the product, by one statement.
func holding(db *gorm.DB, rules []shelf.Shelf, at shelf.Sight, products []string) (map[string][]int, error) {
	var parts []string
	var args []any
	for i, s := range rules {
		from, of, err := standsOn(s, at)
		if err != nil {
			return nil, err
		}
		parts = append(parts, fmt.Sprintf("SELECT %d AS i, v.id%s AND v.id = ANY(?::text[])", i, from))
		args = append(append(args, of...), store.TextArray(products))
	}
	out := map[string][]int{}
	if len(parts) == 0 {
		return out, nil
	}
	var found []struct {
		I  int
		ID string
	}
	if err := db.Raw(strings.Join(parts, " UNION ALL ")+" ORDER BY 1", args...).Scan(&found).Error; err != nil {
		return nil, fmt.Errorf("look for the shelves of goods: %w", err)
	}
	for _, r := range found {
		out[r.ID] = append(out[r.ID], r.I)
	}
	return out, nil
}

// beginnings are the first goods of the shelves that hold something, by one statement.
func beginnings(db *gorm.DB, rules []shelf.Shelf, at shelf.Sight, holds map[string][]int) (map[int][]string, error) {
	out := map[int][]string{}
	var parts []string
	var args []any
	held := slices.Concat(slices.Collect(maps.Values(holds))...)
	for i, s := range rules {
		if !slices.Contains(held, i) {
			continue
		}
		q, err := store.BuildShelf(s, at)
		if err != nil {
			return nil, err
		}
		from, of, err := standsOn(s, at)
		if err != nil {
			return nil, err
		}
		if s.Limit == 0 {
			from += fmt.Sprintf(" ORDER BY v.id LIMIT %d", besideAmong)
		}
		parts = append(parts, fmt.Sprintf("(SELECT %d AS i, ARRAY(SELECT v.id FROM (SELECT v.id%s) k JOIN variants v ON v.id = k.id JOIN products p ON p.id = v.product_id ORDER BY %s LIMIT %d) AS goods)", i, from, q.Order, besideShown+1))
		args = slices.Concat(args, of, q.OrderArgs())
	}
	if len(parts) == 0 {
		return out, nil
	}
	var rows []struct {
		I     int
		Goods store.StringList
	}
	if err := db.Raw(strings.Join(parts, " UNION ALL "), args...).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("pick the goods beside others: %w", err)
	}
	for _, r := range rows {
		out[r.I] = r.Goods
	}
	return out, nil
}
