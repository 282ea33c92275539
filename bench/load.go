package main

import (
	"bytes"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime/pprof"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"context"

	"chrysagon/core/origin"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"
)

const (
	connections = 32
	rounds      = 5
	roundFor    = 2 * time.Second
)

// client calls one address on loopback whatever the host name says.
func client(address string) *fasthttp.Client {
	return &fasthttp.Client{
		MaxConnsPerHost: 256, NoDefaultUserAgentHeader: true,
		Dial: func(string) (net.Conn, error) { return fasthttp.Dial(address) },
	}
}

// hammer sends the same request on many connections for a while and returns
// requests each second.
func hammer(c *fasthttp.Client, template *fasthttp.Request) (float64, error) {
	return hammerAs(c, template, fasthttp.StatusOK, nil)
}

// hammerAs is hammer with another status that every answer must have, and a visitor for
// each request, where that is not nil.
func hammerAs(c *fasthttp.Client, template *fasthttp.Request, wants int, visitor func() string) (float64, error) {
	var sent atomic.Int64
	var failed atomic.Value
	var wait sync.WaitGroup
	start := time.Now()
	for range connections {
		wait.Add(1)
		go func() {
			defer wait.Done()
			req, resp := fasthttp.AcquireRequest(), fasthttp.AcquireResponse()
			template.CopyTo(req)
			for time.Since(start) < roundFor {
				if visitor != nil {
					req.Header.SetCookie("visitor", visitor())
				}
				if err := c.Do(req, resp); err != nil || resp.StatusCode() != wants {
					failed.Store(fmt.Errorf("status %d: %w", resp.StatusCode(), errors.Join(err)))
					return
				}
				sent.Add(1)
			}
		}()
	}
	wait.Wait()
	if err, ok := failed.Load().(error); ok {
		return 0, err
	}
	return float64(sent.Load()) / time.Since(start).Seconds(), nil
}

// pages holds the published page against a bare Fiber handler that sends the
// same bytes, in turns.
func pages(address, shop string) error {
	req := fasthttp.AcquireRequest()
	req.SetRequestURI(shop + "/night-flight")
	req.Header.Set("Accept-Encoding", "br")
	req.Header.SetCookie("visitor", "abcdefghijklmnopqrstuvwxyz")
	resp := fasthttp.AcquireResponse()
	c := client(address)
	if err := c.Do(req, resp); err != nil {
		return err
	}
	body := bytes.Clone(resp.Body())
	// The same bytes: every header of ours, too.
	var headers [][2]string
	for name, value := range resp.Header.All() {
		if n := string(name); n != "Date" && n != "Content-Length" {
			headers = append(headers, [2]string{n, string(value)})
		}
	}
	bare := fiber.New()
	bare.Get("/night-flight", func(c fiber.Ctx) error {
		for _, line := range headers {
			c.Set(line[0], line[1])
		}
		return c.Send(body)
	})
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	plain := &fasthttp.Server{Handler: bare.Handler(), NoDefaultServerHeader: true}
	go func() { _ = plain.Serve(listener) }()
	defer func() { _ = plain.Shutdown() }()
	other := client(listener.Addr().String())
	var ours, theirs []float64
	for range rounds {
		a, err := hammer(c, req)
		if err != nil {
			return fmt.Errorf("the published page: %w", err)
		}
		b, err := hammer(other, req)
		if err != nil {
			return fmt.Errorf("the bare handler: %w", err)
		}
		ours, theirs = append(ours, a), append(theirs, b)
	}
	report("published page, warm, 32 connections", "%.0f/s; bare handler %.0f/s; ratio %.2f", "ratio at least 0.9", median(ours), median(theirs), median(ours)/median(theirs))
	return sizes(c, shop, len(body))
}

func median(all []float64) float64 {
	slices.Sort(all)
	return all[len(all)/2]
}

var scriptIn = regexp.MustCompile(`<script src="([^"]+)"`)

