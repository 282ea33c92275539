// Package shopfront is the visitor's side: published pages, checkout, upsell
// and thank-you.
package shopfront

import (
	"bytes"
	"context"
	"embed"
	"errors"
	"html/template"
	"mime"
	"net/url"
	"strconv"
	"strings"
	"time"

	"chrysagon/app"
	"chrysagon/app/news"
	"chrysagon/app/results"
	"chrysagon/core/refusal"
	"chrysagon/core/style"
	"chrysagon/internal/media"
	"chrysagon/internal/robots"
	"chrysagon/store"
	"chrysagon/web"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"
)

//go:embed views/*.html
var views embed.FS

// Front is the shopfront.
type Front struct {
	App   *app.App
	Views *results.Views
	// Forms is how many forms one address may send in a minute.
	Forms int

	known *robots.Known // by which robots are told from people
	cache cache
	plain *template.Template
}

// Handler makes the shopfront's handler.
func (s *Front) Handler() *fiber.App {
	known, err := robots.New(web.Robots())
	if err != nil {
		panic(err) // the list ships with the program and is read in a test
	}
	s.known = known
	s.plain = template.Must(template.New("").ParseFS(views, "views/*.html"))
	f := fiber.New(fiber.Config{BodyLimit: 256 * 1024, ErrorHandler: s.fail})
	forms := limiter.New(limiter.Config{Max: s.Forms, Expiration: time.Minute, LimitReached: func(c fiber.Ctx) error {
		return s.say(c, fiber.StatusTooManyRequests, "That was a little fast", "Too many forms came from here in a minute. Wait a minute, then go back and try again. Nothing was charged.", "")
	}})
	links := limiter.New(limiter.Config{Max: 4 * s.Forms, Expiration: time.Minute, LimitReached: func(c fiber.Ctx) error {
		return s.say(c, fiber.StatusTooManyRequests, "That was a little fast", "Too many orders were asked for from here in a minute. Wait a minute, then open the link again.", "")
	}})
	f.Get("/", s.home)
	f.Get("/robots.txt", s.robots)
	f.Get("/favicon.ico", s.favicon)
	f.Get("/sitemap.xml", s.sitemap)
	f.Get("/clock", s.clock)
	f.Get("/pictures/:file", s.picture)
	f.Get("/privacy", s.legal("Privacy", func(shop store.Shop) string { return shop.Privacy }))
	f.Get("/terms", s.legal("Terms", func(shop store.Shop) string { return shop.Terms }))
	f.Get("/contact", s.contact)
	f.Post("/hooks/till", s.hook)
	f.Get("/orders/:token", links, s.order)
	f.Get("/orders/:token/card", s.card)
	f.Get("/orders/:token/file/:variant", links, s.download)
	f.Get("/:address/checkout", func(c fiber.Ctx) error { return seeOther(c, "/"+url.PathEscape(c.Params("address"))+"#checkout") })
	f.Post("/:address/checkout", forms, s.sameSite, s.pay)
	f.Post("/:address/checkout/fields", forms, s.sameSite, s.fields)
	f.Post("/:address/quote", forms, s.sameSite, s.quote)
	f.Get("/videos/:file", s.video)
	f.Get("/appointments/:file", s.calendarFile)
	f.Get("/files/:file", s.handout)
	f.Post("/:address/forms/:piece", forms, s.sameSite, s.form)
	f.Post("/:address/accept", forms, s.sameSite, s.accept)
	f.Post("/:address/decline", forms, s.sameSite, s.decline)
	f.Get("/:address", s.page)
	return f
}

// Follow empties the cache whenever something a page shows has changed.
func (s *Front) Follow(ctx context.Context) {
	changes := s.App.News.Subscribe()
	defer changes.Close()
	for {
		select {
		case <-ctx.Done():
			return
		case _, open := <-changes.Ready():
			if !open {
				return
			}
			for _, n := range changes.Take() {
				if n.Topic == news.FactsChanged {
					s.Forget()
				}
			}
		}
	}
}

// sameSite refuses forms that another site sent on a visitor's behalf.
func (s *Front) sameSite(c fiber.Ctx) error {
	if origin := c.Get("Origin"); origin != "" && origin != "null" && origin != s.App.Origins.Shop {
		return s.say(c, fiber.StatusForbidden, "This form came from another site", "It was refused, and nothing was charged. Open the page in this shop and try again.", "")
	}
	if site := c.Get("Sec-Fetch-Site"); site == "cross-site" {
		return s.say(c, fiber.StatusForbidden, "This form came from another site", "It was refused, and nothing was charged. Open the page in this shop and try again.", "")
	}
	return c.Next()
}

const (
	visitorCookie = "visitor"
	visitorLength = 26 // characters of a secret
)

// visitor reads the browser's secret, or gives it one. The secret is what
// joins an order to the browser that placed it.
//
// Who only looks a page up (a robot, a link checker, a prefetch, a HEAD) gets
// none and is no visitor: the answer is then "".
func (s *Front) visitor(c fiber.Ctx) string {
	if v := c.Cookies(visitorCookie); len(v) == visitorLength {
		return strings.Clone(v)
	}
	if s.passing(c) {
		return ""
	}
	v := store.NewSecret()
	c.Cookie(&fiber.Cookie{
		Name: visitorCookie, Value: v, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		MaxAge: 365 * 24 * 3600, Secure: strings.HasPrefix(s.App.Origins.Shop, "https:"),
	})
	return v
}

