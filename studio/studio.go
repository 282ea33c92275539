// Package studio is the owner's side: it shows what app knows and hands on
// what the owner does. It holds no rules.
package studio

import (
	"bytes"
	"embed"
	"errors"
	"html/template"
	"strings"
	"time"

	"chrysagon/app"
	"chrysagon/core/deadline"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"
)

//go:embed views/*.html
var views embed.FS

// Studio is the owner's side of the program.
type Studio struct {
	App      *app.App
	Demo     bool
	Email    string // shown on the sign-in page in demo mode
	Password string // likewise
	pages    *template.Template
}

// Handler makes the studio's handler.
func (s *Studio) Handler() *fiber.App {
	s.pages = template.Must(template.New("").Funcs(s.funcs()).ParseFS(views, "views/*.html"))
	f := fiber.New(fiber.Config{BodyLimit: 2 << 20, ErrorHandler: s.fail})
	f.Use(s.guardHeaders)
	tries := limiter.New(limiter.Config{
		Max: 10, Expiration: 5 * time.Minute, SkipSuccessfulRequests: true,
		LimitReached: func(c fiber.Ctx) error {
			return s.signInAgain(c, fiber.StatusTooManyRequests, "Too many tries. Wait five minutes, then try again.")
		},
	})
	f.Get("/sign-in", s.signInPage)
	f.Post("/sign-in", tries, s.ownOrigin, s.signIn)
	in := f.Group("/", s.signedIn, s.csrf)
	in.Post("/sign-out", s.signOut)
	in.Get("/", func(c fiber.Ctx) error { return seeOther(c, "/pages") })
	in.Get("/pages", s.pagesPlace)
	in.Get("/pages/:id", s.manuscript)
	in.Post("/pages/:id/commands", s.command)
	in.Get("/pages/:id/proof", s.proof)
	in.Get("/pages/:id/proof.json", s.proofParts)
	in.Get("/pages/:id/slip/:piece", s.slip)
	in.Post("/pages/:id/name", s.rename)
	in.Get("/pictures/:file", s.picture)
	in.Get("/offers", s.offersPlace)
	in.Get("/offers/receipt", s.receipt)
	in.Post("/offers", s.saveOffer)
	in.Post("/deadlines", s.saveDeadline)
	in.Get("/publish", s.publishPanel)
	in.Post("/publish", s.publish)
	in.Post("/editions/:id/back", s.putBack)
	in.Get("/live", s.livePart)
	in.Get("/results", s.results)
	in.Get("/results/body", s.resultsBody)
	in.Get("/changes", s.changes)
	return f
}

func (s *Studio) funcs() template.FuncMap {
	return template.FuncMap{
		"icon":  s.App.Render.Assets.Icon,
		"asset": s.App.Render.Assets.Path,
		"short": deadline.Short,
		"full":  deadline.Written,
		"local": func(at time.Time, zone string) string {
			loc, err := time.LoadLocation(zone)
			if err != nil {
				loc = time.UTC
			}
			return at.In(loc).Format(deadline.LocalLayout)
		},
		"dict": dict,
	}
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

func (s *Studio) guardHeaders(c fiber.Ctx) error {
	c.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; frame-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "same-origin")
	c.Set("Cache-Control", "no-store")
	return c.Next()
}

const sessionCookie = "session"

type signedInKey struct{}

// signedIn lets only those pass who have a session.
func (s *Studio) signedIn(c fiber.Ctx) error {
	who, err := s.App.Session(c, c.Cookies(sessionCookie))
	if errors.Is(err, app.ErrNotFound) {
		if c.Get("HX-Request") != "" {
			c.Set("HX-Redirect", "/sign-in")
			return c.SendStatus(fiber.StatusUnauthorized)
		}
		if c.Method() != fiber.MethodGet {
			return c.Status(fiber.StatusUnauthorized).JSON(map[string]string{"error": "You are signed out. Sign in again in another window, then go on here; nothing is lost."})
		}
		return seeOther(c, "/sign-in")
	}
	if err != nil {
		return err
	}
	campaign, err := s.App.CampaignAtHand(c)
	if err != nil {
		return err
	}
	c.Locals(signedInKey{}, who)
	c.Locals(atHandKey{}, campaign)
	return c.Next()
}

type atHandKey struct{}

// atHand is the campaign the studio is open on.
func atHand(c fiber.Ctx) string {
	id, _ := c.Locals(atHandKey{}).(string)
	return id
}

func who(c fiber.Ctx) app.SignedIn {
	w, _ := c.Locals(signedInKey{}).(app.SignedIn)
	return w
}

