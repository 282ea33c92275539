// Package pages serves published pages: kept where they are the same for all, drawn for one visitor where not.
package pages

import (
	"errors"
	"strings"

	"chrysagon/app/background"
	"chrysagon/app/events"
	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/people"
	"chrysagon/app/postroom"
	"chrysagon/app/publishing"
	"chrysagon/app/selling"
	"chrysagon/app/walks"
	"chrysagon/core/deadline"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/core/shelf"
	"chrysagon/core/source"
	"chrysagon/internal/wire"
	"chrysagon/pieces"
	"chrysagon/render"
	"chrysagon/shopfront/frame"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"
)

// Pages serves them.
type Pages struct {
	*frame.Frame
	Background *background.Work
	Publishing *publishing.Publisher
	Facts      *factbook.Reader
	Guide      *walks.Guide
	Selling    *selling.Counter
	People     *people.People
	Postroom   *postroom.Room
	News       *news.Hub
	Events     *events.Recorder

	cache Cache
}

// Part is what the shopfront joins.
func (p *Pages) Part(out fiber.Router, limits frame.Limits) {
	frame.At(out, fiber.MethodGet, "/on/:name", p.press)
	frame.At(out, fiber.MethodPost, "/pressed/:name", limits.Forms, p.SameSite, p.pressed)
	frame.At(out, fiber.MethodGet, "", p.page)
}

// booked says what was booked, to whom holds its secret ID.
func (p *Pages) booked(c fiber.Ctx, values map[string]string) {
	m, err := p.People.Appointment(c, strings.Clone(c.Query("booked")))
	if err != nil {
		return
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return
	}
	values["booked"], values["booked_at"] = m.ID, deadline.Written(m.At, shop.Zone)
}

// page serves a published page: from the cache where it is the same for all,
// drawn for its buyer where it belongs to an order.
func (p *Pages) page(c fiber.Ctx) error {
	address := frame.Address(c)
	carried := p.Carried(c) // a link may bring a code, or have offers of its own
	if c.Query("letter") != "" && !p.Passing(c) {
		if err := p.Postroom.Clicked(c, carried.Letter, p.Visitor(c)); err != nil {
			return err
		}
	}
	sent := c.Query("sent") // the form that has just been taken says so
	going := c.Cookies(frame.GoingCookie) != ""
	view := shelf.ReadView(frame.Queries(c))
	key := address
	if first := p.cache.get(address, p.Store.Now()); !view.Plain() && (first == nil || first.listed) {
		key += "?" + view.String()
	}
	if e := p.cache.get(key, p.Store.Now()); e != nil && carried.Same() && sent == "" && !going {
		p.again(e)
		return p.send(c, e)
	}
	generation := p.cache.generation.Load()
	live, err := p.Publishing.Live(c, address)
	if errors.Is(err, refusal.ErrNotFound) {
		if to, gone := p.Publishing.Moved(c, address); gone == nil && to != "" {
			return c.Redirect().Status(fiber.StatusMovedPermanently).To("/" + to)
		}
	}
	if err != nil {
		return err
	}
	if live.Step.Kind.AfterPayment() {
		return p.orderPage(c, live)
	}
	drawn, err := p.draw(c, live, nil, pieces.Form{}, factbook.Buyer{View: view})
	if err != nil {
		return err
	}
	if drawn.Lead != "" {
		return p.leadOn(c, live, drawn.Lead)
	}
	if going && sent == "" {
		if done, err := p.goOn(c, live, carried); done || err != nil {
			return err
		}
	}
	if drawn.Personal || !carried.Same() || sent != "" {
		p.note(c, live)
		values := carried.Values()
		if sent != "" && c.Query("booked") != "" {
			p.booked(c, values)
		}
		return p.Private(c, fiber.StatusOK, live, nil, pieces.Form{Values: values, Piece: sent, Sent: sent != ""})
	}
	if next := live.Next; !next.IsZero() && (drawn.Until.IsZero() || next.Before(drawn.Until)) {
		drawn.Until = next
	}
	e := newEntry(drawn.HTML)
	e.headers, e.until = keptHeaders(p.pagePolicy(drawn)), drawn.Until
	e.seen = events.Event{PageID: live.Page.ID, StepID: live.Step.ID, EditionID: live.Edition.ID, CampaignID: live.Edition.CampaignID}
	e.listed = len(p.Render.Registry.Schema().Paged(live.Page.Manuscript)) > 0
	if !e.listed {
		key = address
	}
	if !e.listed || keeps(view) {
		p.cache.put(strings.Clone(key), e, generation)
	}
	return p.send(c, e)
}

