// Package links leads in: by tracked links, and back from pages outside, which may report what was seen there.
package links

import (
	"errors"
	"net/url"
	"strings"

	"chrysagon/app/routes"
	"chrysagon/app/walks"
	"chrysagon/core/pass"
	"chrysagon/core/route"
	"chrysagon/internal/wire"
	"chrysagon/shopfront/frame"

	"github.com/gofiber/fiber/v3"
)

// Links are what leads in.
type Links struct {
	*frame.Frame
	Guide *walks.Guide
}

// Part is what the shopfront joins.
func (l *Links) Part(out fiber.Router, limits frame.Limits) {
	out.Get("/to/:slug", l.in)
	out.Get("/outside.js", l.script)
	out.Get("/outside/:step/on/:name", l.back)
	out.Post("/outside/:step/seen", limits.Forms, l.seen)
}

// in leads in by a tracked link: only to what the store named.
func (l *Links) in(c fiber.Ctx) error {
	visitor := l.Viewer(c)
	link, path, err := l.Guide.Link(c, strings.Clone(c.Params("slug")), visitor)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	c.Set("X-Robots-Tag", "noindex")
	return frame.SeeOther(c, routes.Tagged(path, link))
}

// script is the one line that a page outside may have in its head.
func (l *Links) script(c fiber.Ctx) error {
	c.Set("Content-Type", "text/javascript; charset=utf-8")
	c.Set("Cache-Control", "public, max-age=3600")
	c.Set("Cross-Origin-Resource-Policy", "cross-origin")
	c.Set("X-Content-Type-Options", "nosniff")
	return c.SendString(l.Render.Assets.Outside)
}

// back leads on who comes back from a page outside.
func (l *Links) back(c fiber.Ctx) error {
	at, err := l.Guide.Abroad(c, strings.Clone(c.Params("step")))
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("name"))
	visitor := l.Viewer(c)
	c.Set("Cache-Control", "no-store")
	c.Set("Referrer-Policy", "strict-origin-when-cross-origin")
	if !route.Clicked(name).Known() {
		return frame.SeeOther(c, "/")
	}
	to, err := l.Guide.Return(c, at, visitor, strings.Clone(c.Query(pass.Param)), name)
	if errors.Is(err, walks.ErrNowhere) {
		return frame.SeeOther(c, "/")
	}
	if err != nil {
		return err
	}
	return frame.SeeOther(c, to.Path)
}

// seen takes what a page outside reports, from the hosts that the store lists.
func (l *Links) seen(c fiber.Ctx) error {
	shop, err := l.Store.Shop(c)
	if err != nil {
		return err
	}
	from := strings.Clone(c.Get("Origin"))
	if u, err := url.Parse(from); err != nil || u.Host == "" || !pass.Listed(shop.OutsideHosts, from) {
		return wire.Problem(c, fiber.StatusForbidden, "This host may not report here. The store lists those that may, in Routes.")
	}
	c.Set("Access-Control-Allow-Origin", from)
	c.Set("Vary", "Origin")
	at, err := l.Guide.Abroad(c, strings.Clone(c.Params("step")))
	if err != nil {
		return err
	}
	if !pass.Listed(l.hostOf(at.Step.Address), from) {
		return wire.Problem(c, fiber.StatusForbidden, "This is another host than that of the page.")
	}
	text, name, _ := strings.Cut(string(c.Body()), "\n")
	if err := l.Guide.Report(c, at, strings.TrimSpace(text), strings.TrimSpace(name)); err != nil {
		return err
	}
	return c.SendStatus(fiber.StatusNoContent)
}

func (l *Links) hostOf(address string) string {
	u, err := url.Parse(address)
	if err != nil {
		return ""
	}
	return u.Hostname()
}
