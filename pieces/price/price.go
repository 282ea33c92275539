// Package price shows what a product costs at the page's moment: list price,
// promotional price and saving, all from the one quote.
package price

import (
	"embed"
	"fmt"
	"strconv"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the price.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "price", Role: m.Cost, Title: "Price", Traits: m.Traits{Priced: true, Prices: true}, Fields: []m.Field{
		{Name: "product", Label: "Price of", Type: m.Product},
		{Name: "saving", Label: "show the saving in", Type: m.Choice, Default: "both", Options: []m.Option{
			{Value: "both", Label: "money and percent"}, {Value: "money", Label: "money"},
			{Value: "percent", Label: "percent"}, {Value: "none", Label: "nothing"},
		}},
	}},
	Files: files, Live: true,
	View: view,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		s, _, ok := compute(c, p)
		if !ok {
			return nil
		}
		return []pieces.Block{{As: pieces.Cost, Text: s.Name, Second: s.Saving, Price: &s.Line.Price, Struck: s.Line.Struck}}
	},
	Tell: tell,
}

type shown struct {
	Name    string
	Line    facts.ShownLine
	Saving  string
	SoldOut bool
	Left    int
}

func compute(c *pieces.Context, p m.Piece) (shown, facts.Shown, bool) {
	product, ok := c.Facts.Products[p.Fields.Text("product")]
	if !ok {
		return shown{}, facts.Shown{}, false
	}
	q, err := c.Show(offer.Item{ProductID: product.ID, Quantity: 1, Via: c.Via()})
	if err != nil {
		return shown{}, facts.Shown{}, false
	}
	s := shown{Name: product.Name, Line: q.Lines[0], SoldOut: product.SoldOut(), Left: product.Stock}
	if s.Line.Struck == nil {
		return s, q, true
	}
	saved := money.Of(s.Line.Struck.Minor-s.Line.Price.Minor, q.Total.Currency)
	percent := strconv.Itoa(money.SavingPercent(*s.Line.Struck, s.Line.Price)) + "%"
	switch pieces.Or(p.Fields.Text("saving"), "both") {
	case "both":
		s.Saving = fmt.Sprintf("You save %s (%s)", saved, percent)
	case "money":
		s.Saving = "You save " + saved.String()
	case "percent":
		s.Saving = "You save " + percent
	}
	return s, q, true
}

func view(c *pieces.Context, p m.Piece) any {
	s, _, ok := compute(c, p)
	if !ok {
		return nil
	}
	return s
}

func tell(c *pieces.Context, p m.Piece) pieces.Telling {
	s, q, ok := compute(c, p)
	if !ok {
		return pieces.Lack("tag", "Price", "needs a product")
	}
	t := pieces.Say("tag", "Price", " of "+s.Name+" ")
	if pic, ok := c.Facts.Pictures[c.Facts.Products[p.Fields.Text("product")].PictureID]; ok {
		t.Thumb = pic.Path
	}
	add := func(p pieces.Part) { t.Parts = append(t.Parts, p) }
	if len(s.Line.Trail) == 0 {
		add(pieces.Part{Text: s.Line.Price.String(), Strong: true})
		add(pieces.Part{Text: ", no offer holds"})
		return t
	}
	if s.Line.Struck != nil {
		add(pieces.Part{Text: s.Line.Struck.String(), Struck: true})
	}
	add(pieces.Part{Text: " " + s.Line.Price.String(), Strong: true})
	if s.Line.Struck != nil {
		add(pieces.Part{Text: fmt.Sprintf(" — saves %s, %d%%, by ", q.Saved, q.Percent)})
	} else {
		add(pieces.Part{Text: " — no former price is shown: " + s.Line.Why + " By "})
	}
	add(pieces.Part{Text: s.Line.Trail[0].Name, Strong: true})
	if !q.NextChange.IsZero() {
		add(pieces.Part{Text: " until " + deadline.Short(q.NextChange, c.Facts.Store.Zone)})
	}
	return t
}
