// Package frame is what all places of the studio stand in: session, views, answers.
package frame

import (
	"bytes"
	"context"
	"embed"
	"errors"
	"html/template"
	"log/slog"
	"strconv"
	"strings"
	"sync"

	"chrysagon/app/account"
	"chrysagon/app/calendar"
	"chrysagon/app/publishing"
	"chrysagon/core/origin"
	"chrysagon/core/refusal"
	"chrysagon/internal/wire"
	"chrysagon/render"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Frame is what surrounds the places.
type Frame struct {
	Accounts   *account.Accounts
	Calendar   *calendar.Calendar
	Publishing *publishing.Publisher
	Render     *render.Renderer
	Store      *store.Store
	Origins    *origin.Origins
	Log        *slog.Logger

	pages  *template.Template
	doings []Doing
	tabs   []Tab
	files  []string
	once   sync.Once
	money  string
}

// Fragment sends a part of a page.
func (f *Frame) Fragment(c fiber.Ctx, name string, value any) error {
	html, err := f.HTML(name, value)
	if err != nil {
		return err
	}
	return c.Type("html", "utf-8").SendString(html)
}

// Currency is the store's, which never changes.
func (f *Frame) Currency() string {
	f.once.Do(func() {
		if shop, err := f.Store.Shop(context.Background()); err == nil {
			f.money = shop.Currency
		}
	})
	return f.money
}

// Whole writes a number, and nothing for none.
func Whole(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

// dict joins names and values, to hand several to one template.
func dict(pairs ...any) map[string]any {
	m := map[string]any{}
	for i := 0; i+1 < len(pairs); i += 2 {
		if name, ok := pairs[i].(string); ok {
			m[name] = pairs[i+1]
		}
	}
	return m
}

func (f *Frame) guardHeaders(c fiber.Ctx) error {
	c.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; frame-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "same-origin")
	c.Set("Cache-Control", "no-store")
	return c.Next()
}

// SeeOther leads on after a form.
func SeeOther(c fiber.Ctx, to string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// Show renders a place of the studio in its frame.
func (f *Frame) Show(c fiber.Ctx, view, place string, values map[string]any) error {
	return f.ShowAs(c, fiber.StatusOK, view, place, values)
}

// ShowAs is [Frame.Show] with a status: what was typed is shown again where it must be mended.
func (f *Frame) ShowAs(c fiber.Ctx, status int, view, place string, values map[string]any) error {
	if values["State"] == nil {
		state, err := f.Publishing.Changes(c, AtHand(c))
		if err != nil {
			return err
		}
		values["State"] = state
	}
	values["Place"], values["CSRF"], values["Who"] = place, Who(c).CSRF, Who(c).User
	values["Shop"] = f.Origins.Shop
	values["Campaigns"] = Campaigns(c)
	return f.Send(c, status, view, values)
}

// Send renders a whole page.
func (f *Frame) Send(c fiber.Ctx, status int, view string, values map[string]any) error {
	html, err := f.HTML(view, values)
	if err != nil {
		return err
	}
	return c.Status(status).Type("html", "utf-8").SendString(html)
}

// HTML renders a view.
func (f *Frame) HTML(view string, values any) (string, error) {
	var out bytes.Buffer
	if err := f.pages.ExecuteTemplate(&out, view, values); err != nil {
		return "", err
	}
	return out.String(), nil
}

// StatusOf is the status with which a refusal is answered.
func StatusOf(r refusal.Refusal) int {
	return map[error]int{refusal.ErrNotFound: 404, refusal.ErrInvalid: 422, refusal.ErrConflict: 409, refusal.ErrRefused: 403, refusal.ErrTooMany: 429, refusal.ErrGone: 410}[r.Kind]
}

// AsRefusal takes the refusal out of an error.
func AsRefusal(err error, r *refusal.Refusal) bool { return errors.As(err, r) }

// fail says what went wrong: as a notice to htmx and scripts, as a page else.
func (f *Frame) fail(c fiber.Ctx, err error) error {
	status, say := fiber.StatusInternalServerError, "Something went wrong on our side. Nothing that was saved is lost. Load the page again."
	var refused refusal.Refusal
	var http *fiber.Error
	switch {
	case errors.As(err, &refused):
		say = refused.Say
		status = StatusOf(refused)
	case errors.As(err, &http) && http.Code < 500 && http.Message != fiber.NewError(http.Code).Message: // told in words of our own
		status, say = http.Code, http.Message
	case errors.As(err, &http) && http.Code < 500:
		status, say = http.Code, "There is nothing at this address."
	default:
		f.Log.Error("a studio request failed", "path", c.Path(), "error", err)
	}
	if c.Get("HX-Request") != "" || strings.Contains(c.Get("Accept"), "application/json") || strings.HasPrefix(c.Get("Content-Type"), "application/json") {
		return wire.Problem(c, status, say)
	}
	return f.Send(c, status, "say", map[string]any{"Title": "Chrysagon", "Say": say})
}
