package checkout

import (
	"slices"
	"strconv"
	"strings"

	rules "chrysagon/core/checkout"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/pieces"
)

// Sale is what a checkout sells, resolved from its fields and the moment.
type Sale struct {
	Options []Option // of which one is bought; the first that can be had stands chosen
	Filled  bool     // goods of the page's lists are put in
	Listed  []Listed // those that can be, each up to so many
	Bumps   []Bump   // that can be had
	Most    int      // how many of an option can be bought at once
	Closed  string   // why nothing can be ordered; empty while it can
	Form    rules.Form
	List    string      // the list that who agrees in it joins; empty: none
	Ways    []order.Way // by which it can be paid; the first stands chosen
}

// Option is one thing that can be bought: a product, several of it, or a few together.
type Option struct {
	Words, Text string
	Product     goods.Product // the first of it
	Items       []offer.Item
	Gone        bool // something in it is sold out
}

// Listed is one of the goods on the page's lists.
type Listed struct {
	Product goods.Product
	Most    int
}

// Bump is an order bump. Its number is its place among those of the piece.
type Bump struct {
	Number  int // from 1
	Product goods.Product
	Text    string
}

// Field is the name under which a bump is ticked.
func (b Bump) Field() string {
	if b.Number == 1 {
		return "bump"
	}
	return "bump" + strconv.Itoa(b.Number)
}

// beside tells whether one more of it is left than what was put in from the lists.
func (b Bump) beside(puts []offer.Item) bool {
	pieces := 1
	for _, item := range puts {
		if item.ProductID == b.Product.ID {
			pieces += item.Quantity
		}
	}
	return b.Product.Has(pieces)
}

// Chosen is what a buyer has chosen of a sale.
type Chosen struct {
	Option   int          // index of Options
	Quantity int          // from 1
	Bumps    []int        // numbers, rising
	Puts     []offer.Item // goods of the page's lists, in their order
	Way      order.Way
}

// Sold are the goods of each thing that a checkout lets choose, or of the one that it
// sells, and those of its bumps.
func Sold(f m.Fields) (options [][]string, bumps []string) {
	add := func(list []string, id string) []string {
		if id == "" || slices.Contains(list, id) {
			return list
		}
		return append(list, id)
	}
	for _, item := range f.List("options") {
		var goods []string
		for _, name := range parts {
			goods = add(goods, item.Text(name))
		}
		if len(goods) > 0 {
			options = append(options, goods)
		}
	}
	if id := f.Text("product"); id != "" && len(options) == 0 {
		options = [][]string{{id}}
	}
	for _, item := range f.List("bumps") {
		bumps = add(bumps, item.Text("product"))
	}
	return options, bumps
}

// parts are the fields that name what belongs to an option.
var parts = []string{"product", "with", "also"}

// Resolve reads a checkout's fields. ok is false while no product is chosen.
func Resolve(c *pieces.Context, p m.Piece) (Sale, bool) {
	sale := Sale{Most: 1, Closed: c.Closed(), Form: Form(p.Fields), Options: options(c.Facts, p.Fields), Filled: Fills(p.Fields), Ways: Ways(c.Facts.Store, p.Fields)}
	if len(sale.Options) == 0 && !sale.Filled {
		return Sale{}, false
	}
	if l, ok := c.Facts.Mailings[p.Fields.Text("list")]; ok {
		sale.List, sale.Form.Consent = l.ID, Agreeing(sale.Form.Consent, l)
	}
	if sale.Filled {
		sale.Listed = sale.listed(c)
	}
	for i, item := range p.Fields.List("bumps") {
		b, has := c.Facts.Products[item.Text("product")]
		if has && !b.SoldOut() && !sale.has(b.ID) {
			sale.Bumps = append(sale.Bumps, Bump{i + 1, b, item.Text("text")})
		}
	}
	if p.Fields.Text("quantity") == "chosen" {
		sale.Most = sale.most()
	}
	if d, has := c.Deadline(p.Fields.Text("deadline")); has && p.Fields.Text("after") == "close" && sale.Closed == "" {
		if d.Passed(c.Moment) {
			sale.Closed = "Orders closed on " + d.Told() + "."
		}
	}
	if sale.Closed == "" && len(sale.Ways) == 0 {
		sale.Closed = "No payment can be taken here at the moment."
	}
	if sale.Closed == "" {
		sale.Closed = sale.soldOut()
	}
	return sale, true
}

