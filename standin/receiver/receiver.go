// Package receiver is the stand-in for another program that is told of what happens: it takes
// messages at any address, and shows each as it came.
package receiver

import (
	"embed"
	"fmt"
	"html/template"
	"strings"
	"time"

	"chrysagon/gateway/relayclient"
	"chrysagon/standin"
	"chrysagon/store"
	"chrysagon/web"

	"github.com/gofiber/fiber/v3"
	"github.com/jackc/pgx/v5"
	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
)

//go:embed migrations/*.sql
var migrations embed.FS

//go:embed views/*.html
var views embed.FS

const name = "receiver"

// StandIn is the receiver in the list of stand-ins.
var StandIn = standin.StandIn{Name: name, Says: "another program that is told of what happens", Tables: migrations, Begin: begin}

func begin(b standin.Beside) (standin.Part, error) {
	r := &Receiver{Store: b.Store, Clock: b.Store.Clock, Assets: b.Assets, Hang: b.Hang}
	b.Ports.Relays = relayclient.New(name + ".localhost")
	return standin.Part{Handle: r.App().Handler(), Most: 64 << 10}, nil
}

// Receiver keeps what it is told.
type Receiver struct {
	Store  *store.Store
	Clock  func() time.Time
	Assets *web.Assets
	Hang   func() // how it fails to answer
	pages  *template.Template
}

// Manners are how it answers, by the first part of the path.
var Manners = []struct{ Path, What string }{
	{"busy", "is busy twice (503), then takes it"}, {"broken", "fails each time (500)"}, {"over", "wants no more (410)"}, {"silent", "takes it and never answers"}, {"moved", "sends one elsewhere (302)"},
}

// App is its pages, and where it takes messages.
func (r *Receiver) App() *fiber.App {
	r.pages = template.Must(template.New("").ParseFS(views, "views/*.html"))
	f := fiber.New()
	f.Get("/", r.list)
	f.Post("/*", r.take)
	return f
}

// take takes a message, and answers as its path says.
func (r *Receiver) take(c fiber.Ctx) error {
	path := "/" + strings.Clone(c.Params("*"))
	first, _, _ := strings.Cut(strings.TrimPrefix(path, "/"), "/")
	id := strings.Clone(c.Get(webhooks.HeaderWebhookID))
	status := map[string]int{"broken": 500, "over": 410, "moved": 302}[first]
	if status == 0 {
		status = 200
	}
	if first == "busy" {
		var came int
		if err := r.Store.Pool.QueryRow(c, "SELECT count(*) FROM receiver.messages WHERE message_id = $1 AND path = $2", id, path).Scan(&came); err != nil {
			return err
		}
		if came < 2 {
			status = 503
		}
	}
	var head strings.Builder
	for _, name := range []string{webhooks.HeaderWebhookID, webhooks.HeaderWebhookTimestamp, webhooks.HeaderWebhookSignature} {
		fmt.Fprintf(&head, "%s: %s\n", name, c.Get(name))
	}
	_, err := r.Store.Pool.Exec(c, "INSERT INTO receiver.messages (path, message_id, kind, head, body, status, at) VALUES ($1, $2, $3, $4, $5, $6, $7)",
		path, id, strings.Clone(c.Get("Content-Type")), head.String(), strings.ToValidUTF8(string(c.Body()), ""), status, r.Clock())
	if err != nil {
		return err
	}
	if first == "silent" {
		r.Hang()
	}
	if status == 302 {
		return c.Redirect().Status(status).To("/")
	}
	return c.Status(status).SendString("heard")
}

// list shows what came.
func (r *Receiver) list(c fiber.Ctx) error {
	rows, err := r.Store.Pool.Query(c, "SELECT path, kind, head, body, status, at FROM receiver.messages ORDER BY id DESC LIMIT 100")
	if err != nil {
		return err
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[struct {
		Path, Kind, Head, Body string
		Status                 int
		At                     time.Time
	}])
	if err != nil {
		return err
	}
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; font-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	c.Type("html", "utf-8")
	return r.pages.ExecuteTemplate(c.Response().BodyWriter(), "list", map[string]any{"Style": r.Assets.Path("standin.css"), "List": list, "Manners": Manners})
}
