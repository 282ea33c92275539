package addresses

import (
	"encoding/xml"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/publishing"

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

// mostAddresses is how many addresses one sitemap holds (sitemaps.org/protocol.html).
const mostAddresses = 50_000

// urlset is a sitemap by the protocol of sitemaps.org.
type urlset struct {
	XMLName xml.Name  `xml:"http://www.sitemaps.org/schemas/sitemap/0.9 urlset"`
	URLs    []sitemap `xml:"url"`
}

// sitemapIndex lists sitemaps, by the same protocol.
type sitemapIndex struct {
	XMLName xml.Name  `xml:"http://www.sitemaps.org/schemas/sitemap/0.9 sitemapindex"`
	Parts   []sitemap `xml:"sitemap"`
}

type sitemap struct {
	Loc     string `xml:"loc"`
	LastMod string `xml:"lastmod,omitempty"`
}

// sitemap lists the live pages that anybody may open, those of goods too: in one map
// where they fit, else in several.
func (a *Addresses) sitemap(c fiber.Ctx) error {
	pages, err := a.Publishing.PublicPages(c)
	if err != nil {
		return err
	}
	goods, err := a.Publishing.GoodsWithPages(c)
	if err != nil {
		return err
	}
	if len(pages)+goods > mostAddresses {
		index := sitemapIndex{}
		for n := 0; n*mostAddresses < goods+mostAddresses; n++ { // the pages first
			index.Parts = append(index.Parts, sitemap{Loc: a.Origins.Shop + "/sitemaps/" + strconv.Itoa(n) + ".xml"})
		}
		return a.xml(c, index)
	}
	list, err := a.Publishing.PublicGoods(c, 0, mostAddresses)
	if err != nil {
		return err
	}
	return a.urls(c, append(pages, list...))
}

// sitemapPart is one of several: the pages, or so many of the goods.
func (a *Addresses) sitemapPart(c fiber.Ctx) error {
	name, _ := strings.CutSuffix(c.Params("part"), ".xml")
	n, err := strconv.Atoi(name)
	if err != nil || n < 0 || n > 1000 {
		return a.Say(c, fiber.StatusNotFound, "There is no such list", "The shop’s list of pages is at /sitemap.xml.", "")
	}
	var list []publishing.PublicPage
	if n == 0 {
		list, err = a.Publishing.PublicPages(c)
	} else {
		list, err = a.Publishing.PublicGoods(c, (n-1)*mostAddresses, mostAddresses)
	}
	if err != nil {
		return err
	}
	return a.urls(c, list)
}

func (a *Addresses) urls(c fiber.Ctx, list []publishing.PublicPage) error {
	if len(list) == 0 { // a sitemap without a page is none, by its schema
		return a.Say(c, fiber.StatusNotFound, "Nothing is here yet", "This shop has no pages that are live.", "")
	}
	set := urlset{}
	for _, p := range list {
		set.URLs = append(set.URLs, sitemap{Loc: a.Origins.Shop + "/" + p.Address, LastMod: p.PublishedAt.UTC().Format(time.RFC3339)})
	}
	return a.xml(c, set)
}

func (a *Addresses) xml(c fiber.Ctx, what any) error {
	raw, err := xml.Marshal(what)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "public, max-age=3600")
	return c.Type("xml", "utf-8").Send(append([]byte(xml.Header), raw...))
}
