package till

import (
	"crypto/subtle"
	"embed"
	"errors"
	"html/template"
	"net/url"
	"regexp"
	"strings"
	"time"

	"chrysagon/internal/wire"
	"chrysagon/web"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"
)

//go:embed views/*.html
var views embed.FS

// Server is the till's pages and API.
type Server struct {
	Ledger *Ledger
	Assets *web.Assets
	Key    string // the shop's
	Hang   func() // how the till fails to answer
	Forms  int    // how many cards one address may type in a minute
	pages  *template.Template
}

// App makes the till's handler.
func (s *Server) App() *fiber.App {
	s.pages = template.Must(template.New("").ParseFS(views, "views/*.html"))
	f := fiber.New(fiber.Config{BodyLimit: 64 * 1024, ErrorHandler: s.fail})
	many := limiter.New(limiter.Config{Max: s.Forms, Expiration: time.Minute})
	f.Get("/", s.ledger)
	f.Get("/field", s.field)
	f.Post("/tokens", many, s.tokenize)
	f.Get("/card", s.cardPage)
	f.Post("/card", many, s.takeCard)
	f.Get("/confirm/:id", s.confirmPage)
	f.Post("/confirm/:id", s.confirm)
	api := f.Group("/api", s.authorised)
	api.Post("/charges", s.charge)
	api.Post("/charges/:key/conclude", s.conclude)
	api.Post("/refunds", s.refund)
	return f
}

func (s *Server) fail(c fiber.Ctx, err error) error {
	status := fiber.StatusInternalServerError
	var known *fiber.Error
	if errors.As(err, &known) {
		status = known.Code
	}
	c.Status(status)
	say := "Something went wrong at the till. Nothing was charged by this page."
	if status == fiber.StatusNotFound {
		say = "The till has no such page."
	}
	return s.page(c, "say", map[string]any{"Title": "The till", "Say": say})
}

// page sends a page no other site may frame, but for the card field.
func (s *Server) page(c fiber.Ctx, name string, values map[string]any) error {
	values["Style"], values["Script"] = s.Assets.Path("standin.css"), s.Assets.Path("cardfield.js")
	values["Cards"] = Cards
	ancestors := "'none'"
	if name == "field" {
		ancestors = s.Ledger.Shop
	}
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; script-src 'self'; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self' "+s.Ledger.Shop+"; frame-ancestors "+ancestors)
	c.Set("Referrer-Policy", "no-referrer")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	c.Type("html", "utf-8")
	return s.pages.ExecuteTemplate(c.Response().BodyWriter(), name, values)
}

func (s *Server) field(c fiber.Ctx) error {
	return s.page(c, "field", map[string]any{"Shop": s.Ledger.Shop})
}

// typed is what stands in the card form.
type typed struct{ Number, Expiry, Code string }

var expiryForm = regexp.MustCompile(`^(0[1-9]|1[0-2]) ?/ ?(\d{2})$`)

// fault says what is wrong with a card, or names its manner and last digits.
func (t typed) read(now time.Time) (m Manner, lastFour, fault string) {
	digits := strings.NewReplacer(" ", "", "-", "").Replace(t.Number)
	if digits == "" {
		return "", "", "Write the card number."
	}
	if !Luhn(digits) {
		return "", "", "This card number is not right; check it digit by digit."
	}
	end := expiryForm.FindStringSubmatch(strings.TrimSpace(t.Expiry))
	if end == nil {
		return "", "", "Write the expiry as month and year, such as 08/31."
	}
	if last, err := time.Parse("01/06", end[1]+"/"+end[2]); err != nil || !now.Before(last.AddDate(0, 1, 0)) {
		return "", "", "This card has expired. Use another."
	}
	if code := strings.TrimSpace(t.Code); len(code) < 3 || len(code) > 4 || strings.Trim(code, "0123456789") != "" {
		return "", "", "Write the three or four digits of the security code."
	}
	m, ok := manner(digits)
	if !ok {
		return "", "", "This till takes only its test cards. " + Cards[0].Number + " is approved."
	}
	return m, digits[len(digits)-4:], ""
}

func form(c fiber.Ctx) typed {
	return typed{Number: c.FormValue("number"), Expiry: c.FormValue("expiry"), Code: c.FormValue("code")}
}

