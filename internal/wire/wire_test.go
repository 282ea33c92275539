package wire_test

import (
	"testing"

	"chrysagon/internal/wire"

	"github.com/stretchr/testify/assert"
	"github.com/valyala/fasthttp"
)

// The examples of RFC 9110, 12.5.3, and what browsers send.
func TestWhatABrowserTakes(t *testing.T) {
	for field, want := range map[string]wire.Encoding{
		"":                                   wire.Plain,
		"compress, gzip":                     wire.Gzip,
		"*":                                  wire.Brotli,
		"compress;q=0.5, gzip;q=1.0":         wire.Gzip,
		"gzip;q=1.0, identity; q=0.5, *;q=0": wire.Gzip,
		"gzip, deflate, br, zstd":            wire.Brotli,
		"br;q=0, gzip":                       wire.Gzip,
		"br;q=0, gzip;q=0":                   wire.Plain,
		"gzip;q=0":                           wire.Plain,
		"*;q=0":                              wire.Plain,
		"br; q=0.000, *":                     wire.Gzip,
		"BR;Q=0.1":                           wire.Brotli,
		"brotli, xgzip":                      wire.Plain,
		"br;q=x":                             wire.Plain,
	} {
		assert.Equal(t, want, wire.Accepted(field), field)
	}
}

// The examples of RFC 9110, 8.8.3.2 and 13.1.2.
func TestEntityTagsAreComparedWeakly(t *testing.T) {
	assert.True(t, wire.Same(`W/"1"`, `W/"1"`))
	assert.True(t, wire.Same(`W/"1"`, `"1"`))
	assert.True(t, wire.Same(`"xyzzy", "r2d2xxxx", "c3piozzzz"`, `"r2d2xxxx"`))
	assert.True(t, wire.Same(`*`, `"1"`))
	assert.False(t, wire.Same(`W/"1"`, `W/"2"`))
	assert.False(t, wire.Same(``, `"1"`))
}

func answer(kind, cache, body string, ask map[string]string) *fasthttp.RequestCtx {
	var c fasthttp.RequestCtx
	c.Request.SetRequestURI("http://shop.localhost/pictures/a-123.jpg")
	for name, value := range ask {
		c.Request.Header.Set(name, value)
	}
	c.Response.Header.SetContentType(kind)
	c.Response.Header.Set("Cache-Control", cache)
	c.Response.SetBodyString(body)
	wire.Finish(&c)
	return &c
}

// Part of a picture is sent to who asks for it, as long as it is the same picture.
func TestPartsOfPictures(t *testing.T) {
	const immutable = "public, max-age=31536000, immutable"
	whole := answer("image/jpeg", immutable, "0123456789", nil)
	tag := string(whole.Response.Header.Peek("ETag"))
	assert.Equal(t, "bytes", string(whole.Response.Header.Peek("Accept-Ranges")))
	some := answer("image/jpeg", immutable, "0123456789", map[string]string{"Range": "bytes=2-4", "If-Range": tag})
	assert.Equal(t, fasthttp.StatusPartialContent, some.Response.StatusCode())
	assert.Equal(t, "234", string(some.Response.Body()))
	assert.Equal(t, "bytes 2-4/10", string(some.Response.Header.Peek("Content-Range")))
	assert.Equal(t, "0123456789", string(answer("image/jpeg", immutable, "0123456789", map[string]string{"Range": "bytes=2-4", "If-Range": `"other"`}).Response.Body()))
	beyond := answer("image/jpeg", immutable, "0123456789", map[string]string{"Range": "bytes=20-"})
	assert.Equal(t, fasthttp.StatusRequestedRangeNotSatisfiable, beyond.Response.StatusCode())
	assert.Equal(t, "bytes */10", string(beyond.Response.Header.Peek("Content-Range")))
	other := answer("image/webp", immutable, "0123456789", map[string]string{"If-None-Match": tag})
	assert.Equal(t, fasthttp.StatusOK, other.Response.StatusCode(), "the same address in another form is another answer")
	had := answer("image/jpeg", immutable, "0123456789", map[string]string{"If-None-Match": tag})
	assert.Equal(t, fasthttp.StatusNotModified, had.Response.StatusCode())
	assert.Empty(t, had.Response.Body())
}
