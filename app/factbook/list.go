package factbook

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"gorm.io/gorm"
)

// listCounted is how many goods of a list are counted, for all and for each thing that
// narrows it: beyond it is said that there are more.
const listCounted = 500

// facetValues is how many values of one thing are offered, the most frequent.
const facetValues = 12

// listKey is a list as it is looked at.
func listKey(p manuscript.Paged, v shelf.View) string {
	return fmt.Sprintf("%s %d %v %s", p.Shelf, p.Size, p.By, v)
}

// lists reads the pages of lists that pages show.
func (n named) lists(db *gorm.DB, reader *Reader, pages []Wanted) (map[string]facts.List, error) {
	out := map[string]facts.List{}
	var attributes map[string]goods.Attribute
	for _, p := range pages {
		for _, paged := range p.Names.Lists {
			i := slices.IndexFunc(n.Shelves, func(s store.Shelf) bool { return s.ID == paged.Shelf })
			key := listKey(paged, p.Who.View)
			if _, known := out[key]; known || i < 0 {
				continue
			}
			if attributes == nil {
				var err error
				if attributes, err = attributesOf(db); err != nil {
					return nil, err
				}
			}
			l, err := n.list(db, reader, n.Shelves[i], paged, p.Who.View, attributes)
			if err != nil {
				return nil, fmt.Errorf("read a list: %w", err)
			}
			out[key] = l
		}
	}
	return out, nil
}

func (n named) list(db *gorm.DB, reader *Reader, row store.Shelf, paged manuscript.Paged, view shelf.View, attributes map[string]goods.Attribute) (facts.List, error) {
	l := facts.List{View: view, Page: max(view.Page, 1)}
	s, err := ParseShelf(row)
	if err != nil {
		return l, err
	}
	at := Sight(n.shop().Zone, reader.Store.Now())
	from, fromArgs, err := standsOn(s, at)
	if err != nil {
		return l, err
	}
	ordered, err := store.BuildShelf(view.Order(s), at)
	if err != nil {
		return l, err
	}
	wanted, err := store.BuildShelf(shelf.Shelf{Rule: view.Narrow(paged.By, "", attributes)}, at)
	if err != nil {
		return l, err
	}
	where, args := from+" AND "+wanted.Where, slices.Concat(fromArgs, wanted.WhereArgs())
	sql := fmt.Sprintf("SELECT v.id%s ORDER BY %s LIMIT %d OFFSET %d", where, ordered.Order, paged.Size, (l.Page-1)*paged.Size)
	if err := db.Raw(sql, slices.Concat(args, ordered.OrderArgs())...).Scan(&l.Goods).Error; err != nil {
		return l, err
	}
	// What narrows the list does not narrow what its own values would leave.
	counts, err := counted(db, where, args, paged.By, attributes)
	if err != nil {
		return l, err
	}
	l.Total, l.More = min(counts.total, listCounted), counts.total > listCounted
	l.Pages = max((l.Total+paged.Size-1)/paged.Size, 1)
	if l.More && len(l.Goods) == paged.Size {
		l.Pages = max(l.Pages, l.Page+1) // how many there are is not counted
	}
	for _, by := range paged.By {
		of := counts
		if len(view.In[by]) > 0 {
			others, err := store.BuildShelf(shelf.Shelf{Rule: view.Narrow(paged.By, by, attributes)}, at)
			if err != nil {
				return l, err
			}
			if of, err = counted(db, from+" AND "+others.Where, slices.Concat(fromArgs, others.WhereArgs()), []string{by}, attributes); err != nil {
				return l, err
			}
		}
		if f := of.facet(by, view, attributes); len(f.Values) > 1 || len(view.In[by]) > 0 {
			l.Facets = append(l.Facets, f)
		}
	}
	return l, nil
}

// standsOn are the goods of a shelf, as SQL to which conditions can be added: a shelf of so
// many goods is those, however a visitor looks at it.
func standsOn(s shelf.Shelf, at shelf.Sight) (from string, args []any, err error) {
	q, err := store.BuildShelf(s, at)
	if s.Limit > 0 {
		return " FROM (SELECT v.* " + store.GoodsFrom + " WHERE " + q.Where + " ORDER BY " + q.Order + LimitOf(s.Limit) + ") v JOIN products p ON p.id = v.product_id WHERE true", q.Args, err
	}
	return " " + store.GoodsFrom + " WHERE " + q.Where, q.WhereArgs(), err
}

