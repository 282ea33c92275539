package server

import (
	"net"
	"net/netip"
	"testing"

	"chrysagon/core/origin"

	"github.com/stretchr/testify/assert"
	"github.com/valyala/fasthttp"
)

// Who is calling is what the nearest proxy that is trusted says, and nothing that
// a caller can write.
func TestTheCallerBehindProxies(t *testing.T) {
	trusted := []netip.Prefix{netip.MustParsePrefix("127.0.0.1/32"), netip.MustParsePrefix("10.0.0.0/8"), netip.MustParsePrefix("fd00::/8")}
	for _, c := range []struct {
		name, peer, said, want string
		proxies                []netip.Prefix
	}{
		{"no proxy is trusted", "127.0.0.1", "203.0.113.9", "127.0.0.1", nil},
		{"a stranger's word", "198.51.100.1", "203.0.113.9", "198.51.100.1", trusted},
		{"one proxy", "127.0.0.1", "203.0.113.9", "203.0.113.9", trusted},
		{"two proxies", "127.0.0.1", "203.0.113.9, 10.1.1.1", "203.0.113.9", trusted},
		{"made up before it", "127.0.0.1", "192.0.2.1, 203.0.113.9", "203.0.113.9", trusted},
		{"IPv6", "127.0.0.1", "2001:db8::1, fd00::2", "2001:db8::1", trusted},
		{"nonsense", "127.0.0.1", "203.0.113.9, unknown", "127.0.0.1", trusted},
		{"nothing", "127.0.0.1", "", "127.0.0.1", trusted},
	} {
		var ctx fasthttp.RequestCtx
		var req fasthttp.Request
		req.Header.Set("X-Forwarded-For", c.said)
		ctx.Init(&req, &net.TCPAddr{IP: net.ParseIP(c.peer), Port: 4711}, nil)
		caller(&ctx, c.proxies)
		assert.Equal(t, c.want, ctx.RemoteIP().String(), c.name)
	}
}

// Every answer carries the guarding headers; HSTS only where all is served by https.
func TestEveryAnswerIsGuarded(t *testing.T) {
	for _, c := range []struct {
		studio, shop string
		hsts         string
	}{
		{"http://localhost:8080", "http://shop.localhost:8080", ""}, {"https://studio.example", "http://shop.example", ""},
		{"https://studio.example", "https://shop.example", "max-age=31536000"},
	} {
		var ctx fasthttp.RequestCtx
		ctx.Response.Header.Set("Content-Security-Policy", "default-src 'self'")
		guardFor(origin.Origins{Studio: c.studio, Shop: c.shop}).guard(&ctx)
		h := &ctx.Response.Header
		assert.Equal(t, c.hsts, string(h.Peek("Strict-Transport-Security")))
		assert.Equal(t, "default-src 'self'", string(h.Peek("Content-Security-Policy")), "what a part says stays")
		assert.Contains(t, string(h.Peek("Permissions-Policy")), "camera=()")
	}
}

func TestUploadsAtOnceAreBounded(t *testing.T) {
	var u underway
	done, err := u.begin("marta", mostUpload)
	assert.NoError(t, err)
	_, err = u.begin("marta", mostUpload)
	assert.ErrorContains(t, err, "Other uploads of yours")
	for _, other := range []string{"ines", "rui"} {
		_, err = u.begin(other, eachUpload)
		assert.NoError(t, err)
	}
	_, err = u.begin("ana", eachUpload)
	assert.ErrorContains(t, err, "Many files")
	done()
	_, err = u.begin("ana", mostUpload)
	assert.NoError(t, err)
}