// csrf lets only those forms pass that this session's own pages made.
func (s *Studio) csrf(c fiber.Ctx) error {
	if c.Method() == fiber.MethodGet || c.Method() == fiber.MethodHead {
		return c.Next()
	}
	token := c.Get("X-Csrf-Token")
	if token == "" {
		token = c.FormValue("csrf")
	}
	if token == "" || token != who(c).CSRF {
		return fiber.NewError(fiber.StatusForbidden, "This form is not from this session. Load the page again and send it once more.")
	}
	return c.Next()
}

// ownOrigin guards the sign-in form, before there is a session.
func (s *Studio) ownOrigin(c fiber.Ctx) error {
	if o := c.Get("Origin"); o != "" && o != s.App.Origins.Studio {
		return s.signInAgain(c, fiber.StatusForbidden, "This form came from another site and was refused. Sign in here.")
	}
	return c.Next()
}

func seeOther(c fiber.Ctx, to string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

func (s *Studio) signInPage(c fiber.Ctx) error { return s.signInAgain(c, fiber.StatusOK, "") }

func (s *Studio) signInAgain(c fiber.Ctx, status int, notice string) error {
	values := map[string]any{"Title": "Sign in", "Notice": notice, "Demo": s.Demo, "Email": s.Email, "Password": s.Password, "Typed": strings.Clone(c.FormValue("email"))}
	return s.render(c, status, "sign-in", values)
}

func (s *Studio) signIn(c fiber.Ctx) error {
	token, err := s.App.SignIn(c, strings.Clone(c.FormValue("email")), c.FormValue("password"))
	var refusal app.Refusal
	if errors.As(err, &refusal) {
		return s.signInAgain(c, fiber.StatusUnauthorized, refusal.Say)
	}
	if err != nil {
		return err
	}
	c.Cookie(&fiber.Cookie{
		Name: sessionCookie, Value: token, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		MaxAge: 14 * 24 * 3600, Secure: strings.HasPrefix(s.App.Origins.Studio, "https:"),
	})
	return seeOther(c, "/pages")
}

func (s *Studio) signOut(c fiber.Ctx) error {
	if err := s.App.SignOut(c, c.Cookies(sessionCookie)); err != nil {
		return err
	}
	c.Cookie(&fiber.Cookie{Name: sessionCookie, Value: "", Path: "/", MaxAge: -1, HTTPOnly: true})
	return seeOther(c, "/sign-in")
}

// place renders a place of the studio in its frame.
func (s *Studio) place(c fiber.Ctx, view, place string, values map[string]any) error {
	if values["State"] == nil {
		state, err := s.App.Changes(c, atHand(c))
		if err != nil {
			return err
		}
		values["State"] = state
	}
	values["Place"], values["CSRF"], values["Who"] = place, who(c).CSRF, who(c).User
	values["Shop"] = s.App.Origins.Shop
	return s.render(c, fiber.StatusOK, view, values)
}

func (s *Studio) render(c fiber.Ctx, status int, view string, values map[string]any) error {
	html, err := s.html(view, values)
	if err != nil {
		return err
	}
	return c.Status(status).Type("html", "utf-8").SendString(html)
}

func (s *Studio) html(view string, values any) (string, error) {
	var out bytes.Buffer
	if err := s.pages.ExecuteTemplate(&out, view, values); err != nil {
		return "", err
	}
	return out.String(), nil
}

func (s *Studio) picture(c fiber.Ctx) error {
	hash, _, _ := strings.Cut(c.Params("file"), ".")
	pic, err := s.App.Picture(c, hash)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "private, max-age=31536000, immutable")
	c.Set("Content-Type", pic.Mime)
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
	return c.Send(pic.Bytes)
}

// fail says what went wrong: as a notice to htmx and scripts, as a page else.
func (s *Studio) fail(c fiber.Ctx, err error) error {
	status, say := fiber.StatusInternalServerError, "Something went wrong on our side. Nothing that was saved is lost. Load the page again."
	var refusal app.Refusal
	var http *fiber.Error
	switch {
	case errors.As(err, &refusal):
		say = refusal.Say
		status = map[error]int{app.ErrNotFound: 404, app.ErrInvalid: 422, app.ErrConflict: 409, app.ErrRefused: 403}[refusal.Kind]
	case errors.As(err, &http) && http.Code == fiber.StatusForbidden:
		status, say = http.Code, http.Message
	case errors.As(err, &http) && http.Code < 500:
		status, say = http.Code, "There is nothing at this address."
	default:
		s.App.Log.Error("a studio request failed", "path", c.Path(), "error", err)
	}
	if c.Get("HX-Request") != "" || strings.Contains(c.Get("Accept"), "application/json") || strings.HasPrefix(c.Get("Content-Type"), "application/json") {
		return c.Status(status).JSON(map[string]string{"error": say})
	}
	return s.render(c, status, "say", map[string]any{"Title": "Chrysagon", "Say": say})
}
