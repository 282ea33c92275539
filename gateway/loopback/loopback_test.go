package loopback_test

import (
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strconv"
	"testing"
	"time"

	"chrysagon/gateway/loopback"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every name below localhost is this machine (RFC 6761, section 6.3), whatever the
// resolver says; To reaches it by any name.
func TestNamesBelowLocalhostAreThisMachine(t *testing.T) {
	var host string
	here := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host = r.Host
		if r.URL.Path == "/away" {
			http.Redirect(w, r, "/", http.StatusFound)
		}
	}))
	defer here.Close()
	u, err := url.Parse(here.URL)
	require.NoError(t, err)
	get := func(c *http.Client, address string) int {
		answer, err := c.Get(address)
		require.NoError(t, err, address)
		require.NoError(t, answer.Body.Close())
		return answer.StatusCode
	}
	c := loopback.Client(5 * time.Second)
	for _, name := range []string{"localhost", "till.localhost", "a.b.localhost"} {
		assert.Equal(t, http.StatusOK, get(c, "http://"+net.JoinHostPort(name, u.Port())+"/"))
		assert.Equal(t, net.JoinHostPort(name, u.Port()), host, "the name is kept")
	}
	assert.Equal(t, http.StatusFound, get(c, "http://"+net.JoinHostPort("localhost", u.Port())+"/away"), "redirects are not followed")
	port, err := strconv.Atoi(u.Port())
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, get(loopback.To(port, 5*time.Second), "http://shop.gustwell.example/"))
	assert.Equal(t, "shop.gustwell.example", host)
}
