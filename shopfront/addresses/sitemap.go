package addresses

import (
	"encoding/xml"
	"time"

	"github.com/gofiber/fiber/v3"
)

// robots tells crawlers (RFC 9309) what is there to be found: every page but
// those of an order.
func (a *Addresses) robots(c fiber.Ctx) error {
	c.Set("Cache-Control", "public, max-age=3600")
	return c.Type("txt", "utf-8").SendString("User-agent: *\nDisallow: /orders/\nDisallow: /hooks/\nSitemap: " + a.Origins.Shop + "/sitemap.xml\n")
}

// favicon leads to the store's icon, for browsers that ask at this address.
func (a *Addresses) favicon(c fiber.Ctx) error {
	shop, err := a.Store.Shop(c)
	if err != nil {
		return err
	}
	to := a.Render.Assets.Path("mark.svg")
	if shop.IconID != nil {
		if pic, known, err := a.Pictures.PictureOf(c, *shop.IconID); err == nil && known {
			to = pic.At(160)
		}
	}
	c.Set("Cache-Control", "public, max-age=3600")
	return c.Redirect().Status(fiber.StatusFound).To(to)
}

// urlset is a sitemap by the protocol of sitemaps.org.
type urlset struct {
	XMLName xml.Name  `xml:"http://www.sitemaps.org/schemas/sitemap/0.9 urlset"`
	URLs    []sitemap `xml:"url"`
}

type sitemap struct {
	Loc     string `xml:"loc"`
	LastMod string `xml:"lastmod"`
}

// sitemap lists the live pages that anybody may open.
func (a *Addresses) sitemap(c fiber.Ctx) error {
	pages, err := a.Publishing.PublicPages(c)
	if err != nil {
		return err
	}
	set := urlset{URLs: []sitemap{}}
	for _, p := range pages {
		set.URLs = append(set.URLs, sitemap{Loc: a.Origins.Shop + "/" + p.Address, LastMod: p.PublishedAt.UTC().Format(time.RFC3339)})
	}
	if len(set.URLs) == 0 { // a sitemap without a page is none, by its schema
		return a.Say(c, fiber.StatusNotFound, "Nothing is here yet", "This shop has no pages that are live.", "")
	}
	raw, err := xml.Marshal(set)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "public, max-age=3600")
	return c.Type("xml", "utf-8").Send(append([]byte(xml.Header), raw...))
}