// sizes reports the bytes of the first view and of the script, compressed.
func sizes(c *fasthttp.Client, shop string, brotli int) error {
	get := func(path string) ([]byte, error) {
		_, body, err := c.Get(nil, shop+path)
		return body, err
	}
	page, err := get("/night-flight")
	if err != nil {
		return err
	}
	found := scriptIn.FindSubmatch(page)
	if found == nil {
		return errors.New("the page has no script")
	}
	script, err := get(string(found[1]))
	if err != nil {
		return err
	}
	zipped := len(fasthttp.AppendGzipBytesLevel(nil, page, 9))
	report("first view, HTML and CSS", "%.1f KB gzip, %.1f KB brotli", "at most 14 KB", float64(zipped)/1024, float64(brotli)/1024)
	report("all script of the page", "%.1f KB gzip", "at most 24 KB", float64(len(fasthttp.AppendGzipBytesLevel(nil, script, 9)))/1024)
	return nil
}

var seenIn = regexp.MustCompile(`name="seen" value="([^"]+)"`)

const (
	buyers    = 16
	ordersFor = 6 * time.Second
)

// orders places orders through the whole checkout (quote, reserve, pay,
// confirm), each by another visitor, and holds that against pgbench's built-in
// script on the same server.
func orders(ctx context.Context, address string, o origin.Origins, admin string) error {
	c := client(address)
	_, page, err := c.Get(nil, o.Shop+"/night-flight")
	if err != nil {
		return err
	}
	seen := seenIn.FindSubmatch(page)
	if seen == nil {
		return errors.New("the page has no checkout")
	}
	tokens, err := cardTokens(c, o.Till, 4000, func(int) bool { return false })
	if err != nil {
		return err
	}
	if path := os.Getenv("BENCH_PROFILE"); path != "" {
		f, err := os.Create(path) //nolint:gosec // named by whoever measures
		if err != nil {
			return err
		}
		if err := pprof.StartCPUProfile(f); err != nil {
			return err
		}
		defer pprof.StopCPUProfile()
	}
	ours, err := rush(buyers, tokens, func(token string, n int64) (bool, error) {
		return true, placeOrder(c, o.Shop, string(seen[1]), token, n)
	})
	if err != nil {
		return err
	}
	theirs, err := pgbench(ctx, admin)
	if err != nil {
		return err
	}
	report("orders through the whole checkout, 16 buyers", "%.0f/s; pgbench %.0f/s; ratio %.2f", "ratio at least 0.25", ours, theirs, ours/theirs)
	return nil
}

// rush lets so many buyers buy for a while, each time with another card, and is
// how often that counted each second.
func rush(crowd int, tokens []string, buy func(token string, n int64) (counts bool, err error)) (float64, error) {
	var next, counted atomic.Int64
	var failed atomic.Value
	var wait sync.WaitGroup
	start := time.Now()
	for range crowd {
		wait.Go(func() {
			for time.Since(start) < ordersFor {
				n := next.Add(1)
				if int(n) > len(tokens) {
					return
				}
				counts, err := buy(tokens[n-1], n)
				if err != nil {
					failed.Store(err)
					return
				}
				if counts {
					counted.Add(1)
				}
			}
		})
	}
	wait.Wait()
	took := time.Since(start).Seconds()
	if err, ok := failed.Load().(error); ok {
		return 0, err
	}
	return float64(counted.Load()) / took, nil
}

// cardTokens are tokens of so many cards, some of which the till refuses.
func cardTokens(c *fasthttp.Client, till string, n int, refuses func(int) bool) ([]string, error) {
	tokens := make([]string, n)
	var failed atomic.Value
	var wait sync.WaitGroup
	for worker := range buyers {
		wait.Add(1)
		go func() {
			defer wait.Done()
			for i := worker; i < n; i += buyers {
				number := "9200000000000017"
				if refuses(i) {
					number = "9200000000000025"
				}
				body, err := post(c, till+"/tokens", url.Values{"number": {number}, "expiry": {"08/31"}, "code": {"123"}}, "")
				_, after, ok := strings.Cut(string(body), `"token":"`)
				if err != nil || !ok {
					failed.Store(fmt.Errorf("a card's token: %s: %w", body, errors.Join(err)))
					return
				}
				tokens[i], _, _ = strings.Cut(after, `"`)
			}
		}()
	}
	wait.Wait()
	if err, ok := failed.Load().(error); ok {
		return nil, err
	}
	return tokens, nil
}

func buyerForm() url.Values {
	return url.Values{
		"name": {"Ines Falk"}, "email": {"ines@example.org"}, "street": {"7 Lee Lane"}, "postcode": {"1200-109"},
		"town": {"Lisbon"}, "country": {"Portugal"},
	}
}

