package pieces

import (
	"slices"
	"strings"

	"chrysagon/core/goods"
	"chrysagon/core/offer"
)

// Filling is the checkout of a page as its lists see it: their goods are put into it.
type Filling struct {
	Form  string // ID of the form in which it is ordered
	Goods []Put  // that can be put in, as they stand
}

// Put is one of the goods of a list, and how many of it are in an order.
type Put struct {
	Product  goods.Product
	Quantity int
	Most     int // that can be had
}

// Field is the name under which a form has the quantity.
func (p Put) Field() string { return PutField + p.Product.ID }

// PutField begins the names of the fields for goods of lists; their IDs follow.
const PutField = "put:"

// PutsIn are the IDs of the goods that a form has put in, at most as many as an order has
// lines.
func PutsIn(values map[string]string) []string {
	var out []string
	for name, n := range values {
		if id, is := strings.CutPrefix(name, PutField); is && n != "" && n != "0" && len(id) <= 40 && len(out) < offer.MaxLines {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}

// Of is how one of the goods stands in the order; false: it cannot be put in.
func (b *Filling) Of(id string) (Put, bool) {
	if b == nil {
		return Put{}, false
	}
	i := slices.IndexFunc(b.Goods, func(p Put) bool { return p.Product.ID == id })
	if i < 0 {
		return Put{}, false
	}
	return b.Goods[i], true
}

// Listed are the goods of the page's lists of which anything is known, in their order.
func (c *Context) Listed() []goods.Product {
	if c.Lists == nil {
		return nil
	}
	var out []goods.Product
	for _, id := range c.Lists() {
		if p, known := c.Facts.Products[id]; known {
			out = append(out, p)
		}
	}
	return out
}

// Filled is the checkout into which goods of the page's lists are put; nil: there is none.
func (c *Context) Filled() *Filling {
	if c.Filling == nil {
		return nil
	}
	return c.Filling()
}
