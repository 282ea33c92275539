package publishing

import (
	"cmp"
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"chrysagon/app/drafts"
	"chrysagon/core/check"
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/store"
)

// Cause is what the launch check finds of some of the goods for which the page of a
// product stands.
type Cause struct {
	check.Finding        // as it was found of the first of them, in words that fit them all
	Goods         int    // of which it was found
	Some          []Good // the first of them, by name
}

// More is how many goods of a cause are not named.
func (c Cause) More() int { return c.Goods - len(c.Some) }

// Good is one of the goods where it is told of.
type Good struct{ ID, ProductID, Name string }

// OverGoods is what the launch check finds of all goods for which the page of a product
// stands.
type OverGoods struct {
	Total, Failing int // goods; those of which something more than a notice was found
	Causes         []Cause
}

// someOf is how many goods of each cause are named, and goodsAtOnce how many are read
// together: enough to spare statements, and little enough to tell how far it is.
const (
	someOf      = 8
	goodsAtOnce = 100
)

// CheckGoods runs the launch check on the page of a product, as it stands for each of the
// goods, and puts what fails together by its cause. What is found of the page itself,
// alike for all goods, is left to the check of the page. told hears how far it is.
func (publisher *Publisher) CheckGoods(ctx context.Context, pageID string, told func(done, total int)) (OverGoods, error) {
	d, err := publisher.Drafts.Draft(ctx, pageID)
	if err != nil {
		return OverGoods{}, err
	}
	if d.Purpose != purpose.Product {
		return OverGoods{}, refusal.Of(refusal.ErrInvalid, "“%s” stands for itself and not for goods.", d.Name)
	}
	var out OverGoods
	if out.Total, err = publisher.Goods(ctx); err != nil {
		return out, err
	}
	codes, err := publisher.codes(ctx, d)
	if err != nil {
		return out, err
	}
	found, done := causes{}, 0
	var grave [][]string // of each of the goods the causes that are more than a notice
	for after := ""; ; {
		var rows []struct {
			Good
			Address string
		}
		err := publisher.Store.On(ctx).Raw("SELECT v.id, v.product_id, v.address, "+store.GoodsName+" AS name "+store.GoodsFrom+" WHERE "+unwritten+" AND v.id > ? ORDER BY v.id LIMIT ?", after, goodsAtOnce).Scan(&rows).Error
		if err != nil {
			return out, fmt.Errorf("read goods to check: %w", err)
		}
		if len(rows) == 0 {
			break
		}
		list := make([]drafts.Draft, len(rows))
		for i, r := range rows {
			list[i] = d.For(manuscript.Good{ID: r.ID, Name: r.Name}, r.Address, publisher.Render.Registry.Schema())
		}
		read, err := publisher.factsOf(ctx, list)
		if err != nil {
			return out, err
		}
		for i, one := range list {
			grave = append(grave, found.add(rows[i].Good, publisher.check(one, read[i], 0, nil, codes)))
		}
		after, done = rows[len(rows)-1].ID, done+len(rows)
		told(done, max(done, out.Total))
	}
	out.Total = done
	found.ofPage(done)
	for _, keys := range grave {
		if slices.ContainsFunc(keys, func(key string) bool { return found[key] != nil }) {
			out.Failing++
		}
	}
	out.Causes = found.told()
	return out, nil
}

// causes gathers findings by what is alike in them.
type causes map[string]*Cause

// thisProduct stands where findings name the product, so that they fit all goods of a cause.
const thisProduct = "this product"

// gravities are from the gravest on.
var gravities = []check.Gravity{check.Stops, check.Mend, check.Notice}

var numbers = regexp.MustCompile(`\d[\d.,]*`)

// add takes what was found of one of the goods, and answers with the causes of it that
// are more than a notice.
func (c causes) add(g Good, findings []check.Finding) (grave []string) {
	seen := map[string]bool{}
	for _, f := range findings {
		f.What = words.Begin(strings.ReplaceAll(strings.ReplaceAll(f.What, "“"+g.Name+"”", thisProduct), g.Name, thisProduct))
		key := fmt.Sprint(f.Gravity, f.PieceID, numbers.ReplaceAllString(f.What, "#"))
		if seen[key] {
			continue
		}
		seen[key] = true
		if f.Gravity != check.Notice {
			grave = append(grave, key)
		}
		one := c[key]
		if one == nil {
			one = &Cause{Finding: f}
			c[key] = one
		}
		one.Goods++
		one.Some = append(one.Some, g)
		slices.SortFunc(one.Some, func(a, b Good) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.ID, b.ID)) })
		one.Some = one.Some[:min(len(one.Some), someOf)]
	}
	return grave
}

// ofPage leaves out what is no matter of goods: what was found of all of them and names
// none.
func (c causes) ofPage(total int) {
	for key, one := range c {
		if one.Goods == total && total > 1 && !strings.Contains(strings.ToLower(one.What), thisProduct) {
			delete(c, key)
		}
	}
}

// told are the causes, the gravest and most frequent first.
func (c causes) told() []Cause {
	out := make([]Cause, 0, len(c))
	for _, one := range c {
		out = append(out, *one)
	}
	slices.SortFunc(out, func(a, b Cause) int {
		return cmp.Or(cmp.Compare(slices.Index(gravities, a.Gravity), slices.Index(gravities, b.Gravity)), cmp.Compare(b.Goods, a.Goods), cmp.Compare(a.What, b.What))
	})
	return out
}
