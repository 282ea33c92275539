package server

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"strings"
	"sync"
	"time"

	"chrysagon/app"
	"chrysagon/app/bookclient"
	"chrysagon/app/loopback"
	"chrysagon/app/smtp"
	"chrysagon/app/tillclient"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/shopfront"
	"chrysagon/standin/book"
	"chrysagon/standin/letterbox"
	"chrysagon/standin/till"
	"chrysagon/store"
	"chrysagon/studio"
	"chrysagon/web"

	"github.com/valyala/fasthttp"
)

// Options are what a server is made of. The zero value of each has a default.
type Options struct {
	Port         int
	Demo         bool
	Email        string // of the demo owner, shown on the sign-in page
	Password     string // likewise
	Clock        func() time.Time
	Log          *slog.Logger
	TillPatience time.Duration // how long a call to the till may take; 8 s
	Hang         func()        // how the till fails to answer
	Forms        int           // forms an address may send in a minute; 120
}

// Server is the program, ready to serve.
type Server struct {
	App   *app.App
	Till  *till.Ledger
	Hooks *till.Hooks

	handler  fasthttp.RequestHandler
	http     *fasthttp.Server
	front    *shopfront.Front
	box      *letterbox.Box
	book     *book.Book
	post     net.Listener
	views    *app.Views
	drain    drain
	patience time.Duration // for orders under way when the program is stopped: two calls to the till
	under    underway
	tickers  []*time.Ticker
}

// New joins all parts on a migrated database.
func New(ctx context.Context, s *store.Store, o Options) (*Server, error) {
	defaults(&o)
	assets, err := web.Open()
	if err != nil {
		return nil, err
	}
	registry, err := all.Registry()
	if err != nil {
		return nil, fmt.Errorf("set up the pieces: %w", err)
	}
	queue, err := app.NewQueue(s)
	if err != nil {
		return nil, err
	}
	post, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, fmt.Errorf("find a port for the letterbox: %w", err)
	}
	sender, err := smtp.New(post.Addr().String())
	if err != nil {
		return nil, err
	}
	at := func(host string) string { return fmt.Sprintf("http://%s:%d", host, o.Port) }
	origins := app.Origins{Studio: at("localhost"), Shop: at("shop.localhost"), Till: at("till.localhost"), Letterbox: at("letterbox.localhost"), Book: at("book.localhost")}
	key, secret := rand.Text(), "whsec_"+base64.StdEncoding.EncodeToString([]byte(rand.Text()+rand.Text()))
	a := &app.App{
		Store: s, Render: render.New(registry, assets), Clock: o.Clock, Post: sender, Queue: queue,
		Origins: origins, Log: o.Log, WebhookSecret: secret,
		Payments: &tillclient.Client{Origin: origins.Till, Key: key, HTTP: loopback.Client(o.TillPatience)},
	}
	diary := &book.Book{Store: s, Clock: o.Clock, Assets: assets, Key: rand.Text()}
	a.Book = &bookclient.Client{Origin: origins.Book, Key: diary.Key, HTTP: loopback.Client(2 * time.Second)}
	ledger := &till.Ledger{Store: s, Clock: o.Clock, Origin: origins.Till, Shop: origins.Shop}
	box := &letterbox.Box{Store: s, Clock: o.Clock, Assets: assets}
	if err := errors.Join(ledger.Migrate(ctx), box.Migrate(ctx), diary.Migrate(ctx), a.Partitions(ctx)); err != nil {
		return nil, err
	}
	srv := &Server{patience: 2*o.TillPatience + 2*time.Second, App: a, Till: ledger, box: box, book: diary, post: post}
	srv.Hooks = &till.Hooks{Ledger: ledger, URL: origins.Shop + "/hooks/till", Secret: secret, HTTP: loopback.Client(10 * time.Second)}
	srv.views = a.NewViews(srv.tick(time.Second))
	srv.front = &shopfront.Front{App: a, Views: srv.views, Forms: o.Forms}
	srv.route(&studio.Studio{App: a, Demo: o.Demo, Email: o.Email, Password: o.Password}, &till.Server{Ledger: ledger, Assets: assets, Key: key, Demo: o.Demo, Hang: o.Hang, Forms: o.Forms}, assets) //nolint:contextcheck // handlers get their requests' own contexts
	return srv, nil
}

func defaults(o *Options) {
	if o.Clock == nil {
		o.Clock = time.Now
	}
	if o.Log == nil {
		o.Log = slog.Default()
	}
	if o.TillPatience == 0 {
		o.TillPatience = 8 * time.Second
	}
	if o.Hang == nil {
		o.Hang = func() { time.Sleep(o.TillPatience + time.Second) }
	}
	if o.Forms == 0 {
		o.Forms = 120
	}
}

func (s *Server) tick(every time.Duration) <-chan time.Time {
	t := time.NewTicker(every)
	s.tickers = append(s.tickers, t)
	return t.C
}

