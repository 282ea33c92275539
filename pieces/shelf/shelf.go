// Package shelf shows the goods that stand on a shelf, each with its price.
package shelf

import (
	"embed"
	"fmt"
	"html/template"
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
	Kind: m.Kind{Name: "shelf", Title: "Shelf of goods", Traits: m.Traits{Acts: true, Stands: true}, Fields: []m.Field{
		{Name: "shelf", Label: "Goods of", Type: m.Shelf},
		{Name: "show", Label: "show at most", Type: m.Choice, Default: "8", Options: []m.Option{
			{Value: "4", Label: "4"}, {Value: "8", Label: "8"}, {Value: "12", Label: "12"}, {Value: "24", Label: "24"}, {Value: "60", Label: "60"},
		}},
		{Name: "as", Label: "as", Type: m.Choice, Default: "grid", Options: []m.Option{{Value: "grid", Label: "a grid"}, {Value: "slides", Label: "a row that scrolls"}}},
		{Name: "empty", Label: "When it is empty", Type: m.Line, Empty: "Say what a visitor reads when nothing stands here"},
	}},
	Files: files, Live: true,
	View: view,
	Tell: tell,
	Lists: func(c *pieces.Context, p m.Piece) []string {
		var ids []string
		for _, product := range shown(c, p) {
			ids = append(ids, product.ID)
		}
		return ids
	},
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
	most, err := strconv.Atoi(pieces.Or(p.Fields.Text("show"), "8"))
	if err != nil {
		most = 8
	}
	var out []goods.Product
	for _, id := range s.Goods[:min(most, len(s.Goods))] {
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
	if !ok || (len(list) == 0 && p.Fields.Text("empty") == "") {
		return nil
	}
	order := ""
	for _, one := range list {
		if one.Put != nil {
			order = c.Filled().Form
		}
	}
	return map[string]any{"Order": order, "Cards": list, "Empty": p.Fields.Text("empty"), "Slides": p.Fields.Text("as") == "slides", "Back": c.Icon("chevron-left"), "On": c.Icon("chevron-right"), "Name": s.Name}
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
	t := pieces.Say("building-store", "Shelf", " ", s.Name, fmt.Sprintf(" — %d goods now, %d of those shown lead to a page that sells them", len(s.Goods), sold))
	t.Trouble = len(list) == 0
	return t
}
