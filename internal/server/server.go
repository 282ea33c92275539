package server

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/netip"
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"

	"chrysagon/app"
	"chrysagon/app/events"
	"chrysagon/app/ports"
	"chrysagon/app/queue"
	"chrysagon/core/origin"
	"chrysagon/gateway/names"
	"chrysagon/gateway/relayclient"
	"chrysagon/gateway/smtp"
	"chrysagon/internal/wire"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/shopfront/pages"
	"chrysagon/standin"
	"chrysagon/standin/letterbox"
	"chrysagon/store"
	"chrysagon/web"

	"github.com/valyala/fasthttp"
)

// Options are what a server is made of. The zero value of each has a default.
type Options struct {
	Port         int
	Studio       string         // address of the studio; http://localhost:Port
	Shop         string         // address of the shop; http://shop.localhost:Port
	Proxies      []netip.Prefix // whose word on who is calling is believed
	Mail         smtp.Server    // the mail server; the letterbox where that is run, or none
	Returns      string         // domain to which mail servers return letters; that of the letterbox where that is run, or none
	ReturnsPort  int            // on 127.0.0.1, where they are taken; 0: any
	StandIns     []string       // which of [StandIns] are run
	Demo         bool
	Reload       bool   // open pages of the studio load again when the program was begun anew
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
	App *app.App

	parts    map[string]part // by host name
	handler  fasthttp.RequestHandler
	http     *fasthttp.Server
	shown    *pages.Pages
	standIns map[string]standin.Part // by name, those that are run
	ran      []Ran
	back     *smtp.Returns
	backAt   net.Listener // nil: nothing is taken back
	Events   *events.Recorder
	proxies  []netip.Prefix
	drain    drain
	patience time.Duration // for orders under way when the program is stopped: two calls to the till
	under    underway
	tickers  []*time.Ticker
}

// Join joins the use cases on a migrated database, with the kinds of piece, the queue and
// what was built for browsers: what all of a program stands on, before anybody asks it.
func Join(s *store.Store, with app.With) (*app.App, *web.Assets, error) {
	assets, err := web.Open()
	if err != nil {
		return nil, nil, err
	}
	registry, err := all.Registry()
	if err != nil {
		return nil, nil, fmt.Errorf("set up the pieces: %w", err)
	}
	if with.Queue, err = queue.NewQueue(s); err != nil {
		return nil, nil, err
	}
	with.Store, with.Render = s, render.New(registry, assets)
	return app.New(with), assets, nil
}

// New joins all parts on a migrated database.
func New(ctx context.Context, s *store.Store, o Options) (*Server, error) {
	defaults(&o)
	a, assets, err := Join(s.By(o.Clock), app.With{Ports: &ports.Ports{Names: names.Resolver{}, Relays: relayclient.New()}, Log: o.Log, Origins: &origin.Origins{Studio: o.Studio, Shop: o.Shop}})
	if err != nil {
		return nil, err
	}
	srv := &Server{App: a, parts: map[string]part{}, standIns: map[string]standin.Part{}, proxies: o.Proxies, patience: 2*o.TillPatience + 2*time.Second}
	srv.Events = events.New(a.Store, a.Log, srv.tick(time.Second))
	if err := errors.Join(srv.mail(o), srv.returns(ctx, o), srv.begin(ctx, o, assets), srv.Events.Partitions(ctx), a.Publishing.NoteKinds(ctx), a.Offers.NoteKinds(ctx)); err != nil {
		return nil, err
	}
	front, shown := shopfront(a, srv.Events, o.Forms)
	srv.shown = shown
	back, places := studio(a, o) //nolint:contextcheck // handlers get their requests' own contexts
	srv.parts[nameOf(o.Studio)] = part{handle: back.Handler(), most: 2 << 20, people: true, files: places.TakesFiles}
	srv.parts[nameOf(o.Shop)] = part{handle: front.Handler(), most: 256 << 10, people: true}
	return srv, srv.route(assets) //nolint:contextcheck // as above
}

// mail sets up the mail server, where one is named.
func (s *Server) mail(o Options) error {
	if o.Mail.Address == "" {
		return nil
	}
	sender, err := smtp.New(o.Mail)
	if err == nil {
		s.App.Post, s.App.Carrier = sender, o.Mail.Address
	}
	return err
}

