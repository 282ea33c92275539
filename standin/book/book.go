// Package book is the stand-in for an appointment book: a service that says
// which times are free, and keeps those that are taken.
package book

import (
	"context"
	"crypto/subtle"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"strconv"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/hours"
	"chrysagon/internal/wire"
	"chrysagon/store"
	"chrysagon/web"

	"github.com/gofiber/fiber/v3"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

//go:embed migrations/*.sql
var migrations embed.FS

//go:embed views/*.html
var views embed.FS

// Book keeps the appointments.
type Book struct {
	Store  *store.Store
	Clock  func() time.Time
	Assets *web.Assets
	Key    string // that callers of its API prove themselves with
	pages  *template.Template
}

// Open are the hours in which appointments are given.
var Open = []hours.Span{
	{Days: hours.Days["weekdays"], Opens: 10 * 60, Closes: 13 * 60}, {Days: hours.Days["weekdays"], Opens: 14 * 60, Closes: 17 * 60},
	{Days: hours.Days["saturday"], Opens: 10 * 60, Closes: 13 * 60},
}

// Booking is one appointment as the API takes and gives it.
type Booking struct {
	appointment.Slot
	Name    string `json:"name"`
	Email   string `json:"email"`
	Subject string `json:"subject"`
}

// App is the book's API and its page.
func (b *Book) App() *fiber.App {
	b.pages = template.Must(template.New("").ParseFS(views, "views/*.html"))
	f := fiber.New()
	f.Get("/", b.page)
	api := f.Group("/api", b.known)
	api.Get("/slots", b.slots)
	api.Post("/bookings", b.take)
	return f
}

// known lets only those call who hold the key.
func (b *Book) known(c fiber.Ctx) error {
	if subtle.ConstantTimeCompare([]byte(c.Get("Authorization")), []byte("Bearer "+b.Key)) != 1 {
		return c.SendStatus(fiber.StatusUnauthorized)
	}
	return c.Next()
}

func (b *Book) slots(c fiber.Ctx) error {
	minutes, _ := strconv.Atoi(c.Query("minutes"))
	days, _ := strconv.Atoi(c.Query("days"))
	now := b.Clock()
	taken, err := b.taken(c, now, now.AddDate(0, 0, days+1))
	if err != nil {
		return err
	}
	busy := make([]appointment.Slot, len(taken))
	for i, t := range taken {
		busy[i] = t.Slot
	}
	free, err := appointment.Free(Open, busy, now, days, minutes, c.Query("zone"))
	if err != nil {
		return wire.Problem(c, fiber.StatusUnprocessableEntity, err.Error())
	}
	return c.JSON(append([]appointment.Slot{}, free...))
}

func (b *Book) taken(ctx context.Context, from, to time.Time) ([]Booking, error) {
	rows, err := b.Store.Pool.Query(ctx, `SELECT at, extract(epoch FROM ends - at)::int / 60, name, email, subject FROM book.bookings WHERE ends > $1 AND at < $2 ORDER BY at`, from, to)
	if err != nil {
		return nil, fmt.Errorf("read the book: %w", err)
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (Booking, error) {
		var k Booking
		return k, row.Scan(&k.At, &k.Minutes, &k.Name, &k.Email, &k.Subject)
	})
}

// take writes an appointment down, once for each key.
func (b *Book) take(c fiber.Ctx) error {
	var k Booking
	key := c.Get("Idempotency-Key")
	if json.Unmarshal(c.Body(), &k) != nil || key == "" || k.Minutes < 5 || k.Minutes > 480 || k.Name == "" || k.Email == "" {
		return wire.Problem(c, fiber.StatusUnprocessableEntity, "a booking has a key, a slot, a name and an email")
	}
	_, err := b.Store.Pool.Exec(c, `INSERT INTO book.bookings (key, at, ends, name, email, subject) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT (key) DO NOTHING`, key, k.At, k.End(), k.Name, k.Email, k.Subject)
	var refused *pgconn.PgError
	if errors.As(err, &refused) && refused.Code == "23P01" { // exclusion_violation: somebody else has that time
		return wire.Problem(c, fiber.StatusConflict, "that time is taken")
	}
	if err != nil {
		return err
	}
	return c.Status(fiber.StatusCreated).JSON(k.Slot)
}

// page shows the coming weeks.
func (b *Book) page(c fiber.Ctx) error {
	now := b.Clock()
	list, err := b.taken(c, now.AddDate(0, 0, -1), now.AddDate(0, 2, 0))
	if err != nil {
		return err
	}
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; font-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	c.Type("html", "utf-8")
	return b.pages.ExecuteTemplate(c.Response().BodyWriter(), "book", map[string]any{"Style": b.Assets.Path("standin.css"), "List": list})
}
