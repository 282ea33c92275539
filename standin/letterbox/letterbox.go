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
	Clock  func() time.Time
	Assets *web.Assets
	pages  *template.Template
}

const mostBytes = 10 << 20

// Serve takes mail by SMTP until the context ends.
func (b *Box) Serve(ctx context.Context, l net.Listener) error {
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &session{box: b, ctx: ctx}, nil }))
	s.Domain, s.MaxMessageBytes, s.MaxRecipients = "letterbox.localhost", mostBytes, 50
	s.ReadTimeout, s.WriteTimeout = 30*time.Second, 30*time.Second
	go func() { <-ctx.Done(); _ = s.Close() }()
	if err := s.Serve(l); err != nil && ctx.Err() == nil {
		return fmt.Errorf("take mail: %w", err)
	}
	return nil
}

type session struct {
	box  *Box
	ctx  context.Context //nolint:containedctx // an SMTP session is handed no context of its own
	from string
	to   []string
}

// Mail notes the sender.
func (s *session) Mail(from string, _ *smtp.MailOptions) error { s.from = from; return nil }

// Rcpt notes a receiver.
func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error { s.to = append(s.to, to); return nil }

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
	l := read(raw)
	_, err = s.box.Store.Pool.Exec(s.ctx, `INSERT INTO letterbox.messages (sender, receiver, subject, at, raw) VALUES ($1, $2, $3, $4, $5)`,
		l.From, strings.Join(s.to, ", "), l.Subject, s.box.Clock(), raw)
	if err != nil {
		return fmt.Errorf("keep a letter: %w", err)
	}
	return nil
}

// letter is what a person reads of a message.
type letter struct{ From, To, Subject, Text, HTML string }

func read(raw []byte) letter {
	r, err := mail.CreateReader(bytes.NewReader(raw))
	if err != nil {
		return letter{Subject: "(cannot be read)", Text: string(raw)}
	}
	l := letter{From: decoded(r.Header.Get("From")), To: decoded(r.Header.Get("To"))}
	l.Subject, _ = r.Header.Subject()
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
	return f
}

func (b *Box) page(c fiber.Ctx, name string, values map[string]any) error {
	values["Style"] = b.Assets.Path("standin.css")
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; font-src 'self'; frame-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	c.Type("html", "utf-8")
	return b.pages.ExecuteTemplate(c.Response().BodyWriter(), name, values)
}

func (b *Box) list(c fiber.Ctx) error {
	rows, err := b.Store.Pool.Query(c, `SELECT id, sender, receiver, subject, at FROM letterbox.messages ORDER BY id DESC LIMIT 100`)
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
	return b.page(c, "list", map[string]any{"Letters": list})
}

func (b *Box) letter(c fiber.Ctx) (letter, error) {
	var raw []byte
	if err := b.Store.Pool.QueryRow(c, `SELECT raw FROM letterbox.messages WHERE id = $1`, c.Params("id")).Scan(&raw); err != nil {
		return letter{}, fiber.ErrNotFound
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
