// Package addresses answers at the addresses that are no pages: pictures and files, legal pages, what search engines ask for.
package addresses

import (
	"strconv"

	"chrysagon/app/publishing"
	"chrysagon/internal/media"
	"chrysagon/shopfront/frame"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// Addresses answers there.
type Addresses struct {
	*frame.Frame
	Publishing *publishing.Publisher
}

// Part is what the shopfront joins.
func (a *Addresses) Part(out fiber.Router, _ frame.Limits) {
	out.Get("/", a.home)
	out.Get("/robots.txt", a.robots)
	out.Get("/favicon.ico", a.favicon)
	out.Get("/sitemap.xml", a.sitemap)
	out.Get("/sitemaps/:part", a.sitemapPart)
	out.Get("/clock", a.clock)
	out.Get("/pictures/:file", a.picture)
	out.Get("/scenes/:file", media.Scene)
	out.Get("/types/:id", a.types)
	out.Get("/videos/:file", a.video)
	out.Get("/files/:file", a.handout)
	out.Get("/privacy", a.legal("Privacy", func(shop store.Shop) string { return shop.Privacy }))
	out.Get("/terms", a.legal("Terms", func(shop store.Shop) string { return shop.Terms }))
	out.Get("/contact", a.contact)
}

func (a *Addresses) clock(c fiber.Ctx) error {
	c.Set("Cache-Control", "no-store")
	return c.SendString(strconv.FormatInt(a.Store.Now().UnixMilli(), 10))
}

// home leads to the entrance of the campaign that is live.
func (a *Addresses) home(c fiber.Ctx) error {
	address, err := a.Publishing.Entrance(c)
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusFound).To("/" + address)
}
