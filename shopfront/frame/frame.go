// Package frame is what all of the shopfront stands in: who visits, plain pages, answers.
package frame

import (
	"bytes"
	"embed"
	"errors"
	"html/template"
	"log/slog"
	"strings"
	"time"

	"chrysagon/app/house"
	"chrysagon/app/pictures"
	"chrysagon/core/manuscript"
	"chrysagon/core/origin"
	"chrysagon/core/refusal"
	"chrysagon/core/style"
	"chrysagon/internal/robots"
	"chrysagon/render"
	"chrysagon/store"
	"chrysagon/web"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"
)

//go:embed views/*.html
var views embed.FS

// Frame is what surrounds the pages.
type Frame struct {
	Store    *store.Store
	Render   *render.Renderer
	House    *house.Keeper
	Pictures *pictures.Library
	Origins  *origin.Origins
	Log      *slog.Logger
	Forms    int // how many forms one address may send in a minute

	known *robots.Known // by which robots are told from people
	plain *template.Template
}

// Limits are the guards of what is sent and asked for.
type Limits struct {
	Forms fiber.Handler // forms
	Sums  fiber.Handler // what a form comes to, which is asked at every change of it
	Links fiber.Handler // links with a secret
}

// Part is one part of the shopfront: the routes it answers. A route that could take
// another's address comes after it.
type Part func(out fiber.Router, limits Limits)

// Handler joins the parts.
func (f *Frame) Handler(parts ...Part) *fiber.App {
	known, err := robots.New(web.Robots())
	if err != nil {
		panic(err) // the list ships with the program and is read in a test
	}
	f.known = known
	f.plain = template.Must(template.New("").ParseFS(views, "views/*.html"))
	app := fiber.New(fiber.Config{BodyLimit: 256 * 1024, ErrorHandler: f.fail})
	limits := Limits{
		Forms: f.limit(f.Forms, "Too many forms came from here in a minute. Wait a minute, then go back and try again. Nothing was charged."),
		Sums:  f.limit(4*f.Forms, "Too many prices were asked for from here in a minute. Wait a minute, then go on. Nothing was charged."),
		Links: f.limit(4*f.Forms, "Too many orders were asked for from here in a minute. Wait a minute, then open the link again."),
	}
	for _, part := range parts {
		part(app, limits)
	}
	return app
}

// limit lets so many requests of one address in a minute pass.
func (f *Frame) limit(most int, say string) fiber.Handler {
	return limiter.New(limiter.Config{Max: most, Expiration: time.Minute, LimitReached: func(c fiber.Ctx) error {
		return f.Say(c, fiber.StatusTooManyRequests, "That was a little fast", say, "")
	}})
}

// SeeOther leads on after a form.
func SeeOther(c fiber.Ctx, to string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// Onward leads on after a form, to a page of the shop or elsewhere. A form's policy
// lets it lead nowhere else, so that a page of its own leads there.
func (f *Frame) Onward(c fiber.Ctx, path string) error {
	if strings.HasPrefix(path, "/") {
		return SeeOther(c, path)
	}
	c.Set("Refresh", "0;url="+path)
	shop, err := f.Store.Shop(c)
	if err != nil {
		return err
	}
	return f.Plain(c, fiber.StatusOK, map[string]any{"Title": "One moment", "Shop": shop, "Text": "The next page is elsewhere, and opens by itself.", "Back": path, "BackSays": "Go on"})
}

// Say answers with a sentence on a page of its own.
func (f *Frame) Say(c fiber.Ctx, status int, title, text, back string) error {
	if WantsJSON(c) {
		return c.Status(status).JSON(map[string]any{"notice": text, "errors": map[string]string{}})
	}
	shop, err := f.Store.Shop(c)
	if err != nil {
		shop = store.Shop{}
	}
	return f.Plain(c, status, map[string]any{"Title": title, "Shop": shop, "Text": text, "Back": back})
}

// Plain answers with a page in the house's look that nobody wrote.
func (f *Frame) Plain(c fiber.Ctx, status int, values map[string]any) error {
	house, _, err := f.House.House(c)
	if err != nil {
		house = style.House{} // what went wrong is told in the look that ships
	}
	if house.Logo != "" {
		if pic, known, err := f.Pictures.PictureOf(c, house.Logo); err == nil && known {
			values["Logo"] = pic
		}
	}
	assets := f.Render.Assets
	css := house.CSS(assets.Path) + house.Composed() + assets.Sheet("page") + assets.Sheet("pieces/"+f.Render.Registry.Schema().Named(func(t manuscript.Traits) bool { return t.Legal }))
	if values["Letters"] != nil {
		css += assets.Sheet("pieces/" + f.Render.Registry.Schema().Named(func(t manuscript.Traits) bool { return t.Asks }))
	}
	values["Style"] = template.CSS(css) //nolint:gosec // our own build, and a house of known parts
	var out bytes.Buffer
	if err := f.plain.ExecuteTemplate(&out, "plain", values); err != nil {
		return err
	}
	Headers(c, "default-src 'none'; style-src 'unsafe-inline'; font-src 'self'; img-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
	c.Set("Cache-Control", "no-store")
	return c.Status(status).Type("html", "utf-8").Send(out.Bytes())
}

// Headers guard what is sent, under a policy of its own.
func Headers(c fiber.Ctx, policy string) {
	c.Set("Content-Security-Policy", policy)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "strict-origin-when-cross-origin")
}

// fail turns an error into a page with a sentence.
func (f *Frame) fail(c fiber.Ctx, err error) error {
	var refused refusal.Refusal
	var http *fiber.Error
	switch {
	case errors.As(err, &refused) && errors.Is(err, refusal.ErrNotFound):
		return f.Say(c, fiber.StatusNotFound, "Not found", refused.Say, "")
	case errors.As(err, &refused) && errors.Is(err, refusal.ErrGone):
		return f.Say(c, fiber.StatusGone, "No longer here", refused.Say, "")
	case errors.As(err, &refused):
		return f.Say(c, fiber.StatusConflict, "This cannot be done", refused.Say, "")
	case errors.As(err, &http) && http.Code == fiber.StatusRequestEntityTooLarge:
		return f.Say(c, http.Code, "Too much at once", "What was sent is larger than any of our forms. Nothing was charged.", "")
	case errors.As(err, &http) && http.Code < 500:
		return f.Say(c, http.Code, "Not found", "There is no page at this address.", "")
	}
	f.Log.Error("a visitor's request failed", "path", c.Path(), "error", err)
	return f.Say(c, fiber.StatusInternalServerError, "Something went wrong here",
		"The fault is ours. If you were paying, open the same page again: it knows whether you have been charged, and you are never charged twice.", "")
}

// WantsJSON tells whether a script asks.
func WantsJSON(c fiber.Ctx) bool {
	return strings.Contains(c.Get("Accept"), "application/json")
}
