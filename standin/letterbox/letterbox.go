// Package letterbox is the stand-in for the world's mailboxes: a real SMTP
// server whose letters can be read in the browser.
package letterbox

import (
	"bytes"
	"context"
	"embed"
	"fmt"
	"html/template"
	"io"
	"mime"
	"net"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"chrysagon/store"
	"chrysagon/web"

	_ "github.com/emersion/go-message/charset" // reads letters in any character set
	"github.com/emersion/go-message/mail"
	"github.com/emersion/go-smtp"
	"github.com/gofiber/fiber/v3"
	"github.com/jackc/pgx/v5"
)

//go:embed migrations/*.sql
var migrations embed.FS

//go:embed views/*.html
var views embed.FS

// Box keeps the letters.
type Box struct {
	Store  *store.Store
	Clock  func() time.Time // when letters come
	Assets *web.Assets
	// Returns is host:port where reports on letters are taken by SMTP; empty: nowhere.
	Returns string
	pages   *template.Template
	away    atomic.Bool // it answers no one

	mu    sync.Mutex
	tried map[string]int // by the sender's return address, of those who were deferred
}

const mostBytes = 10 << 20

// Serve takes mail by SMTP until the context ends.
func (b *Box) Serve(ctx context.Context, l net.Listener) error {
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return b.greet(ctx) }))
	s.Domain, s.MaxMessageBytes, s.MaxRecipients = "letterbox.localhost", mostBytes, 50
	s.ReadTimeout, s.WriteTimeout = 30*time.Second, 30*time.Second
	go func() { <-ctx.Done(); _ = s.Close() }()
	if err := s.Serve(l); err != nil && ctx.Err() == nil {
		return fmt.Errorf("take mail: %w", err)
	}
	return nil
}

// errAway is what a server says that takes nothing for now.
var errAway = &smtp.SMTPError{Code: 421, EnhancedCode: smtp.EnhancedCode{4, 3, 2}, Message: "the letterbox is shut, come back later"}

// errBroken is what a server says that cannot keep a letter now, and might another time.
var errBroken = &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 3, 0}, Message: "the letterbox cannot keep it now"}

func (b *Box) greet(ctx context.Context) (smtp.Session, error) {
	if b.away.Load() {
		return nil, errAway
	}
	return &session{box: b, ctx: ctx}, nil
}

type session struct {
	box  *Box
	ctx  context.Context //nolint:containedctx // an SMTP session is handed no context of its own
	from string
	to   []string
}

// Mail notes the sender.
func (s *session) Mail(from string, _ *smtp.MailOptions) error {
	if s.box.away.Load() {
		return errAway
	}
	s.from = from
	return nil
}

// Rcpt notes a receiver, as its mailbox behaves.
func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	if m := of(to); m.refuses != nil && s.box.refuses(s.from+" "+to, m.times) {
		return m.refuses
	}
	s.to = append(s.to, to)
	return nil
}