// returns listens for what mail servers return.
func (s *Server) returns(ctx context.Context, o Options) error {
	if o.Returns == "" && slices.Contains(o.StandIns, letterbox.StandIn.Name) && o.Mail.Address == "" {
		o.Returns, o.ReturnsPort = "returns.localhost", 0
	}
	if o.Returns == "" {
		return nil
	}
	var err error
	s.backAt, err = new(net.ListenConfig).Listen(ctx, "tcp", fmt.Sprintf("127.0.0.1:%d", o.ReturnsPort))
	if err != nil {
		return fmt.Errorf("listen for what mail servers return, on port %d: %w", o.ReturnsPort, err)
	}
	s.App.Ports.Returns = o.Returns
	s.back = &smtp.Returns{Domain: o.Returns, Known: s.App.Returns.Known, Take: s.App.Returns.Take}
	return nil
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
	if o.Studio == "" {
		o.Studio = at("localhost", o.Port)
	}
	if o.Shop == "" {
		o.Shop = at("shop.localhost", o.Port)
	}
}

func (s *Server) tick(every time.Duration) <-chan time.Time {
	t := time.NewTicker(every)
	s.tickers = append(s.tickers, t)
	return t.C
}

// part is one part of the program, reached under a host name of its own.
type part struct {
	handle fasthttp.RequestHandler
	most   int                    // bytes that may be sent to it at once
	people bool                   // for owner and visitors; the rest are services that their requests need
	files  func(path string) bool // takes uploads there; nil: nowhere
}

// nameOf is the host name of an address.
func nameOf(address string) string {
	u, err := url.Parse(address)
	if err != nil {
		return ""
	}
	return strings.ToLower(u.Hostname())
}

// route tells the parts apart by host name.
func (s *Server) route(assets *web.Assets) error {
	built, err := readAssets(assets.Served())
	if err != nil {
		return err
	}
	shop := nameOf(s.App.Origins.Shop)
	g := guardFor(*s.App.Origins)
	s.handler = caught(s.App.Log, told(s.App.Log, func(c *fasthttp.RequestCtx) {
		defer g.guard(c)
		host := hostOf(c.Host())
		p, ok := s.parts[host]
		if p.people {
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
		caller(c, s.proxies)
		done, err := s.takeIn(c, p)
		if err != nil {
			turnAway(c, err)
			return
		}
		defer done()
		if !text(c) {
			c.Error("What was sent cannot be read: some of it is not UTF-8. Nothing was charged, and nothing was changed.\n", fasthttp.StatusBadRequest)
			return
		}
		if host == shop && s.shown.Kept(c) {
			return
		}
		switch {
		case !leads(c.Path()):
			c.Error("There is nothing at this address: it cannot be read.\n", fasthttp.StatusNotFound)
		case !ok && host == "127.0.0.1" && c.IsGet():
			c.Redirect(s.App.Origins.Studio+"/", fasthttp.StatusFound)
		case !ok:
			c.Error("This host name is not served here. The studio is at "+s.App.Origins.Studio+"\n", fasthttp.StatusMisdirectedRequest)
		case strings.HasPrefix(string(c.Path()), "/assets/") && (c.IsGet() || c.IsHead()):
			a, known := built[strings.TrimPrefix(string(c.Path()), "/assets/")]
			if !known {
				c.Error("There is no such file.\n", fasthttp.StatusNotFound)
				return
			}
			a.send(c)
		default:
			// HEAD is answered as GET, without its body. The shop is told which it is:
			// nobody who only looks a page up is a visitor.
			head := c.IsHead() && host != shop
			if head {
				c.Request.Header.SetMethod(fasthttp.MethodGet)
			}
			p.handle(c)
			wire.Finish(c)
			if head {
				c.Request.Header.SetMethod(fasthttp.MethodHead)
			}
		}
	}))
	s.http = &fasthttp.Server{
		Handler: s.handler, NoDefaultServerHeader: true, Concurrency: mostConnections,
		// Bodies are read once it is known from whom they come, see takeIn.
		HeaderReceived: s.slowly, StreamRequestBody: true, DisablePreParseMultipartForm: true, MaxRequestBodySize: otherBytes,
		ReadTimeout: 30 * time.Second, IdleTimeout: 60 * time.Second, CloseOnShutdown: true,
		Logger: slog.NewLogLogger(s.App.Log.Handler(), slog.LevelDebug),
	}
	return nil
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
	if s.backAt != nil {
		_ = s.backAt.Close()
	}
	for _, part := range s.standIns {
		if part.Close != nil {
			_ = part.Close()
		}
	}
	// Connections that were opened are left to their clients: nobody comes by them,
	// since the listener is closed by whoever opened it.
	return nil
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
	run(quietly(s.App.News.Listen))
	run(quietly(s.shown.Follow))
	run(quietly(s.Events.Run))
	for _, part := range s.standIns {
		if part.Run != nil {
			run(func() error { return part.Run(work) })
		}
	}
	if s.back != nil {
		run(func() error { return s.back.Serve(work, s.backAt) })
	}
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
	s.App.Background.End()
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
	s.App.News.Hush() // pages that listen for news would never be done
	select {
	case <-empty:
	case <-ctx.Done():
	}
}

// Forget makes the shopfront draw its pages anew.
func (s *Server) Forget() { s.shown.Forget() }
