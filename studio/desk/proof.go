package desk

import (
	"crypto/sha256"
	"encoding/base64"
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
	return place.Proof.Send(c, d)
}

func (place *Place) proofParts(c fiber.Ctx) error {
	d, err := place.Proof.Asked(c)
	if err != nil {
		return err
	}
	parts, err := place.parts(d, known{})
	if err != nil {
		return err
	}
	return c.JSON(parts)
}

// proofParts is what a proof is redrawn from.
type proofParts struct {
	Bands []drawn `json:"bands"`
	CSS   drawn   `json:"css"`
	Says  string  `json:"says"` // price, timer and checkout in words
	When  string  `json:"when"` // the moment, written out
}

// drawn is a part of a proof, with a tag that names what it is drawn as. A browser that
// has the tag already is sent no more than that.
type drawn struct {
	ID   string  `json:"id,omitempty"`
	Tag  string  `json:"tag"`
	HTML *string `json:"html,omitempty"`
}

// known are the tags that a browser has.
type known map[string]bool

func (k known) part(id, html string) drawn {
	sum := sha256.Sum256([]byte(id + "\n" + html))
	d := drawn{ID: id, Tag: base64.RawURLEncoding.EncodeToString(sum[:9])}
	if !k[d.Tag] {
		d.HTML = &html
	}
	return d
}

func (place *Place) parts(d proof.Draw, has known) (proofParts, error) {
	var css string
	var bands []render.Band
	var err error
	if d.Mails() {
		var l render.Letter
		l, err = place.Render.Letter(d.Input, d.Reader())
		bands, css = l.Bands, l.Style
	} else {
		bands, err = place.Render.Bands(d.Context, d.Input.Page)
		css = place.Render.Style(d.Input)
	}
	parts := proofParts{
		Bands: []drawn{}, CSS: has.part("", css), Says: place.says(d),
		When: deadline.Written(d.Input.Moment, d.Input.Facts.Store.Zone),
	}
	for _, b := range bands {
		parts.Bands = append(parts.Bands, has.part(b.ID, string(b.HTML)))
	}
	return parts, err
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
		switch is := kind.Traits; {
		case is.Prices:
			item := offer.Item{ProductID: p.Fields.Text("product"), Quantity: 1, Via: d.Context.Via()}
			if q, err := d.Context.Quote(item); err == nil {
				said = append(said, q.Total.String())
			}
		case is.Counts:
			said = append(said, map[bool]string{true: "timer shown", false: "timer gone"}[kind.View(d.Context, p) != nil])
		case is.Takes == manuscript.TakesOrder:
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