// route tells the parts apart by host name.
func (s *Server) route(st *studio.Studio, t *till.Server, assets *web.Assets) {
	static := (&fasthttp.FS{FS: assets.Served(), PathRewrite: fasthttp.NewPathSlashesStripper(1), Compress: false}).NewRequestHandler()
	parts := map[string]fasthttp.RequestHandler{
		"localhost":           st.Handler().Handler(),
		"shop.localhost":      s.front.Handler().Handler(),
		"till.localhost":      t.App().Handler(),
		"letterbox.localhost": s.box.App().Handler(),
		"book.localhost":      s.book.App().Handler(),
	}
	shop := strings.TrimPrefix(s.App.Origins.Shop, "http://")
	s.handler = caught(s.App.Log, func(c *fasthttp.RequestCtx) {
		host := hostOf(c.Host())
		if people(host) {
			if !s.drain.enter() {
				stopping(c)
				return
			}
			defer s.drain.leave()
		}
		if !framed(c.Request.Header.RawHeaders()) {
			turnAway(c, &refused{fasthttp.StatusBadRequest, "What was sent says twice where it goes or how long it is, so it was not read.\n"})
			return
		}
		done, err := s.takeIn(c)
		if err != nil {
			turnAway(c, err)
			return
		}
		defer done()
		if !text(c) {
			c.Error("What was sent cannot be read: some of it is not UTF-8. Nothing was charged, and nothing was changed.\n", fasthttp.StatusBadRequest)
			return
		}
		if string(c.Host()) == shop && s.front.Kept(c) {
			return
		}
		part, ok := parts[host]
		switch {
		case !leads(c.Path()):
			c.Error("There is nothing at this address: it cannot be read.\n", fasthttp.StatusNotFound)
		case !ok && host == "127.0.0.1" && c.IsGet():
			c.Redirect(s.App.Origins.Studio+"/", fasthttp.StatusFound)
		case !ok:
			c.Error("This host name is not served here. The studio is at "+s.App.Origins.Studio+"\n", fasthttp.StatusMisdirectedRequest)
		case strings.HasPrefix(string(c.Path()), "/assets/") && c.IsGet():
			c.Response.Header.Set("Cache-Control", "public, max-age=31536000, immutable")
			c.Response.Header.Set("X-Content-Type-Options", "nosniff")
			static(c)
		default:
			part(c)
		}
	})
	s.http = &fasthttp.Server{
		Handler: s.handler, NoDefaultServerHeader: true, Concurrency: mostConnections,
		// Bodies are read once it is known from whom they come, see takeIn.
		HeaderReceived: slowly, StreamRequestBody: true, DisablePreParseMultipartForm: true, MaxRequestBodySize: otherBytes,
		ReadTimeout: 30 * time.Second, IdleTimeout: 60 * time.Second, CloseOnShutdown: true,
		Logger: slog.NewLogLogger(s.App.Log.Handler(), slog.LevelDebug),
	}
}

// mostConnections is how many connections are held at once; more are answered
// that they must wait.
const mostConnections = 2048

// ServeOnly answers requests only, and runs nothing by itself: for tests, which
// work the jobs by hand.
func (s *Server) ServeOnly(l net.Listener) error { return s.http.Serve(l) }

// Close ends what New began.
func (s *Server) Close() error {
	for _, t := range s.tickers {
		t.Stop()
	}
	_ = s.post.Close()
	// A connection that was opened and never used would be waited for.
	ctx, cancel := context.WithTimeout(context.Background(), 500*time.Millisecond)
	defer cancel()
	return s.http.ShutdownWithContext(ctx)
}

// Serve serves until the context ends, then lets what is under way finish.
func (s *Server) Serve(ctx context.Context, l net.Listener) error {
	work, stop := context.WithCancel(ctx)
	var parts sync.WaitGroup
	failed := make(chan error, 8)
	run := func(do func() error) {
		parts.Add(1)
		go func() {
			defer parts.Done()
			if err := again(s.App.Log, do); err != nil && work.Err() == nil {
				failed <- err
			}
		}()
	}
	quietly := func(do func(context.Context)) func() error {
		return func() error { do(work); return nil }
	}
	run(quietly(s.App.Listen))
	run(quietly(s.front.Follow))
	run(quietly(s.views.Run))
	run(quietly(func(ctx context.Context) { s.Hooks.Run(ctx, s.tick(500*time.Millisecond)) }))
	run(func() error { return s.box.Serve(work, s.post) })
	run(func() error { return s.App.Work(work) })
	run(quietly(func(ctx context.Context) { s.App.Rescuing(ctx, s.tick(5*time.Second)) }))
	run(func() error { return s.http.Serve(l) })
	var err error
	select {
	case <-ctx.Done():
	case err = <-failed:
	}
	closing, cancel := context.WithTimeout(context.WithoutCancel(ctx), s.patience)
	defer cancel()
	s.Drain(closing)
	s.App.EndLife()
	closing, cancel = context.WithTimeout(context.WithoutCancel(ctx), 2*time.Second)
	defer cancel()
	_ = s.http.ShutdownWithContext(closing)
	stop()
	parts.Wait()
	for _, t := range s.tickers {
		t.Stop()
	}
	return err
}

// Drain lets no request of a person in any more and finishes those under way; the
// till and the other services still answer, which orders being paid for need.
func (s *Server) Drain(ctx context.Context) {
	empty := s.drain.shut()
	s.App.Hush() // pages that listen for news would never be done
	select {
	case <-empty:
	case <-ctx.Done():
	}
}

// Forget makes the shopfront draw its pages anew.
func (s *Server) Forget() { s.front.Forget() }
