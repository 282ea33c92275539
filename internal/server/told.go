package server

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/http/pprof"
	"regexp"
	"time"

	"github.com/valyala/fasthttp"
)

// secret is what in an address may be a secret: links to orders and calendars, tokens of
// the till. IDs are shorter.
var secret = regexp.MustCompile(`[0-9A-Za-z_-]{20,}`)

// told tells of every request, where that is asked for. What was typed is left out.
func told(log *slog.Logger, handle fasthttp.RequestHandler) fasthttp.RequestHandler {
	return func(c *fasthttp.RequestCtx) {
		if !log.Enabled(c, slog.LevelDebug) {
			handle(c)
			return
		}
		began := time.Now()
		handle(c)
		log.Debug("request", "method", string(c.Method()), "host", hostOf(c.Host()), "path", secret.ReplaceAllString(string(c.Path()), "…"), "status", c.Response.StatusCode(), "took", time.Since(began).Round(10*time.Microsecond))
	}
}

// Profile lets the running program be profiled, from this machine only, until the
// context ends.
func Profile(ctx context.Context, port int) error {
	l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", port))
	if err != nil {
		return fmt.Errorf("listen for profiling: %w", err)
	}
	mux := http.NewServeMux()
	mux.HandleFunc("/debug/pprof/", pprof.Index)
	mux.HandleFunc("/debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("/debug/pprof/symbol", pprof.Symbol)
	mux.HandleFunc("/debug/pprof/trace", pprof.Trace)
	s := &http.Server{Handler: mux, ReadHeaderTimeout: 5 * time.Second}
	go func() { <-ctx.Done(); _ = s.Close() }()
	go func() { _ = s.Serve(l) }()
	return nil
}
