// Package loopback makes HTTP clients that take every host below localhost to
// 127.0.0.1, as browsers do and some resolvers do not (RFC 6761, section 6.3).
package loopback

import (
	"context"
	"net"
	"net/http"
	"strconv"
	"strings"
	"time"
)

// Client makes a client whose calls end after a time limit. It follows no
// redirects.
func Client(limit time.Duration) *http.Client {
	return dialing(limit, func(address string) string {
		if host, port, err := net.SplitHostPort(address); err == nil && (host == "localhost" || strings.HasSuffix(host, ".localhost")) {
			return net.JoinHostPort("127.0.0.1", port)
		}
		return address
	})
}

// To makes a client that takes every host to one port of 127.0.0.1: this program's
// own, whatever the names under which it is known outside.
func To(port int, limit time.Duration) *http.Client {
	return dialing(limit, func(string) string { return net.JoinHostPort("127.0.0.1", strconv.Itoa(port)) })
}

func dialing(limit time.Duration, where func(address string) string) *http.Client {
	dialer := &net.Dialer{Timeout: 2 * time.Second}
	return &http.Client{
		Timeout:       limit,
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		Transport: &http.Transport{
			MaxIdleConnsPerHost: 64,
			IdleConnTimeout:     30 * time.Second,
			DialContext: func(ctx context.Context, network, address string) (net.Conn, error) {
				return dialer.DialContext(ctx, network, where(address))
			},
		},
	}
}
