package server

import (
	"bytes"
	"errors"
	"log/slog"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp"
)

// A panic is answered as a plain 500 and logged with its stack, whatever was
// written before it.
func TestAPanicIsAnswered(t *testing.T) {
	var log bytes.Buffer
	handle := caught(slog.New(slog.NewTextHandler(&log, nil)), func(c *fasthttp.RequestCtx) {
		c.Response.Header.Set("Location", "/elsewhere")
		_, _ = c.WriteString("half a page")
		panic("a kite in the pine")
	})
	var c fasthttp.RequestCtx
	c.Request.SetRequestURI("http://shop.localhost/night-flight")
	require.NotPanics(t, func() { handle(&c) })
	assert.Equal(t, fasthttp.StatusInternalServerError, c.Response.StatusCode())
	assert.NotContains(t, string(c.Response.Body()), "half a page")
	assert.Empty(t, c.Response.Header.Peek("Location"))
	assert.NotContains(t, string(c.Response.Body()), "pine", "the cause is for the log")
	assert.Contains(t, log.String(), "a kite in the pine")
	assert.Contains(t, log.String(), "edge_test.go", "the stack")
}

// Work in the background is begun anew after a panic, not for ever; an error or
// an end is told at once.
func TestWorkIsBegunAnew(t *testing.T) {
	log, times := slog.New(slog.DiscardHandler), 0
	require.NoError(t, again(log, func() error {
		if times++; times < 3 {
			panic(times)
		}
		return nil
	}))
	assert.Equal(t, 3, times)
	times = 0
	require.ErrorContains(t, again(log, func() error { times++; panic("always") }), "again and again")
	assert.Equal(t, mostPanics, times)
	gone := errors.New("gone")
	assert.ErrorIs(t, again(log, func() error { return gone }), gone)
}