// soldOut says that nothing of what is sold is left, or "".
func (s Sale) soldOut() string {
	switch {
	case len(s.Options) > 0 && !slices.ContainsFunc(s.Options, func(o Option) bool { return !o.Gone }):
		return "Sold out: the last " + s.Options[0].Product.Name + " has been sold."
	case len(s.Options) == 0 && len(s.Listed) == 0:
		return "Nothing that stands here is left."
	default:
		return ""
	}
}

// Fills tells whether goods of the page's lists are put into a checkout.
func Fills(f m.Fields) bool { return f.Text("fill") == "lists" }

// listed are the goods of the page's lists that can be put in: what is sold here by itself
// is in the order already.
func (s Sale) listed(c *pieces.Context) []Listed {
	var out []Listed
	for _, p := range c.Listed() {
		if n := many(p, 1, 0); n > 0 && !s.has(p.ID) {
			out = append(out, Listed{p, n})
		}
	}
	return out
}

// many is how many of a product can be bought at once, where each choice takes so many
// of it, and the least that is said.
func many(p goods.Product, each, least int) int {
	n := atOnce
	for n > least && !p.Has(n*each) {
		n--
	}
	return n
}

// options are what can be bought: those that the owner lets choose, else the one product.
func options(f facts.Facts, fields m.Fields) []Option {
	var out []Option
	for _, item := range fields.List("options") {
		count, err := strconv.Atoi(pieces.Or(item.Text("count"), "1"))
		if err != nil {
			count = 1
		}
		o := Option{Words: item.Text("words"), Text: item.Text("text")}
		for i, name := range parts {
			product, ok := f.Products[item.Text(name)]
			if !ok {
				continue
			}
			if len(o.Items) == 0 {
				o.Product = product
			}
			quantity := 1
			if i == 0 {
				quantity = count
			}
			o.put(product, quantity)
		}
		if len(o.Items) > 0 {
			out = append(out, o)
		}
	}
	if len(out) > 0 {
		return out
	}
	product, ok := f.Products[fields.Text("product")]
	if !ok {
		return nil
	}
	one := Option{Product: product}
	one.put(product, 1)
	return []Option{one}
}

// put adds goods to an option, each of them once.
func (o *Option) put(p goods.Product, quantity int) {
	if i := slices.IndexFunc(o.Items, func(item offer.Item) bool { return item.ProductID == p.ID }); i >= 0 {
		o.Items[i].Quantity += quantity
	} else {
		o.Items = append(o.Items, offer.Item{ProductID: p.ID, Quantity: quantity, Via: offer.Page})
	}
	at := slices.IndexFunc(o.Items, func(item offer.Item) bool { return item.ProductID == p.ID })
	o.Gone = o.Gone || !p.Has(o.Items[at].Quantity)
}

// Name is what an option is called: in the owner's words, else by its product.
func (o Option) Name() string { return pieces.Or(o.Words, o.Product.Name) }

// has tells whether a product is sold here by itself, so that it is no bump.
func (s Sale) has(id string) bool {
	return slices.ContainsFunc(s.Options, func(o Option) bool {
		return slices.ContainsFunc(o.Items, func(item offer.Item) bool { return item.ProductID == id })
	})
}

// atOnce is the most pieces that are sold in one order: a slip of the finger is none.
const atOnce = 20