func (s *Server) tokenize(c fiber.Ctx) error {
	m, lastFour, fault := form(c).read(s.Ledger.Clock())
	if fault != "" {
		return c.JSON(map[string]string{"error": fault})
	}
	token, err := s.Ledger.Tokenize(c, m, lastFour)
	if err != nil {
		return err
	}
	return c.JSON(map[string]string{"token": token})
}

// back accepts only the shop's own addresses to return to.
func (s *Server) back(address string) (string, bool) {
	u, err := url.Parse(address)
	return address, err == nil && u.User == nil && strings.HasPrefix(address, s.Ledger.Shop+"/")
}

func (s *Server) cardPage(c fiber.Ctx) error {
	back, ok := s.back(c.Query("return"))
	if !ok {
		c.Status(fiber.StatusBadRequest)
		return s.page(c, "say", map[string]any{"Title": "The till", "Say": "This link does not lead back to a shop of this till, so it was refused. Nothing was charged."})
	}
	return s.page(c, "card", map[string]any{"Return": back})
}

func (s *Server) takeCard(c fiber.Ctx) error {
	back, ok := s.back(c.FormValue("return"))
	if !ok {
		return fiber.ErrBadRequest
	}
	t := form(c)
	m, lastFour, fault := t.read(s.Ledger.Clock())
	if fault != "" {
		c.Status(fiber.StatusUnprocessableEntity)
		return s.page(c, "card", map[string]any{"Return": back, "Fault": fault, "Typed": t})
	}
	token, err := s.Ledger.Tokenize(c, m, lastFour)
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(back + "?token=" + url.QueryEscape(token))
}

func (s *Server) confirmPage(c fiber.Ctx) error {
	found, err := s.Ledger.find(c, "id", c.Params("id"))
	if err != nil {
		return fiber.ErrNotFound
	}
	if found.State != "confirming" {
		return c.Redirect().Status(fiber.StatusSeeOther).To(found.ReturnURL)
	}
	return s.page(c, "confirm", map[string]any{"Charge": found})
}

func (s *Server) confirm(c fiber.Ctx) error {
	found, err := s.Ledger.Confirm(c, c.Params("id"), c.FormValue("answer") == "yes")
	if err != nil {
		return fiber.ErrNotFound
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(found.ReturnURL + "?returned=1")
}

func (s *Server) ledger(c fiber.Ctx) error {
	list, err := s.Ledger.newest(c)
	if err != nil {
		return err
	}
	back, err := s.Ledger.newestRefunds(c)
	if err != nil {
		return err
	}
	return s.page(c, "ledger", map[string]any{"Charges": list, "Refunds": back})
}

func (s *Server) authorised(c fiber.Ctx) error {
	if subtle.ConstantTimeCompare([]byte(c.Get("Authorization")), []byte("Bearer "+s.Key)) != 1 {
		return wire.Problem(c, fiber.StatusUnauthorized, "The key is missing or wrong.")
	}
	return c.Next()
}

func (s *Server) charge(c fiber.Ctx) error {
	var r Request
	if err := c.Bind().JSON(&r); err != nil {
		return wire.Problem(c, fiber.StatusBadRequest, "The body is not the JSON of a charge.")
	}
	key := c.Get("Idempotency-Key")
	if key == "" || len(key) > 100 {
		return wire.Problem(c, fiber.StatusBadRequest, "An Idempotency-Key of 1 to 100 characters is needed.")
	}
	if fault := r.fault(s.Ledger.Shop); fault != "" {
		return wire.Problem(c, fiber.StatusUnprocessableEntity, fault)
	}
	made, m, err := s.Ledger.Charge(c, strings.Clone(key), r)
	switch {
	case errors.Is(err, errReuse):
		return wire.Problem(c, fiber.StatusConflict, err.Error())
	case errors.Is(err, errCard):
		return c.JSON(map[string]any{"key": key, "state": "refused", "message": "The card details are used up or unknown. Type the card again. Nothing was charged."})
	case err != nil:
		return err
	}
	if m == TimesOut && s.Hang != nil {
		s.Hang()
	}
	return c.JSON(s.Ledger.message(made))
}

func (s *Server) conclude(c fiber.Ctx) error {
	made, err := s.Ledger.Conclude(c, strings.Clone(c.Params("key")))
	if err != nil {
		return err
	}
	return c.JSON(s.Ledger.message(made))
}