// counts are how many goods there are, and how many have each value of what narrows them.
type counts struct {
	total int
	rows  []valueCount
}

type valueCount struct {
	By    string
	Value store.JSON
	Goods int
}

// counted counts them by reading them once, as far as they are counted.
func counted(db *gorm.DB, where string, args []any, by []string, attributes map[string]goods.Attribute) (counts, error) {
	// Products are looked at only where something asks for them: each of the goods has one.
	category := "p.category"
	if bare := strings.Replace(where, store.GoodsFrom, "FROM variants v", 1); !strings.Contains(bare, "p.") && !slices.Contains(by, shelf.ByCategory) {
		where, category = bare, "''"
	}
	sql := strings.Builder{}
	fmt.Fprintf(&sql, "WITH base AS MATERIALIZED (SELECT v.attributes, "+category+" AS category, v.condition%s LIMIT %d) SELECT '' AS by, NULL::jsonb AS value, count(*) AS goods FROM base", where, listCounted+1)
	for _, name := range by {
		value := "attributes -> ?::text"
		switch name {
		case shelf.ByCategory:
			value = "to_jsonb(nullif(category, ''))"
		case shelf.ByCondition:
			value = "to_jsonb(condition)"
		default:
			if _, known := attributes[name]; !known {
				continue
			}
		}
		sql.WriteString(" UNION ALL SELECT ?::text, value, count(*) FROM (SELECT " + value + " AS value FROM base) x WHERE value IS NOT NULL GROUP BY 2")
		args = append(args, name)
		if strings.Contains(value, "?") {
			args = append(args, name)
		}
	}
	var c counts
	if err := db.Raw(sql.String(), args...).Scan(&c.rows).Error; err != nil {
		return c, fmt.Errorf("count a list: %w", err)
	}
	for _, r := range c.rows {
		if r.By == "" {
			c.total = r.Goods
		}
	}
	return c, nil
}

// facet is one thing by which a list is narrowed, with its most frequent values.
func (c counts) facet(by string, view shelf.View, attributes map[string]goods.Attribute) facts.Facet {
	f := facts.Facet{By: by, Label: attributes[by].Label, Counted: c.total <= listCounted}
	switch by {
	case shelf.ByCategory:
		f.Label = "Kind"
	case shelf.ByCondition:
		f.Label = "Condition"
	}
	for _, r := range c.rows {
		var v goods.Value
		if r.By != by || json.Unmarshal(r.Value, &v) != nil || v.String() == "" {
			continue
		}
		f.Values = append(f.Values, facts.FacetValue{Value: v.String(), Words: attributes[by].Words(v), Goods: r.Goods, Wanted: view.Wants(by, v.String())})
	}
	slices.SortStableFunc(f.Values, func(a, b facts.FacetValue) int { return cmp.Or(b.Goods-a.Goods, byValue(a.Value, b.Value)) })
	f.Values = f.Values[:min(len(f.Values), facetValues)]
	for _, gone := range view.In[by] { // what is wanted can be let go, even where nothing is left of it
		if !slices.ContainsFunc(f.Values, func(v facts.FacetValue) bool { return v.Value == gone }) {
			f.Values = append(f.Values, facts.FacetValue{Value: gone, Words: gone, Wanted: true})
		}
	}
	slices.SortStableFunc(f.Values, func(a, b facts.FacetValue) int { return byValue(a.Value, b.Value) })
	return f
}

// byValue orders numbers by size, and words by their letters.
func byValue(a, b string) int {
	x, errX := goods.ParseValue(a, goods.Number)
	y, errY := goods.ParseValue(b, goods.Number)
	if errX == nil && errY == nil {
		return x.Number.Cmp(y.Number)
	}
	return strings.Compare(a, b)
}

// attributesOf are those of the store, by name.
func attributesOf(db *gorm.DB) (map[string]goods.Attribute, error) {
	var rows []store.Attribute
	if err := db.Raw("SELECT * FROM attributes").Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the attributes: %w", err)
	}
	out := map[string]goods.Attribute{}
	for _, r := range rows {
		out[r.Name] = goods.Attribute{Name: r.Name, Label: r.Label, Type: goods.Type(r.Type), Unit: r.Unit}
	}
	return out, nil
}
