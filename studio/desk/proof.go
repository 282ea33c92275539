package desk

import (
	"strings"

	"chrysagon/core/deadline"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/render"
	"chrysagon/studio/proof"

	"github.com/gofiber/fiber/v3"
)

// proof is a page drawn for the studio: nothing in it runs or is sent.
func (place *Place) proof(c fiber.Ctx) error {
	d, err := place.Proof.Asked(c)
	if err != nil {
		return err
	}
	return place.Proof.SendProof(c, d.Input)
}

func (place *Place) proofParts(c fiber.Ctx) error {
	d, err := place.Proof.Asked(c)
	if err != nil {
		return err
	}
	parts, err := place.parts(d)
	if err != nil {
		return err
	}
	return c.JSON(parts)
}

// proofParts is what a proof is redrawn from.
type proofParts struct {
	Bands []render.Band `json:"bands"`
	CSS   string        `json:"css"`
	Says  string        `json:"says"` // price, timer and checkout in words
	When  string        `json:"when"` // the moment, written out
}

func (place *Place) parts(d proof.Draw) (proofParts, error) {
	bands, err := place.Render.Bands(d.Context, d.Tree)
	return proofParts{
		Bands: append([]render.Band{}, bands...), CSS: place.Render.Style(d.Input), Says: place.says(d),
		When: deadline.Written(d.Input.Moment, d.Input.Facts.Store.Zone),
	}, err
}

// says sums up what a proof shows: the price, the timer, the checkout.
func (place *Place) says(d proof.Draw) string {
	var said []string
	seen := map[string]bool{}
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if seen[p.Kind] {
			return
		}
		p = d.Follows[p.ID]
		kind, _ := place.Render.Registry.Kind(p.Kind)
		switch p.Kind {
		case "price":
			item := offer.Item{ProductID: p.Fields.Text("product"), Quantity: 1, Via: d.Context.Via()}
			if q, err := d.Context.Quote(item); err == nil {
				said = append(said, q.Total.String())
			}
		case "timer":
			said = append(said, map[bool]string{true: "timer shown", false: "timer gone"}[kind.View(d.Context, p) != nil])
		case "checkout":
			if sale, ok := kind.View(d.Context, p).(interface{ Open() bool }); ok {
				said = append(said, map[bool]string{true: "checkout open", false: "checkout closed"}[sale.Open()])
			}
		default:
			return
		}
		seen[p.Kind] = true
	})
	return strings.Join(said, " · ")
}
