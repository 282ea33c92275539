package server

import (
	"net"
	"net/netip"
	"strings"

	"chrysagon/core/origin"

	"github.com/valyala/fasthttp"
)

// guard is what every answer carries, whichever part gives it, and errors too.
type guard struct{ secure bool }

func guardFor(o origin.Origins) guard {
	return guard{secure: strings.HasPrefix(o.Shop, "https:") && strings.HasPrefix(o.Studio, "https:")}
}

// denied are the powers of a browser that no page of ours needs.
const denied = "accelerometer=(), bluetooth=(), camera=(), display-capture=(), geolocation=(), gyroscope=(), hid=(), magnetometer=(), microphone=(), midi=(), payment=(), serial=(), usb=()"

// guard adds to an answer what its part has not said itself.
func (g guard) guard(c *fasthttp.RequestCtx) {
	h := &c.Response.Header
	h.Set("Permissions-Policy", denied)
	if g.secure {
		h.Set("Strict-Transport-Security", "max-age=31536000")
	}
	if len(h.Peek("X-Content-Type-Options")) == 0 {
		h.Set("X-Content-Type-Options", "nosniff")
	}
	if len(h.Peek("Referrer-Policy")) == 0 {
		h.Set("Referrer-Policy", "same-origin")
	}
	if len(h.Peek("Content-Security-Policy")) == 0 {
		h.Set("Content-Security-Policy", "default-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	}
}

// caller is who is calling, as the nearest proxy that is trusted says: the last
// address of X-Forwarded-For that is not such a proxy's. What stands before it
// anybody can have written.
func caller(c *fasthttp.RequestCtx, proxies []netip.Prefix) {
	trusted := func(a netip.Addr) bool {
		for _, p := range proxies {
			if p.Contains(a) {
				return true
			}
		}
		return false
	}
	peer, err := netip.ParseAddrPort(c.RemoteAddr().String())
	if len(proxies) == 0 || err != nil || !trusted(peer.Addr().Unmap()) {
		return
	}
	hops := strings.Split(string(c.Request.Header.Peek("X-Forwarded-For")), ",")
	for i := len(hops) - 1; i >= 0; i-- {
		a, err := netip.ParseAddr(strings.TrimSpace(hops[i]))
		if err != nil {
			return
		}
		if a = a.Unmap(); !trusted(a) {
			c.SetRemoteAddr(&net.TCPAddr{IP: a.AsSlice()})
			return
		}
	}
}
