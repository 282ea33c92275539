// Package standin says what a stand-in is: a small server that stands for an outside
// service, to try the program out. Each is a folder here and a line in
// internal/server/standins.go.
package standin

import (
	"context"
	"embed"
	"fmt"
	"net/http"
	"time"

	"chrysagon/app/ports"
	"chrysagon/core/origin"
	"chrysagon/store"
	"chrysagon/web"

	"github.com/jackc/pgx/v5"
	"github.com/valyala/fasthttp"
)

// StandIn is one that can be run.
type StandIn struct {
	Name   string   // of its host, below localhost, and of the schema in which it keeps things
	Says   string   // what it does with what it is handed, for whoever starts the program
	Tables embed.FS // migrations/*.sql; empty: it keeps nothing
	Hosts  []string // others under which it is reached
	Begin  func(Beside) (Part, error)
}

// Beside is what a stand-in is run beside. It puts a client of itself among the ports,
// and its address among the origins.
type Beside struct {
	Store    *store.Store
	Assets   *web.Assets
	Ports    *ports.Ports
	Origins  *origin.Origins
	Origin   string                                 // its own
	Hooks    string                                 // where the shop takes what a service tells by itself, with a slash at the end
	Returns  string                                 // host:port where the program takes by SMTP what mail servers return; empty: nowhere
	Calls    func(limit time.Duration) *http.Client // clients that reach the program itself
	Tick     func(every time.Duration) <-chan time.Time
	Patience time.Duration // how long a call to it may take
	Hang     func()        // how it fails to answer, where it is made to
	Forms    int           // how many forms one address may send it in a minute
}

// Part is a stand-in that is run.
type Part struct {
	Handle fasthttp.RequestHandler
	Most   int                             // bytes that may be sent to it at once
	Run    func(ctx context.Context) error // what it does by itself, until the context ends; nil: nothing
	Close  func() error                    // nil: nothing is open
	Inside any                             // for tests
}

// Migrate makes its tables.
func (s StandIn) Migrate(ctx context.Context, db *store.Store) error {
	if list, err := s.Tables.ReadDir("."); err != nil || len(list) == 0 {
		return nil //nolint:nilerr // it keeps nothing
	}
	if _, err := db.Pool.Exec(ctx, "CREATE SCHEMA IF NOT EXISTS "+pgx.Identifier{s.Name}.Sanitize()); err != nil {
		return fmt.Errorf("make the schema of the %s: %w", s.Name, err)
	}
	return store.MigrateFS(ctx, db.SQL, s.Tables, s.Name+".version")
}
