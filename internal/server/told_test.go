package server

import (
	"bytes"
	"context"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp"
)

// Every request is told of where that is asked for, and nothing that was typed.
func TestRequestsAreToldWhereAskedFor(t *testing.T) {
	for level, want := range map[slog.Level]bool{slog.LevelDebug: true, slog.LevelWarn: false} {
		var out bytes.Buffer
		handle := told(slog.New(slog.NewTextHandler(&out, &slog.HandlerOptions{Level: level})), func(c *fasthttp.RequestCtx) { c.SetStatusCode(404) })
		c := &fasthttp.RequestCtx{}
		c.Request.SetRequestURI("http://localhost/orders/abcdefghijklmnopqrstuvwxyz?find=ines@example.org")
		handle(c)
		assert.Equal(t, want, bytes.Contains(out.Bytes(), []byte("path=/orders/… status=404")))
		assert.NotContains(t, out.String(), "ines")
		assert.NotContains(t, out.String(), "abcdefghij", "the link to an order is a secret")
	}
}

// The program is profiled from this machine only.
func TestProfilingListensOnLoopback(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	port := l.Addr().(*net.TCPAddr).Port
	require.NoError(t, l.Close())
	ctx, end := context.WithCancel(context.Background())
	defer end()
	require.NoError(t, Profile(ctx, port))
	answer, err := http.Get(fmt.Sprintf("http://127.0.0.1:%d/debug/pprof/goroutine?debug=1", port))
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close() }()
	assert.Equal(t, http.StatusOK, answer.StatusCode)
	require.Error(t, Profile(ctx, port), "the port is taken")
}
