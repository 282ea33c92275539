// Package shelf shows the goods that stand on a shelf, each with its price.
package shelf

import (
	"embed"
	"fmt"
	"html/template"
	"slices"
	"strconv"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the shelf.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "shelf", Role: m.Goods, Title: "Shelf of goods", Traits: m.Traits{Priced: true, Acts: true, Stands: true, Pages: Paged}, Fields: []m.Field{
		{Name: "shelf", Label: "Goods of", Type: m.Shelf},
		{Name: "show", Label: "show at most", Type: m.Choice, Default: "8", Options: []m.Option{
			{Value: "4", Label: "4"}, {Value: "8", Label: "8"}, {Value: "12", Label: "12"}, {Value: "24", Label: "24"}, {Value: "60", Label: "60"},
		}},
		{Name: "as", Label: "as", Type: m.Choice, Default: "grid", Options: []m.Option{{Value: "grid", Label: "a grid"}, {Value: "slides", Label: "a row that scrolls"}}},
		{Name: "rest", Label: "and the rest", Type: m.Choice, Default: "no", Options: []m.Option{{Value: "no", Label: "is not shown"}, {Value: "pages", Label: "in pages of as many"}}},
		{Name: "by", Label: "Visitors narrow it by", Type: m.Attribute},
		{Name: "by2", Label: "and by", Type: m.Attribute},
		{Name: "by3", Label: "and by", Type: m.Attribute},
		{Name: "empty", Label: "When it is empty", Type: m.Line, Empty: "Say what a visitor reads when nothing stands here"},
	}},
	Files: files, Live: true,
	View: view,
	Tell: tell,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		list, _, ok := cards(c, p)
		if !ok {
			return nil
		}
		var out []pieces.Block
		for _, one := range list {
			if !one.SoldOut {
				out = append(out, pieces.Block{As: pieces.Card, Text: one.Name, Href: one.Href, Picture: one.Picture, Price: &one.Line.Price, Struck: one.Line.Struck})
			}
		}
		return out
	},
	Lists: func(c *pieces.Context, p m.Piece) []string {
		var ids []string
		for _, product := range shown(c, p) {
			ids = append(ids, product.ID)
		}
		// What was put in from another page of the list stands on it all the same.
		for _, id := range c.Facts.Shelves[p.Fields.Text("shelf")].Named {
			if c.Form.Values[pieces.PutField+id] != "" && !slices.Contains(ids, id) {
				ids = append(ids, id)
			}
		}
		return ids
	},
}

// Paged is how a shelf is shown in pages; false: it is not.
func Paged(f m.Fields) (m.Paged, bool) {
	p := m.Paged{Shelf: f.Text("shelf"), Size: size(f)}
	for _, name := range []string{"by", "by2", "by3"} {
		if by := f.Text(name); by != "" && !slices.Contains(p.By, by) {
			p.By = append(p.By, by)
		}
	}
	return p, f.Text("rest") == "pages" && p.Shelf != ""
}

// size is how many goods it shows at most, or on a page.
func size(f m.Fields) int {
	n, err := strconv.Atoi(pieces.Or(f.Text("show"), "8"))
	if err != nil {
		return 8
	}
	return n
}

type card struct {
	ID, Name string
	Line     facts.ShownLine
	Picture  *facts.Picture
	Note     string
	SoldOut  bool
	Href     template.URL // of the live page that sells it; empty: none does
	Put      *pieces.Put  // how many of it are in the page's order; nil: it is not put into one here
}

// shown are the goods of a shelf that a piece shows, in their order.
func shown(c *pieces.Context, p m.Piece) []goods.Product {
	s := c.Facts.Shelves[p.Fields.Text("shelf")]
	ids := s.Goods[:min(size(p.Fields), len(s.Goods))]
	if l := listed(c, p); l != nil {
		ids = l.Goods
	}
	var out []goods.Product
	for _, id := range ids {
		if product, ok := c.Facts.Products[id]; ok {
			out = append(out, product)
		}
	}
	return out
}

func cards(c *pieces.Context, p m.Piece) ([]card, facts.Shelf, bool) {
	s, ok := c.Facts.Shelves[p.Fields.Text("shelf")]
	if !ok {
		return nil, s, false
	}
	c.Holds(s.Changes)
	order := c.Filled()
	var out []card
	for _, product := range shown(c, p) {
		id := product.ID
		q, err := c.Show(offer.Item{ProductID: id, Quantity: 1, Via: offer.Page})
		if err != nil || len(q.Lines) == 0 {
			continue
		}
		one := card{ID: id, Name: product.Name, Line: q.Lines[0], SoldOut: product.SoldOut()}
		if pic, ok := c.Facts.Pictures[product.PictureID]; ok {
			one.Picture = &pic
		}
		if href, ok := c.Href(string(target.Product) + ":" + id); ok {
			one.Href = href
		}
		if state := product.State(); state != "new" {
			one.Note = string(state)
		}
		// Goods that stand on two lists are put in at the first of them.
		if put, ok := order.Of(id); ok && (c.Proof || c.Once(put.Field())) {
			one.Put = &put
		}
		out = append(out, one)
	}
	return out, s, true
}

func view(c *pieces.Context, p m.Piece) any {
	list, s, ok := cards(c, p)
	l := listed(c, p)
	if !ok || (len(list) == 0 && l == nil && p.Fields.Text("empty") == "") {
		return nil
	}
	order := ""
	var elsewhere []pieces.Put // on other pages of the list, and in the order
	if b := c.Filled(); b != nil {
		for _, put := range b.Goods {
			switch i := slices.IndexFunc(list, func(one card) bool { return one.ID == put.Product.ID }); {
			case i >= 0 && list[i].Put != nil:
				order = b.Form
			case i < 0 && l != nil && put.Quantity > 0 && slices.Contains(s.Named, put.Product.ID):
				order, elsewhere = b.Form, append(elsewhere, put)
			}
		}
	}
	shown := map[string]any{
		"Order": order, "Elsewhere": elsewhere, "Cards": list, "Empty": pieces.Or(p.Fields.Text("empty"), "Nothing of this list is like that."), "Slides": p.Fields.Text("as") == "slides",
		"Back": c.Icon("chevron-left"), "On": c.Icon("chevron-right"), "Name": s.Name,
	}
	if l != nil {
		shown["List"] = looked(c, p, l, order)
	}
	return shown
}

func tell(c *pieces.Context, p m.Piece) pieces.Telling {
	list, s, ok := cards(c, p)
	if !ok {
		return pieces.Lack("building-store", "Shelf", "needs to be chosen")
	}
	sold := 0
	for _, one := range list {
		if one.Href != "" {
			sold++
		}
	}
	said := fmt.Sprintf(" — %d goods now, %d of those shown lead to a page that sells them", len(s.Goods), sold)
	if l := listed(c, p); l != nil {
		said = " — " + l.words() + " in pages of " + strconv.Itoa(size(p.Fields))
	}
	t := pieces.Say("building-store", "Shelf", " ", s.Name, said)
	t.Trouble = len(list) == 0
	return t
}