// most is how many of an option can be bought at once, by what is left of its goods.
func (s Sale) most() int {
	most := 1
	for _, o := range s.Options {
		most = max(most, many(o.Product, o.Items[0].Quantity, 1))
	}
	return most
}

// Read is what a buyer has chosen, as the form names it. What is no longer to be had is
// not chosen: gone says so of what they had.
func (s Sale) Read(values map[string]string) (chosen Chosen, gone string) {
	first := slices.IndexFunc(s.Options, func(o Option) bool { return !o.Gone })
	chosen = Chosen{Option: max(first, 0), Quantity: 1, Way: chosenWay(s.Ways, values)}
	if n, err := strconv.Atoi(values["option"]); err == nil && n >= 1 && n <= len(s.Options) {
		if s.Options[n-1].Gone {
			gone = "“" + s.Options[n-1].Name() + "” is no longer to be had, so another choice stands here."
		} else {
			chosen.Option = n - 1
		}
	}
	if n, err := strconv.Atoi(values["quantity"]); err == nil {
		chosen.Quantity = min(max(n, 1), max(s.Most, 1))
	}
	chosen.Puts, gone = s.puts(values, gone)
	for n := 1; n <= MostBumps; n++ {
		b := Bump{Number: n}
		if values[b.Field()] == "" {
			continue
		}
		if slices.ContainsFunc(s.Bumps, func(have Bump) bool { return have.Number == n && have.beside(chosen.Puts) }) {
			chosen.Bumps = append(chosen.Bumps, n)
		} else {
			gone = "The add-on is no longer to be had, so it was taken off."
		}
	}
	return chosen, gone
}

// puts are the goods of lists that a form has. Of what is left there are fewer, or none,
// gone says so.
func (s Sale) puts(values map[string]string, gone string) ([]offer.Item, string) {
	var out []offer.Item
	known := 0
	for _, l := range s.Listed {
		asked, err := strconv.Atoi(values[pieces.PutField+l.Product.ID])
		if err != nil || asked < 1 {
			continue
		}
		known++
		if asked > l.Most && !l.Product.Has(asked) {
			gone = "Of " + l.Product.Name + " only " + strconv.Itoa(l.Most) + " are left, so that many stand in your order."
		}
		out = append(out, offer.Item{ProductID: l.Product.ID, Quantity: min(asked, l.Most), Via: offer.Page})
	}
	asked := 0
	for name, value := range values {
		if n, err := strconv.Atoi(value); strings.HasPrefix(name, pieces.PutField) && err == nil && n > 0 {
			asked++
		}
	}
	if s.Filled && asked > known {
		gone = "Something that you had put in is no longer to be had here, so it was taken out."
	}
	return out, gone
}

// Chooses tells whether a field of a form is one in which a buyer chooses, as [Sale.Read]
// reads them.
func Chooses(name string) bool {
	if name == "option" || name == "quantity" || name == "way" || strings.HasPrefix(name, pieces.PutField) {
		return true
	}
	for n := 1; n <= MostBumps; n++ {
		if name == (Bump{Number: n}).Field() {
			return true
		}
	}
	return false
}

// Stands is the form's choice as it is taken, by field: what is no longer to be had stands
// there no more.
func (s Sale) Stands(c Chosen) map[string]string {
	out := map[string]string{}
	if len(s.Options) > 1 {
		out["option"] = strconv.Itoa(c.Option + 1)
	}
	if s.Most > 1 {
		out["quantity"] = strconv.Itoa(c.Quantity)
	}
	for _, item := range c.Puts {
		out[pieces.PutField+item.ProductID] = strconv.Itoa(item.Quantity)
	}
	return out
}

// With is a choice with other bumps.
func (c Chosen) With(bumps ...int) Chosen {
	c.Bumps = bumps
	return c
}

// Took tells whether a bump is chosen.
func (c Chosen) Took(number int) bool { return slices.Contains(c.Bumps, number) }

