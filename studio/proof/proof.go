// Package proof draws drafts as they would go out, for whom and when one asks.
package proof

import (
	"context"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/publishing"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/origin"
	"chrysagon/core/purpose"
	"chrysagon/pieces"
	"chrysagon/render"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// Drawer draws proofs.
type Drawer struct {
	Store      *store.Store
	Render     *render.Renderer
	Drafts     *drafts.Reader
	Facts      *factbook.Reader
	Publishing *publishing.Publisher
	Origins    *origin.Origins
}

// AsOf is the moment asked for, or now.
func (drawer *Drawer) AsOf(c fiber.Ctx) time.Time {
	if n, err := strconv.ParseInt(c.Query("as_of"), 10, 64); err == nil && n > 0 && n < 1<<33 {
		return time.Unix(n, 0).UTC()
	}
	return drawer.Store.Now()
}

// Asked draws the page of the request as of the moment it asks for.
func (drawer *Drawer) Asked(c fiber.Ctx) (Draw, error) {
	draft, err := drawer.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return Draw{}, err
	}
	return drawer.Draw(c, draft, drawer.AsOf(c))
}

// Send sends a draft as it would go out, kept from doing anything.
func (drawer *Drawer) Send(c fiber.Ctx, d Draw) error {
	if !d.Mails() {
		return drawer.SendProof(c, d.Input)
	}
	l, err := drawer.Render.Letter(d.Input, d.Reader())
	if err != nil {
		return err
	}
	guard(c)
	switch c.Query("as") {
	case "text":
		return c.Type("txt", "utf-8").SendString(l.Text)
	case "bare": // as mail programs show it that load no pictures
		c.Set("Content-Security-Policy", strings.ReplaceAll(string(c.Response().Header.Peek("Content-Security-Policy")), "img-src 'self'", "img-src 'none'"))
	case "dark":
		l.HTML = strings.ReplaceAll(l.HTML, "(prefers-color-scheme:dark)", "all")
	}
	return c.Type("html", "utf-8").SendString(l.HTML)
}

// Reader is for whom a proof of a letter is drawn: nobody in particular, or who ordered
// something.
func (d Draw) Reader() render.Addressed {
	if purpose.Of(d.Purpose).Order != "" {
		return render.Addressed{Order: "1000", Why: "Anything wrong? Answer this mail, or write to " + d.Input.Facts.Store.ContactEmail + ", and name order 1000."}
	}
	return render.Addressed{Why: "Here stands why they get it, as their list says."}
}

// Mails tells whether the draft goes to people by mail.
func (d Draw) Mails() bool { return purpose.Of(d.Purpose).Mail }

// SendProof sends a page as it would go out, kept from doing anything.
func (drawer *Drawer) SendProof(c fiber.Ctx, in render.Input) error {
	page, err := drawer.Render.Page(in)
	if err != nil {
		return err
	}
	guard(c)
	return c.Type("html", "utf-8").Send(page.HTML)
}

// guard keeps a proof from doing anything.
func guard(c fiber.Ctx) {
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; media-src 'self'; font-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'")
}

// Draw is a draft with all that is computed to show it.
type Draw struct {
	drafts.Draft
	Context *pieces.Context
	Input   render.Input
	Follows map[string]manuscript.Piece // the pieces as they follow what the page sells
}

// Draw reads what a draft shows at a moment, ready to be drawn.
func (drawer *Drawer) Draw(c fiber.Ctx, d drafts.Draft, asOf time.Time) (Draw, error) {
	return drawer.by(c, d, asOf, drawer.Facts.DraftFacts)
}

// DrawTyped is [Drawer.Draw] after a key was typed: what the page shows of the store is
// taken from what was read before, where that holds.
func (drawer *Drawer) DrawTyped(c fiber.Ctx, d drafts.Draft, asOf time.Time) (Draw, error) {
	return drawer.by(c, d, asOf, drawer.Facts.DraftFactsKept)
}

func (drawer *Drawer) by(c fiber.Ctx, d drafts.Draft, asOf time.Time, read func(context.Context, string, manuscript.Names) (facts.Facts, error)) (Draw, error) {
	registry := drawer.Render.Registry
	names := registry.Schema().Names(d.Shown())
	if registry.Schema().Has(d.Tree, func(t manuscript.Traits) bool { return t.Listed }) { // shows an example of what is sold elsewhere
		sold, err := drawer.Publishing.SoldIn(c, d.CampaignID)
		if err != nil {
			return Draw{}, err
		}
		names.Products = append(names.Products, sold...)
	}
	f, err := read(c, d.ID, names)
	if err != nil {
		return Draw{}, err
	}
	seeAs(c, &f, asOf)
	in := render.Input{
		Page: d.Shown(), Title: d.Good.In(d.Title), Description: d.Good.In(d.Description), Facts: f, Moment: asOf, Proof: true, Layout: d.Layout,
		Place: pieces.Place{Address: d.At(), Upsell: purpose.Of(d.Purpose).Step.Offers(), Till: drawer.Origins.Till},
	}
	follows := map[string]manuscript.Piece{}
	registry.Schema().Follow(d.Shown()).Walk(func(_ manuscript.Band, p manuscript.Piece) { follows[p.ID] = p })
	return Draw{Draft: d, Context: drawer.Render.Context(in), Input: in, Follows: follows}, nil
}