func placeOrder(c *fasthttp.Client, shop, seen, token string, n int64) error {
	form := buyerForm()
	form.Set("seen", seen)
	form.Set("token", token)
	body, err := post(c, shop+"/night-flight/checkout", form, fmt.Sprintf("%026d", n))
	if err == nil && !bytes.Contains(body, []byte(`"go":"/quiver-bag`)) {
		return fmt.Errorf("an order was not placed: %s", body)
	}
	return err
}

func post(c *fasthttp.Client, address string, form url.Values, visitor string) ([]byte, error) {
	req, resp := fasthttp.AcquireRequest(), fasthttp.AcquireResponse()
	defer fasthttp.ReleaseRequest(req)
	defer fasthttp.ReleaseResponse(resp)
	req.SetRequestURI(address)
	req.Header.SetMethod(fasthttp.MethodPost)
	req.Header.SetContentType("application/x-www-form-urlencoded")
	req.Header.Set("Accept", "application/json")
	if visitor != "" {
		req.Header.SetCookie("visitor", visitor)
	}
	req.SetBodyString(form.Encode())
	if err := c.DoTimeout(req, resp, 20*time.Second); err != nil {
		return nil, err
	}
	if resp.StatusCode() >= fasthttp.StatusInternalServerError {
		return nil, fmt.Errorf("%s was answered with %d", address, resp.StatusCode())
	}
	return bytes.Clone(resp.Body()), nil
}

var tpsIn = regexp.MustCompile(`tps = ([0-9.]+)`)

func pgbench(ctx context.Context, admin string) (float64, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/pgbench")
	if len(found) == 0 {
		return 0, errors.New("pgbench is not installed; it is in Debian's package postgresql")
	}
	program := found[len(found)-1]
	for _, args := range [][]string{{"-i", "-q", "-s", "10", admin}, {"-c", fmt.Sprint(buyers), "-j", "2", "-T", "6", admin}} {
		cmd := exec.CommandContext(ctx, program, args...) //nolint:gosec // Debian's own program
		cmd.Stderr = nil
		out, err := cmd.Output()
		if err != nil {
			return 0, fmt.Errorf("pgbench: %w", err)
		}
		if m := tpsIn.FindSubmatch(out); m != nil {
			var tps float64
			_, err := fmt.Sscan(string(m[1]), &tps)
			return tps, err
		}
	}
	return 0, errors.New("pgbench reported nothing")
}

// coldStart starts the built program with an empty data folder, twice: with the
// database server to be made, and with it there.
func coldStart() error {
	data, err := os.MkdirTemp(".data", "cold-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(data) }()
	env := append(os.Environ(), "DATABASE_URL=", "CHRYSAGON_DATA="+data, "PORT=18473")
	for _, what := range []string{"start, everything to be made", "start, data there"} {
		took, memory, err := startOnce(env)
		if err != nil {
			return err
		}
		report(what, "%.1f s, then %d MB of memory", "under 3 s, under 100 MB", took.Seconds(), memory/1024)
	}
	reset := exec.Command("bin/chrysagon", "reset")
	reset.Env = env
	return reset.Run()
}

func startOnce(env []string) (time.Duration, int, error) {
	cmd := exec.Command("bin/chrysagon", "demo")
	cmd.Env = env
	out, err := cmd.StdoutPipe()
	if err != nil {
		return 0, 0, err
	}
	start := time.Now()
	if err := cmd.Start(); err != nil {
		return 0, 0, err
	}
	buffer, said := make([]byte, 4096), ""
	for !strings.Contains(said, "is ready") {
		n, err := out.Read(buffer)
		if err != nil {
			return 0, 0, fmt.Errorf("the program did not start: %s", said)
		}
		said += string(buffer[:n])
	}
	took := time.Since(start)
	time.Sleep(2 * time.Second) // at rest
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", cmd.Process.Pid))
	if err != nil {
		return 0, 0, err
	}
	var memory int
	if _, after, ok := strings.Cut(string(status), "VmRSS:"); ok {
		_, err = fmt.Sscan(after, &memory)
	}
	return took, memory, errors.Join(err, cmd.Process.Signal(os.Interrupt), cmd.Wait())
}