// refuses tells whether a mailbox refuses this time too, of so many; 0: each time.
func (b *Box) refuses(who string, times int) bool {
	if times == 0 {
		return true
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.tried == nil {
		b.tried = map[string]int{}
	}
	b.tried[who]++
	return b.tried[who] <= times
}

// Reset forgets the letter begun.
func (s *session) Reset() { s.from, s.to = "", nil }

// Logout ends the session.
func (s *session) Logout() error { return nil }

// Data takes the letter.
func (s *session) Data(r io.Reader) error {
	raw, err := io.ReadAll(r)
	if err != nil {
		return fmt.Errorf("read a letter: %w", err)
	}
	l, at := read(raw), s.box.Clock()
	for _, to := range s.to {
		m := of(to)
		if m.waits {
			at = at.Add(time.Minute)
		}
		if err := s.box.owe(s.ctx, m.report, s.from, to, raw); err != nil {
			return errBroken
		}
		if m.report.action == "failed" {
			return nil // it reached nobody
		}
	}
	_, err = s.box.Store.Pool.Exec(s.ctx, `INSERT INTO letterbox.messages (sender, receiver, subject, at, raw, message_id) VALUES ($1, $2, $3, $4, $5, $6)`,
		l.From, strings.Join(s.to, ", "), l.Subject, at, raw, l.ID)
	if err != nil {
		return errBroken
	}
	return nil
}

// letter is what a person reads of a message.
type letter struct{ ID, From, To, Subject, Text, HTML string }

func read(raw []byte) letter {
	r, err := mail.CreateReader(bytes.NewReader(raw))
	if err != nil {
		return letter{Subject: "(cannot be read)", Text: string(raw)}
	}
	l := letter{From: decoded(r.Header.Get("From")), To: decoded(r.Header.Get("To"))}
	l.Subject, _ = r.Header.Subject()
	l.ID, _ = r.Header.MessageID()
	for {
		part, err := r.NextPart()
		if err != nil {
			return l
		}
		inline, ok := part.Header.(*mail.InlineHeader)
		if !ok {
			continue
		}
		body, err := io.ReadAll(io.LimitReader(part.Body, mostBytes))
		if err != nil {
			continue
		}
		if kind, _, _ := inline.ContentType(); kind == "text/html" {
			l.HTML = string(body)
		} else if l.Text == "" {
			l.Text = string(body)
		}
	}
}

func decoded(header string) string {
	if text, err := new(mime.WordDecoder).DecodeHeader(header); err == nil {
		return text
	}
	return header
}

// App is the letterbox's pages.
func (b *Box) App() *fiber.App {
	b.pages = template.Must(template.New("").ParseFS(views, "views/*.html"))
	f := fiber.New()
	f.Get("/", b.list)
	f.Get("/letters/:id<int>", b.show)
	f.Get("/letters/:id<int>/body", b.body)
	f.Get("/letters/:id<int>/source", b.source)
	f.Post("/away", b.shut)
	f.Get("/ledger.json", b.ledger)
	return f
}

func (b *Box) page(c fiber.Ctx, name string, values map[string]any) error {
	values["Style"] = b.Assets.Path("standin.css")
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; font-src 'self'; frame-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	c.Type("html", "utf-8")
	return b.pages.ExecuteTemplate(c.Response().BodyWriter(), name, values)
}

func (b *Box) list(c fiber.Ctx) error {
	rows, err := b.Store.Pool.Query(c, `SELECT id, sender, receiver, subject, at FROM letterbox.messages WHERE at <= $1 ORDER BY id DESC LIMIT 100`, b.Clock())
	if err != nil {
		return err
	}
	type row struct {
		ID                        int64
		Sender, Receiver, Subject string
		At                        time.Time
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[row])
	if err != nil {
		return err
	}
	return b.page(c, "list", map[string]any{"Letters": list, "Manners": Manners, "Away": b.away.Load()})
}

// raw is a letter as it came over the wire.
func (b *Box) raw(c fiber.Ctx) ([]byte, error) {
	var raw []byte
	if err := b.Store.Pool.QueryRow(c, `SELECT raw FROM letterbox.messages WHERE id = $1`, c.Params("id")).Scan(&raw); err != nil {
		return nil, fiber.ErrNotFound
	}
	return raw, nil
}

func (b *Box) letter(c fiber.Ctx) (letter, error) {
	raw, err := b.raw(c)
	if err != nil {
		return letter{}, err
	}
	return read(raw), nil
}

func (b *Box) show(c fiber.Ctx) error {
	l, err := b.letter(c)
	if err != nil {
		return err
	}
	return b.page(c, "letter", map[string]any{"Letter": l, "ID": c.Params("id")})
}

// source is a letter as it came over the wire.
func (b *Box) source(c fiber.Ctx) error {
	raw, err := b.raw(c)
	if err != nil {
		return err
	}
	c.Set("X-Content-Type-Options", "nosniff")
	c.Type("txt", "utf-8")
	return c.Send(raw)
}

// ledger says how often each letter came, by whom it reached and its Message-ID.
func (b *Box) ledger(c fiber.Ctx) error {
	rows, err := b.Store.Pool.Query(c, `SELECT receiver, message_id, count(*)::int FROM letterbox.messages GROUP BY receiver, message_id ORDER BY min(id)`)
	if err != nil {
		return err
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[struct {
		Receiver  string `json:"receiver"`
		MessageID string `json:"message_id"`
		Times     int    `json:"times"`
	}])
	if err != nil {
		return err
	}
	return c.JSON(list)
}

// shut shuts the letterbox to servers that bring letters, or opens it again.
func (b *Box) shut(c fiber.Ctx) error {
	b.away.Store(c.FormValue("away") == "yes")
	return c.Redirect().Status(fiber.StatusSeeOther).To("/")
}

// body is a letter's own HTML, kept from running or loading anything.
func (b *Box) body(c fiber.Ctx) error {
	l, err := b.letter(c)
	if err != nil {
		return err
	}
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox allow-popups allow-popups-to-escape-sandbox; frame-ancestors 'self'")
	c.Type("html", "utf-8")
	return c.SendString(l.HTML)
}