// passing tells whether nobody looks: the request is no person's visit.
func (s *Front) passing(c fiber.Ctx) bool {
	switch c.Method() {
	case fiber.MethodHead:
		return true
	case fiber.MethodGet:
	default:
		return false // what is sent by a form is sent by somebody
	}
	for _, name := range []string{"Sec-Purpose", "Purpose", "X-Moz", "X-Purpose"} {
		if said := strings.ToLower(c.Get(name)); strings.Contains(said, "prefetch") || strings.Contains(said, "preview") {
			return true
		}
	}
	return s.known.Is(c.Get("User-Agent"))
}

func seeOther(c fiber.Ctx, to string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

func (s *Front) clock(c fiber.Ctx) error {
	c.Set("Cache-Control", "no-store")
	return c.SendString(strconv.FormatInt(s.App.Store.Now().UnixMilli(), 10))
}

// home leads to the entrance of the campaign that is live.
func (s *Front) home(c fiber.Ctx) error {
	address, err := s.App.Publishing.Entrance(c)
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusFound).To("/" + address)
}

// download hands a digital product to whoever has the link of its order.
func (s *Front) download(c fiber.Ctx) error {
	o, err := s.App.Selling.OrderByLink(c, strings.Clone(c.Params("token")))
	if err != nil {
		return err
	}
	f, err := s.App.Selling.Download(c, o, strings.Clone(c.Params("variant")))
	if err != nil {
		return err
	}
	c.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": f.Name}))
	c.Set("Content-Type", "application/octet-stream")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	return c.Send(f.Bytes)
}

func (s *Front) picture(c fiber.Ctx) error { return media.Picture(c, s.App.Pictures, "public") }

// handout sends a file to be kept, never to be shown.
func (s *Front) handout(c fiber.Ctx) error {
	f, err := s.App.Pictures.Handout(c, strings.Clone(c.Params("file")))
	if err != nil {
		return err
	}
	c.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": f.Name}))
	c.Set("Content-Type", f.Mime)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "public, max-age=86400")
	return c.Send(f.Bytes)
}

func (s *Front) video(c fiber.Ctx) error { return media.Video(c, s.App.Pictures, "public") }

func (s *Front) legal(title string, text func(store.Shop) string) fiber.Handler {
	return func(c fiber.Ctx) error {
		shop, err := s.App.Store.Shop(c)
		if err != nil {
			return err
		}
		return s.plainPage(c, fiber.StatusOK, map[string]any{"Title": title, "Shop": shop, "Text": text(shop)})
	}
}

// contact is the built-in contact page, unless the store has one of its own.
func (s *Front) contact(c fiber.Ctx) error {
	own, err := s.App.Publishing.LiveFor(c, "contact")
	if err != nil {
		return err
	}
	if own != "" {
		return seeOther(c, "/"+own)
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	return s.plainPage(c, fiber.StatusOK, map[string]any{"Title": "Contact", "Shop": shop, "Contact": true})
}

// say answers with a sentence on a page of its own.
func (s *Front) say(c fiber.Ctx, status int, title, text, back string) error {
	if wantsJSON(c) {
		return c.Status(status).JSON(map[string]any{"notice": text, "errors": map[string]string{}})
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		shop = store.Shop{}
	}
	return s.plainPage(c, status, map[string]any{"Title": title, "Shop": shop, "Text": text, "Back": back})
}

func (s *Front) plainPage(c fiber.Ctx, status int, values map[string]any) error {
	house, _, err := s.App.House.House(c)
	if err != nil {
		house = style.House{} // what went wrong is told in the look that ships
	}
	if house.Logo != "" {
		if pic, known, err := s.App.Pictures.PictureOf(c, house.Logo); err == nil && known {
			values["Logo"] = pic
		}
	}
	assets := s.App.Render.Assets
	values["Style"] = template.CSS(house.CSS(assets.Path) + assets.PageCSS + assets.PieceCSS("legal")) //nolint:gosec // our own build, and a house of known parts
	var out bytes.Buffer
	if err := s.plain.ExecuteTemplate(&out, "plain", values); err != nil {
		return err
	}
	headers(c, "default-src 'none'; style-src 'unsafe-inline'; font-src 'self'; img-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	c.Set("Cache-Control", "no-store")
	return c.Status(status).Type("html", "utf-8").Send(out.Bytes())
}

func headers(c fiber.Ctx, policy string) {
	c.Set("Content-Security-Policy", policy)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "strict-origin-when-cross-origin")
}

// fail turns an error into a page with a sentence.
func (s *Front) fail(c fiber.Ctx, err error) error {
	var refused refusal.Refusal
	var http *fiber.Error
	switch {
	case errors.As(err, &refused) && errors.Is(err, refusal.ErrNotFound):
		return s.say(c, fiber.StatusNotFound, "Not found", refused.Say, "")
	case errors.As(err, &refused):
		return s.say(c, fiber.StatusConflict, "This cannot be done", refused.Say, "")
	case errors.As(err, &http) && http.Code == fiber.StatusRequestEntityTooLarge:
		return s.say(c, http.Code, "Too much at once", "What was sent is larger than any of our forms. Nothing was charged.", "")
	case errors.As(err, &http) && http.Code < 500:
		return s.say(c, http.Code, "Not found", "There is no page at this address.", "")
	}
	s.App.Log.Error("a visitor's request failed", "path", c.Path(), "error", err)
	return s.say(c, fiber.StatusInternalServerError, "Something went wrong here",
		"The fault is ours. If you were paying, open the same page again: it knows whether you have been charged, and you are never charged twice.", "")
}

func wantsJSON(c fiber.Ctx) bool {
	return strings.Contains(c.Get("Accept"), "application/json")
}

// Forget makes every kept page count as changed.
func (s *Front) Forget() { s.cache.forget() }
