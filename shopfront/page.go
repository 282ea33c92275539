package shopfront

import (
	"bytes"
	"errors"
	"net/url"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/publishing"
	"chrysagon/app/results"
	"chrysagon/app/selling"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/internal/wire"
	"chrysagon/pieces"
	"chrysagon/render"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"
)

// page serves a published page: from the cache where it is the same for all,
// drawn for its buyer where it belongs to an order.
func (s *Front) page(c fiber.Ctx) error {
	address := c.Params("address")
	via := c.Query("via")   // a link of its own may have offers of its own
	sent := c.Query("sent") // the form that has just been taken says so
	if e := s.cache.get(address, s.App.Store.Now()); e != nil && via == "" && sent == "" {
		return s.send(c, e)
	}
	generation := s.cache.generation.Load()
	live, err := s.App.Publishing.Live(c, address)
	if errors.Is(err, refusal.ErrNotFound) {
		if to, gone := s.App.Publishing.Moved(c, address); gone == nil && to != "" {
			return c.Redirect().Status(fiber.StatusMovedPermanently).To("/" + to)
		}
	}
	if err != nil {
		return err
	}
	if live.Step.Kind != route.Sales && live.Step.Kind != "" {
		return s.orderPage(c, live)
	}
	drawn, err := s.draw(c, live, nil, pieces.Form{}, factbook.Buyer{})
	if err != nil {
		return err
	}
	if drawn.Lead != "" {
		return s.leadOn(c, live, drawn.Lead)
	}
	if drawn.Personal || via != "" || sent != "" {
		s.note(c, live)
		values := map[string]string{"link": via}
		if sent != "" && c.Query("booked") != "" {
			s.booked(c, values)
		}
		return s.private(c, fiber.StatusOK, live, nil, pieces.Form{Values: values, Piece: sent, Sent: sent != ""})
	}
	if next := live.Next; !next.IsZero() && (drawn.Until.IsZero() || next.Before(drawn.Until)) {
		drawn.Until = next
	}
	e := newEntry(drawn.HTML)
	e.headers, e.until, e.step, e.edition = keptHeaders(s.pagePolicy(drawn)), drawn.Until, live.Step.ID, live.Edition.ID
	s.cache.put(string(bytes.Clone([]byte(address))), e, generation)
	return s.send(c, e)
}

func (s *Front) send(c fiber.Ctx, e *entry) error {
	s.write(c.RequestCtx(), e, s.viewer(c))
	return nil
}

// viewer is the visitor who looks, or "" where nobody does.
func (s *Front) viewer(c fiber.Ctx) string {
	if visitor := s.visitor(c); !s.passing(c) {
		return visitor
	}
	return ""
}

// note notes that somebody looks at a page.
func (s *Front) note(c fiber.Ctx, live publishing.Live) {
	s.Views.Note(results.Viewed{Visitor: s.viewer(c), StepID: live.Step.ID, EditionID: live.Edition.ID})
}

// Kept serves a page from the cache to a visitor who has been here before,
// ahead of any routing. It tells whether it did.
func (s *Front) Kept(c *fasthttp.RequestCtx) bool {
	path := c.Path()
	if !c.IsGet() || len(path) < 2 || len(c.Request.Header.RequestURI()) != len(path) {
		return false
	}
	visitor := c.Request.Header.Cookie(visitorCookie)
	if len(visitor) != visitorLength || len(c.Request.Header.Peek("Sec-Purpose")) > 0 || len(c.Request.Header.Peek("Purpose")) > 0 {
		return false
	}
	e := s.cache.get(string(path[1:]), s.App.Store.Now())
	if e == nil {
		return false
	}
	s.write(c, e, string(visitor))
	return true
}

// write sends a kept page and notes the view of a visitor.
func (s *Front) write(c *fasthttp.RequestCtx, e *entry, visitor string) {
	s.Views.Note(results.Viewed{Visitor: visitor, StepID: e.step, EditionID: e.edition})
	h := &c.Response.Header
	h.SetContentType("text/html; charset=utf-8")
	for _, line := range e.headers {
		h.SetCanonical(line[0], line[1])
	}
	h.Set("ETag", e.tag)
	if has := c.Request.Header.Peek("If-None-Match"); len(has) > 0 && wire.Same(string(has), e.tag) {
		wire.Unchanged(c)
		return
	}
	switch encoding := wire.Accepted(string(c.Request.Header.Peek("Accept-Encoding"))); encoding {
	case wire.Brotli:
		h.SetContentEncoding(string(encoding))
		c.Response.SetBodyRaw(e.brotli)
	case wire.Gzip:
		h.SetContentEncoding(string(encoding))
		c.Response.SetBodyRaw(e.gzip)
	case wire.Plain:
		c.Response.SetBodyRaw(e.html)
	}
}