// Cart is what the buyer of this sale orders.
func (s Sale) Cart(c Chosen) []offer.Item {
	var cart []offer.Item
	if len(s.Options) > 0 {
		for _, item := range s.Options[c.Option].Items {
			item.Quantity *= max(c.Quantity, 1)
			cart = append(cart, item)
		}
	}
	for _, put := range c.Puts {
		if i := slices.IndexFunc(cart, func(item offer.Item) bool { return item.ProductID == put.ProductID }); i >= 0 {
			cart[i].Quantity += put.Quantity
		} else {
			cart = append(cart, put)
		}
	}
	if len(cart) == 0 {
		return nil // an order bump is bought with something
	}
	for _, b := range s.Bumps {
		if c.Took(b.Number) {
			cart = append(cart, offer.Item{ProductID: b.Product.ID, Quantity: 1, Via: offer.Bump})
		}
	}
	return cart
}

// cart is what a checkout would order as its form stands.
func cart(c *pieces.Context, p m.Piece) []offer.Item {
	sale, ok := Resolve(c, p)
	if !ok || sale.Closed != "" {
		return nil
	}
	chosen, _ := sale.Read(c.Form.Values)
	return sale.Cart(chosen)
}

// formID is the ID of the form, by which fields of lists belong to it.
const formID = "order"

// filling is the order as the page's lists see it.
func filling(c *pieces.Context, p m.Piece) *pieces.Filling {
	if !Fills(p.Fields) {
		return nil
	}
	sale, ok := Resolve(c, p)
	if !ok || sale.Closed != "" {
		return nil
	}
	chosen, _ := sale.Read(c.Form.Values)
	out := &pieces.Filling{Form: formID}
	for _, l := range sale.Listed {
		put := pieces.Put{Product: l.Product, Most: l.Most}
		for _, item := range chosen.Puts {
			if item.ProductID == l.Product.ID {
				put.Quantity = item.Quantity
			}
		}
		out.Goods = append(out.Goods, put)
	}
	return out
}

// Carts are all that a buyer can order from where they stand without seeing the form
// again: each option, with any of the bumps.
func (s Sale) Carts(c Chosen) [][]offer.Item {
	if len(s.Options) == 0 {
		return s.withBumps(nil, c)
	}
	var carts [][]offer.Item
	for i, o := range s.Options {
		if !o.Gone {
			c.Option = i
			carts = s.withBumps(carts, c)
		}
	}
	return carts
}

// withBumps adds a choice with any of the bumps to carts.
func (s Sale) withBumps(carts [][]offer.Item, c Chosen) [][]offer.Item {
	for set := range 1 << len(s.Bumps) {
		c.Bumps = nil
		for j, b := range s.Bumps {
			if set>>j&1 == 1 {
				c.Bumps = append(c.Bumps, b.Number)
			}
		}
		if cart := s.Cart(c); cart != nil {
			carts = append(carts, cart)
		}
	}
	return carts
}

// Travels tells whether anything in a priced cart goes by parcel: the product, an
// order bump or a gift.
func Travels(f facts.Facts, q offer.Quote) bool { return !f.Collected && parcel(f, q) }

// parcel tells whether anything in a priced cart could go by parcel.
func parcel(f facts.Facts, q offer.Quote) bool {
	return slices.ContainsFunc(q.Lines, func(l offer.Line) bool { return f.Products[l.ProductID].Sent() })
}

// MayTravel tells whether anything could that is chosen without seeing the form again.
func (s Sale) MayTravel(c *pieces.Context, chosen Chosen) bool {
	if !slices.ContainsFunc(s.Ways, func(w order.Way) bool { return w != order.OnCollection }) {
		return false
	}
	if slices.ContainsFunc(s.Listed, func(l Listed) bool { return l.Product.Sent() }) {
		return true
	}
	return slices.ContainsFunc(s.Carts(chosen), func(cart []offer.Item) bool {
		q, err := c.Quote(cart...)
		return err == nil && parcel(c.Facts, q)
	})
}
