package factbook

import (
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
const listCounted = 2000

// facetValues is how many values of one thing are offered, the most frequent.
const facetValues = 12

// listKey is a list as it is looked at.
func listKey(p manuscript.Paged, v shelf.View) string {
	return fmt.Sprintf("%s %d %v %s", p.Shelf, p.Size, p.By, v)
}

// lists reads the pages of lists that pages show.
func (n named) lists(db *gorm.DB, reader *Reader, pages []Wanted) (map[string]facts.List, error) {
	out := map[string]facts.List{}
	for _, p := range pages {
		for _, paged := range p.Names.Lists {
			i := slices.IndexFunc(n.Shelves, func(s store.Shelf) bool { return s.ID == paged.Shelf })
			key := listKey(paged, p.Who.View)
			if _, known := out[key]; known || i < 0 {
				continue
			}
			l, err := n.list(db, reader, n.Shelves[i], paged, p.Who.View)
			if err != nil {
				return nil, fmt.Errorf("read a list: %w", err)
			}
			out[key] = l
		}
	}
	return out, nil
}

func (n named) list(db *gorm.DB, reader *Reader, row store.Shelf, paged manuscript.Paged, view shelf.View) (facts.List, error) {
	l := facts.List{View: view, Page: max(view.Page, 1)}
	s, err := ParseShelf(row)
	if err != nil {
		return l, err
	}
	attributes, err := attributesOf(db)
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
	var found struct {
		Goods store.StringList
		Total int
	}
	sql := fmt.Sprintf("SELECT ARRAY(SELECT v.id%s ORDER BY %s LIMIT %d OFFSET %d) AS goods, (SELECT count(*) FROM (SELECT 1%s LIMIT %d) x) AS total",
		where, ordered.Order, paged.Size, (l.Page-1)*paged.Size, where, listCounted+1)
	all := slices.Concat(args, ordered.Args[len(ordered.WhereArgs()):], args)
	if err := db.Raw(sql, all...).Scan(&found).Error; err != nil {
		return l, err
	}
	l.Goods, l.Total, l.More = found.Goods, min(found.Total, listCounted), found.Total > listCounted
	l.Pages = max((l.Total+paged.Size-1)/paged.Size, 1)
	if l.More && len(l.Goods) == paged.Size {
		l.Pages = max(l.Pages, l.Page+1) // how many there are is not counted
	}
	for _, by := range paged.By {
		f, err := n.facet(db, s, at, paged, view, by, attributes)
		if err != nil {
			return l, err
		}
		if len(f.Values) > 1 || len(view.In[by]) > 0 {
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

// facet counts what a list would be narrowed to by each value of one thing, beside what
// else narrows it.
func (n named) facet(db *gorm.DB, s shelf.Shelf, at shelf.Sight, paged manuscript.Paged, view shelf.View, by string, attributes map[string]goods.Attribute) (facts.Facet, error) {
	f := facts.Facet{By: by, Label: attributes[by].Label}
	value, args := "v.attributes -> ?::text", []any{by}
	switch by {
	case shelf.ByCategory:
		f.Label, value, args = "Kind", "to_jsonb(p.category)", nil
	case shelf.ByCondition:
		f.Label, value, args = "Condition", "to_jsonb(v.condition)", nil
	default:
		if _, known := attributes[by]; !known {
			return f, nil
		}
	}
	from, fromArgs, err := standsOn(s, at)
	if err != nil {
		return f, err
	}
	others, err := store.BuildShelf(shelf.Shelf{Rule: view.Narrow(paged.By, by, attributes)}, at)
	if err != nil {
		return f, err
	}
	var rows []struct {
		Value store.JSON
		Goods int
	}
	sql := fmt.Sprintf(`SELECT value, count(*) AS goods FROM (SELECT %s AS value%s AND %s LIMIT %d) x WHERE value IS NOT NULL GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT %d`,
		value, from, others.Where, listCounted, facetValues)
	if err := db.Raw(sql, slices.Concat(args, fromArgs, others.WhereArgs())...).Scan(&rows).Error; err != nil {
		return f, err
	}
	for _, r := range rows {
		var v goods.Value
		if json.Unmarshal(r.Value, &v) != nil || v.String() == "" {
			continue
		}
		words := v.String()
		if unit := attributes[by].Unit; unit != "" {
			words += " " + unit
		}
		f.Values = append(f.Values, facts.FacetValue{Value: v.String(), Words: words, Goods: r.Goods, Wanted: view.Wants(by, v.String())})
	}
	for _, gone := range view.In[by] { // what is wanted can be let go, even where nothing is left of it
		if !slices.ContainsFunc(f.Values, func(v facts.FacetValue) bool { return v.Value == gone }) {
			f.Values = append(f.Values, facts.FacetValue{Value: gone, Words: gone, Wanted: true})
		}
	}
	slices.SortStableFunc(f.Values, func(a, b facts.FacetValue) int { return byValue(a.Value, b.Value) })
	return f, nil
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
