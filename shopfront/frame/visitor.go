package frame

import (
	"net/url"
	"strings"
	"time"

	"chrysagon/core/goods"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// ZoneOf is what the browser says of its time zone, or "".
func ZoneOf(c fiber.Ctx) string {
	name, err := url.QueryUnescape(c.Cookies("zone"))
	if err != nil || len(name) > 60 {
		return ""
	}
	if _, err := time.LoadLocation(name); err != nil || name == "Local" {
		return ""
	}
	return name
}

// SameSite refuses forms that another site sent on a visitor's behalf.
func (f *Frame) SameSite(c fiber.Ctx) error {
	if origin := c.Get("Origin"); origin != "" && origin != "null" && origin != f.Origins.Shop {
		return f.Say(c, fiber.StatusForbidden, "This form came from another site", "It was refused, and nothing was charged. Open the page in this shop and try again.", "")
	}
	if site := c.Get("Sec-Fetch-Site"); site == "cross-site" {
		return f.Say(c, fiber.StatusForbidden, "This form came from another site", "It was refused, and nothing was charged. Open the page in this shop and try again.", "")
	}
	return c.Next()
}

// The cookie that holds a browser's secret.
const (
	VisitorCookie = "visitor"
	VisitorLength = 26 // characters of a secret
)

// Visitor reads the browser's secret, or gives it one. The secret is what
// joins an order to the browser that placed it.
//
// Who only looks a page up (a robot, a link checker, a prefetch, a HEAD) gets
// none and is no visitor: the answer is then "".
func (f *Frame) Visitor(c fiber.Ctx) string {
	if v := c.Cookies(VisitorCookie); Secret(v) {
		return strings.Clone(v)
	}
	if f.Passing(c) {
		return ""
	}
	v := store.NewSecret()
	c.Cookie(&fiber.Cookie{
		Name: VisitorCookie, Value: v, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		MaxAge: 365 * 24 * 3600, Secure: strings.HasPrefix(f.Origins.Shop, "https:"),
	})
	c.Request().Header.SetCookie(VisitorCookie, v) // whoever asks again within this request means the same
	f.came(c)
	return v
}

// GoingCookie says that a checkout of the page on which it holds was begun in this
// browser: the page is then drawn for it.
const GoingCookie = "going"

// Going notes that the checkout of a page was begun in this browser, for as long as what
// was typed in it is kept.
func (f *Frame) Going(c fiber.Ctx, address string, kept time.Duration) {
	c.Cookie(&fiber.Cookie{
		Name: GoingCookie, Value: "1", Path: "/" + address, HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		MaxAge: int(kept / time.Second), Secure: strings.HasPrefix(f.Origins.Shop, "https:"),
	})
}

// Address is that of a page, or of the page of one of the goods, which the request names.
func Address(c fiber.Ctx) string {
	if slug := c.Params("good"); slug != "" {
		return goods.Path + slug
	}
	return c.Params("address")
}

// Path is where the page that a request names is found; nothing that is asked for can
// lead out of the shop by it.
func Path(c fiber.Ctx) string {
	if slug := c.Params("good"); slug != "" {
		return "/" + goods.Path + url.PathEscape(slug)
	}
	return "/" + url.PathEscape(c.Params("address"))
}

// At registers a handler at a path of pages, and of the pages of goods.
func At(out fiber.Router, method, path string, handlers ...any) {
	out.Add([]string{method}, "/:address"+path, handlers[0], handlers[1:]...)
	out.Add([]string{method}, "/"+goods.Path+":good"+path, handlers[0], handlers[1:]...)
}

// Viewer is the visitor who looks, or "" where nobody does.
func (f *Frame) Viewer(c fiber.Ctx) string {
	if f.Passing(c) {
		return ""
	}
	return f.Visitor(c)
}

// Secret tells whether a text can be a browser's secret.
func Secret(text string) bool {
	if len(text) != VisitorLength {
		return false
	}
	for i := range len(text) {
		if c := text[i] | 0x20; (c < 'a' || c > 'z') && (c < '0' || c > '9') {
			return false
		}
	}
	return true
}

// Passing tells whether nobody looks: the request is no person's visit.
func (f *Frame) Passing(c fiber.Ctx) bool {
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
	return f.known.Is(c.Get("User-Agent"))
}
