package testkit

import (
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"chrysagon/gateway/loopback"
	"chrysagon/internal/server"
	"chrysagon/standin/till"
	"chrysagon/store"

	"github.com/stretchr/testify/require"
)

// Clock is a clock that a test sets.
type Clock struct {
	mu  sync.Mutex
	now time.Time
}

// Now is the moment the test has set.
func (c *Clock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.now
}

// Advance moves the clock on.
func (c *Clock) Advance(d time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.now = c.now.Add(d)
}

// Shop is a running program with the demo store, whose jobs are worked by hand.
type Shop struct {
	*server.Server
	ground
	Store *store.Store
	Clock *Clock
	Till  *till.Ledger // nil: not run
	Hooks *till.Hooks  // nil: not run
}

// Open starts a program of its own for a test.
func Open(t testing.TB) *Shop { return OpenWith(t, func(*server.Options) {}) }

// OpenWith starts a program whose options the test changes.
func OpenWith(t testing.TB, change func(*server.Options)) *Shop {
	t.Helper()
	return On(t, DB(t), change)
}

// On starts a program on a database.
func On(t testing.TB, s *store.Store, change func(*server.Options)) *Shop {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	clock := &Clock{now: Start}
	silent := make(chan struct{}) // a till that hangs hangs until the test is over
	options := server.Options{
		Port: listener.Addr().(*net.TCPAddr).Port, Clock: clock.Now, Log: slog.New(slog.DiscardHandler),
		TillPatience: 2 * time.Second, Hang: func() { <-silent }, Forms: 1_000_000,
		Email: "", Demo: true, StandIns: server.StandInNames(),
	}
	change(&options)
	srv, err := server.New(context.Background(), s, options)
	require.NoError(t, err)
	go func() { _ = srv.ServeOnly(listener) }()
	t.Cleanup(func() { close(silent); _ = srv.Close() })
	shop := &Shop{Server: srv, ground: ground{srv.App.Store, t}, Store: srv.App.Store, Clock: clock}
	if run, is := srv.StandIn("till").(*till.Till); is {
		shop.Till, shop.Hooks = run.Ledger, run.Hooks
	}
	return shop
}

// Record writes the events that wait to be written.
func (s *Shop) Record() {
	ended, end := context.WithCancel(context.Background())
	end()
	s.Events.Run(ended)
}

// Browser is one visitor's browser. It keeps cookies and follows no redirects.
type Browser struct {
	shop   *Shop
	client *http.Client
	quick  bool
}

// Quick opens a browser that fills in forms at once, as programs do.
func (s *Shop) Quick() *Browser {
	b := s.Browser()
	b.quick = true
	return b
}

// Browser opens a new one. Whoever has it takes a while to fill in a form, though no clock
// moves: it forgets when it came.
func (s *Shop) Browser() *Browser {
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	client := loopback.Client(2 * time.Minute)
	client.Jar = jar
	return &Browser{shop: s, client: client}
}

// Page is what came back.
type Page struct {
	Status   int
	Location string
	Body     string
	Header   http.Header
}

// JSON reads the body into a map.
func (p Page) JSON(t testing.TB) map[string]any {
	t.Helper()
	var v map[string]any
	require.NoError(t, json.Unmarshal([]byte(p.Body), &v), p.Body)
	return v
}

// Words are the body with every run of spaces and line breaks as one space, as a
// reader sees it.
func (p Page) Words() string { return strings.Join(strings.Fields(p.Body), " ") }

var hidden = regexp.MustCompile(`name="(seen|order|sure)" value="([^"]*)"`)

// Hidden reads a hidden field of a form on the page.
func (p Page) Hidden(name string) string {
	for _, m := range hidden.FindAllStringSubmatch(p.Body, -1) {
		if m[1] == name {
			return m[2]
		}
	}
	return ""
}

// Get fetches an address; a path is taken on the shopfront.
func (b *Browser) Get(address string) Page {
	req, err := http.NewRequest(http.MethodGet, b.full(address), nil)
	require.NoError(b.shop.t, err)
	return b.do(req)
}

// Post sends a form as a page without script does; accept may ask for JSON.
func (b *Browser) Post(address string, form url.Values, accept string) Page {
	req, err := http.NewRequest(http.MethodPost, b.full(address), strings.NewReader(form.Encode()))
	require.NoError(b.shop.t, err)
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	if accept != "" {
		req.Header.Set("Accept", accept)
	}
	return b.do(req)
}

// Do sends a request of the test's own making.
func (b *Browser) Do(req *http.Request) Page { return b.do(req) }

func (b *Browser) full(address string) string {
	if strings.HasPrefix(address, "/") {
		return b.shop.App.Origins.Shop + address
	}
	return address
}

// Agent is what a test's browser calls itself: a person's, unless the test says
// otherwise.
const Agent = "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0"

func (b *Browser) do(req *http.Request) Page {
	if _, said := req.Header["User-Agent"]; !said {
		req.Header.Set("User-Agent", Agent)
	}
	if !b.quick {
		b.stay(req.URL)
	}
	resp, err := b.client.Do(req)
	require.NoError(b.shop.t, err)
	defer func() { _ = resp.Body.Close() }()
	body, err := io.ReadAll(resp.Body)
	require.NoError(b.shop.t, err)
	return Page{Status: resp.StatusCode, Location: resp.Header.Get("Location"), Body: string(body), Header: resp.Header}
}

// stay makes the browser one that has been in the shop for a while.
func (b *Browser) stay(shop *url.URL) {
	b.client.Jar.SetCookies(shop, []*http.Cookie{{Name: "came", Path: "/", MaxAge: -1}})
	if strings.Contains(shop.Path, "/forms/") && b.Cookie(b.shop.App.Origins.Shop, "visitor") == "" {
		b.client.Jar.SetCookies(shop, []*http.Cookie{{Name: "visitor", Path: "/", Value: store.NewSecret()}})
	}
}

// Card asks the till for a token of a card number, as its frame does.
func (b *Browser) Card(number string) string {
	form := url.Values{"number": {number}, "expiry": {"08/31"}, "code": {"123"}}
	answer := b.Post(b.shop.App.Origins.Till+"/tokens", form, "").JSON(b.shop.t)
	token, _ := answer["token"].(string)
	require.NotEmpty(b.shop.t, token, "%v", answer)
	return token
}

// Form is a checkout filled in well, as of the page at hand.
func (b *Browser) Form(page Page, token string) url.Values {
	return url.Values{
		"name": {"Ines Falk"}, "email": {"ines@example.org"}, "street": {"7 Lee Lane"}, "postcode": {"1200-109"},
		"town": {"Lisbon"}, "country": {"Portugal"}, "seen": {page.Hidden("seen")}, "token": {token},
	}
}

// Buy opens the demo's sales page and pays with a card.
func (b *Browser) Buy(number string) map[string]any {
	page := b.Get("/night-flight")
	require.Equal(b.shop.t, http.StatusOK, page.Status, page.Body)
	return b.Post("/night-flight/checkout", b.Form(page, b.Card(number)), "application/json").JSON(b.shop.t)
}

// Follow empties the shopfront's cache, as the database's news of a change
// does in a program that listens.
func (s *Shop) Follow(t testing.TB) {
	t.Helper()
	s.Forget()
}