// pagePolicy is a page's Content-Security-Policy: its own inlined style by its
// hash, our script, the till's card frame, and of the owner's own code each
// script by its hash and each measuring tag by its origin.
func (s *Front) pagePolicy(drawn render.Result) string {
	o, scripts, origins := s.App.Origins, "", ""
	for _, hash := range drawn.Own.Hashes {
		scripts += " " + hash
	}
	for _, origin := range drawn.Own.Origins {
		origins += " " + origin
	}
	return "default-src 'none'; style-src 'sha256-" + drawn.Style + "'; script-src 'self'" + scripts + origins + "; img-src 'self'" + origins + "; media-src 'self'; font-src 'self'; connect-src 'self'" + origins +
		"; frame-src " + o.Till + "; form-action 'self' " + o.Till + "; base-uri 'none'; frame-ancestors 'none'"
}

// leadOn leads to another page since a deadline, within the shop.
func (s *Front) leadOn(c fiber.Ctx, live publishing.Live, pageID string) error {
	to, ok := live.Edition.Page(pageID)
	if !ok || to.Address == live.Page.Address {
		return s.say(c, fiber.StatusGone, "This has ended", "What stood on this page has ended.", "")
	}
	return seeOther(c, "/"+to.Address)
}

// zoneOf is what the browser says of its time zone, or "".
func zoneOf(c fiber.Ctx) string {
	name, err := url.QueryUnescape(c.Cookies("zone"))
	if err != nil || len(name) > 60 {
		return ""
	}
	if _, err := time.LoadLocation(name); err != nil || name == "Local" {
		return ""
	}
	return name
}

// draw draws a live page as of now, for whom something may be known.
func (s *Front) draw(c fiber.Ctx, live publishing.Live, o *store.Order, form pieces.Form, who factbook.Buyer) (render.Result, error) {
	who.Step, who.Edition = live.Step.ID, live.Edition.ID
	f, err := s.App.Facts.FactsFor(c, s.App.Render.Registry.Schema().Names(live.Page.Manuscript), who)
	if err != nil {
		return render.Result{}, err
	}
	if o != nil {
		if f.Order, err = s.App.Facts.OrderFacts(c, *o); err != nil {
			return render.Result{}, err
		}
	}
	seal, err := s.App.Selling.Sealer(c, live, who.Visitor)
	if err != nil {
		return render.Result{}, err
	}
	return s.App.Render.Page(render.Input{
		Page: live.Page.Manuscript, Title: live.Page.Title, Description: live.Page.Description, Layout: live.Page.Layout, Origin: s.App.Origins.Shop,
		Facts: f, Moment: s.App.Store.Now(), Form: form, Seal: seal,
		Place: pieces.Place{Address: live.Page.Address, Upsell: live.Step.Kind == route.UpsellAt, Till: s.App.Origins.Till},
	})
}

// private sends a page that is drawn for one visitor.
func (s *Front) private(c fiber.Ctx, status int, live publishing.Live, o *store.Order, form pieces.Form) error {
	who := selling.BuyerOf(s.visitor(c), form.Values)
	if o != nil {
		who = s.App.Selling.UpsellBuyer(*o)
	}
	who.Zone = zoneOf(c)
	drawn, err := s.draw(c, live, o, form, who)
	if err != nil {
		return err
	}
	headers(c, s.pagePolicy(drawn))
	c.Set("Cache-Control", "no-store")
	return c.Status(status).Type("html", "utf-8").Send(drawn.HTML)
}

// orderPage serves a step after the payment, to the browser that paid.
func (s *Front) orderPage(c fiber.Ctx, live publishing.Live) error {
	o, err := s.App.Selling.OrderByToken(c, c.Query("order"), s.visitor(c))
	if errors.Is(err, refusal.ErrNotFound) && c.Query("order") != "" {
		if _, linked := s.App.Selling.OrderByLink(c, c.Query("order")); linked == nil {
			return seeOther(c, order.Path(c.Query("order")))
		}
	}
	if errors.Is(err, refusal.ErrNotFound) || (err == nil && o.CampaignID != live.Edition.CampaignID) {
		return s.say(c, fiber.StatusNotFound, "This page belongs to an order",
			"This link does not belong to an order placed in this browser. Nothing was charged. Your order, if you placed one, stands as your confirmation mail says.", "")
	}
	if err != nil {
		return err
	}
	if order.State(o.State) != order.Paid {
		return seeOther(c, order.Path(o.Token))
	}
	if live.Step.Kind == route.UpsellAt {
		answered, err := s.App.Selling.Answered(c, o, live)
		if err != nil {
			return err
		}
		if answered || s.App.Selling.UpsellClosed(o) {
			standing, err := s.App.Selling.Standing(c, o, false)
			if err != nil {
				return err
			}
			return seeOther(c, standing.Go)
		}
		s.note(c, live)
	}
	return s.private(c, fiber.StatusOK, live, &o, pieces.Form{})
}