// keptPages is how many pages of a list are kept: whoever goes further is drawn one.
const keptPages = 50

// keeps tells whether a view of a list is kept for all: of narrowings there are too many.
func keeps(view shelf.View) bool { return !view.Own() && view.Page <= keptPages }

// goOn draws a page for a browser in which its checkout was begun, as it was left: in the
// part that was reached, or in that which its address names. It tells whether it did.
func (p *Pages) goOn(c fiber.Ctx, live publishing.Live, carried frame.Carried) (bool, error) {
	visitor := c.Cookies(frame.VisitorCookie)
	if !frame.Secret(visitor) {
		return false, nil
	}
	values, err := p.Selling.Unfinished(c, visitor, live.Page.ID)
	if err != nil || values == nil {
		return false, err
	}
	if part := c.Query("part"); part != "" {
		values["part"] = strings.Clone(part)
	}
	if carried.Link != "" {
		values["link"] = carried.Link
	}
	if carried.Code != "" {
		values["code"] = carried.Code
	}
	p.note(c, live)
	return true, p.Private(c, fiber.StatusOK, live, nil, pieces.Form{Values: values})
}

func (p *Pages) send(c fiber.Ctx, e *entry) error {
	p.write(c.RequestCtx(), e, p.Viewer(c), p.source(c))
	return nil
}

// note notes that somebody looks at a page.
func (p *Pages) note(c fiber.Ctx, live publishing.Live) {
	p.Events.Note(events.Event{Visitor: p.Viewer(c), PageID: live.Page.ID, StepID: live.Step.ID, EditionID: live.Edition.ID, CampaignID: live.Edition.CampaignID, Source: p.source(c)})
}

// Kept serves a page from the cache to a visitor who has been here before,
// ahead of any routing. It tells whether it did.
func (p *Pages) Kept(c *fasthttp.RequestCtx) bool {
	path := c.Path()
	if !c.IsGet() || len(path) < 2 || len(c.Request.Header.RequestURI()) != len(path) {
		return false
	}
	visitor := c.Request.Header.Cookie(frame.VisitorCookie)
	if len(c.Request.Header.Cookie(frame.GoingCookie)) > 0 || len(c.Request.Header.Cookie(frame.CarriedCookie)) > 0 {
		return false
	}
	if !frame.Secret(string(visitor)) || len(c.Request.Header.Peek("Sec-Purpose")) > 0 || len(c.Request.Header.Peek("Purpose")) > 0 {
		return false
	}
	e := p.cache.get(string(path[1:]), p.Store.Now())
	if e == nil {
		return false
	}
	p.again(e)
	from := source.Source{}
	if referrer := c.Request.Header.Peek("Referer"); len(referrer) > 0 {
		from.Name = source.Host(string(referrer), p.Origins.Shop)
	}
	p.write(c, e, string(visitor), from)
	return true
}

// again notes that a kept page is asked for: it is packed as small as it can be, once.
func (p *Pages) again(e *entry) {
	if e.packing.CompareAndSwap(false, true) {
		p.Background.Do(e.pack)
	}
}

// source is where a visitor came from.
func (p *Pages) source(c fiber.Ctx) source.Source {
	return source.Of(func(name string) string { return c.Query(name) }, c.Get("Referer"), p.Origins.Shop)
}

// write sends a kept page and notes the view of a visitor.
func (p *Pages) write(c *fasthttp.RequestCtx, e *entry, visitor string, from source.Source) {
	seen := e.seen
	seen.Visitor, seen.Source = visitor, from
	p.Events.Note(seen)
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
	encoding := wire.Accepted(string(c.Request.Header.Peek("Accept-Encoding")))
	if encoding != wire.Plain {
		h.SetContentEncoding(string(encoding))
	}
	c.Response.SetBodyRaw(e.in(encoding))
}

// pagePolicy is a page's Content-Security-Policy: its own inlined style by its
// hash, our script, the till's card frame, and of the owner's own code each
// script by its hash and each measuring tag by its origin.
func (p *Pages) pagePolicy(drawn render.Result) string {
	o, scripts, origins := p.Origins, "", ""
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
func (p *Pages) leadOn(c fiber.Ctx, live publishing.Live, pageID string) error {
	to, ok := live.Edition.Page(pageID)
	if !ok || to.Address == live.Page.Address {
		return p.Say(c, fiber.StatusGone, "This has ended", "What stood on this page has ended.", "")
	}
	return frame.SeeOther(c, "/"+to.Address)
}

// draw draws a live page as of now, for whom something may be known.
func (p *Pages) draw(c fiber.Ctx, live publishing.Live, o *store.Order, form pieces.Form, who factbook.Buyer) (render.Result, error) {
	who.Step, who.Edition = live.Step.ID, live.Edition.ID
	names := p.Render.Registry.Schema().Names(live.Page.Manuscript)
	names.Products = append(names.Products, pieces.PutsIn(form.Values)...)
	f, err := p.Facts.FactsFor(c, names, who)
	if err != nil {
		return render.Result{}, err
	}
	if o != nil {
		if f.Order, err = p.Facts.OrderFacts(c, *o); err != nil {
			return render.Result{}, err
		}
	}
	seal, err := p.Selling.Sealer(c, live, who.Visitor)
	if err != nil {
		return render.Result{}, err
	}
	return p.Render.Page(render.Input{
		Page: live.Page.Manuscript, Title: live.Page.Title, Description: live.Page.Description, Layout: live.Page.Layout, Origin: p.Origins.Shop, Composition: live.Edition.Composition,
		Facts: f, Moment: p.Store.Now(), Form: form, Seal: seal,
		Place: pieces.Place{Address: live.Page.Address, Upsell: live.Step.Kind.Offers(), Till: p.Origins.Till},
	})
}

// Private sends a page that is drawn for one visitor.
func (p *Pages) Private(c fiber.Ctx, status int, live publishing.Live, o *store.Order, form pieces.Form) error {
	who := selling.BuyerOf(p.Visitor(c), form.Values)
	if o != nil {
		who = selling.UpsellBuyer(*o)
	}
	who.Zone, who.View = frame.ZoneOf(c), shelf.ReadView(frame.Queries(c))
	drawn, err := p.draw(c, live, o, form, who)
	if err != nil {
		return err
	}
	frame.Headers(c, p.pagePolicy(drawn))
	c.Set("Cache-Control", "no-store")
	return c.Status(status).Type("html", "utf-8").Send(drawn.HTML)
}

// orderPage serves a step after the payment, to the browser that paid.
func (p *Pages) orderPage(c fiber.Ctx, live publishing.Live) error {
	o, err := p.Selling.OrderByToken(c, c.Query("order"), p.Visitor(c))
	if errors.Is(err, refusal.ErrNotFound) && c.Query("order") != "" {
		if _, linked := p.Selling.OrderByLink(c, c.Query("order")); linked == nil {
			return frame.SeeOther(c, order.Path(c.Query("order")))
		}
	}
	ours := false
	if err == nil {
		live, ours, err = p.Selling.OfOrder(c, live, o)
	}
	if errors.Is(err, refusal.ErrNotFound) || (err == nil && !ours) {
		return p.Say(c, fiber.StatusNotFound, "This page belongs to an order",
			"This link does not belong to an order placed in this browser. Nothing was charged. Your order, if you placed one, stands as your confirmation mail says.", "")
	}
	if err != nil {
		return err
	}
	if order.State(o.State) != order.Paid {
		return frame.SeeOther(c, order.Path(o.Token))
	}
	if live.Step.Kind.Offers() {
		answered, err := p.Selling.Answered(c, o, live)
		if err != nil {
			return err
		}
		if answered || p.Selling.UpsellClosed(o) {
			standing, err := p.Selling.Standing(c, o, false)
			if err != nil {
				return err
			}
			if standing.Done {
				standing.Go = order.Path(o.Token)
			}
			return frame.SeeOther(c, standing.Go)
		}
	}
	p.note(c, live)
	return p.Private(c, fiber.StatusOK, live, &o, pieces.Form{})
}
