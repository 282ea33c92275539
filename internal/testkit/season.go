package testkit

import (
	"context"
	"net/url"
	"testing"

	"chrysagon/demo"
	"chrysagon/standin/lamps"

	"github.com/stretchr/testify/require"
)

// OpenSeason starts a program on the demo store with its season of paths: an opt-in
// page, two bridges, the offer, two offers after it, and a page outside.
func OpenSeason(t testing.TB) *Shop {
	t.Helper()
	shop := Open(t)
	require.NoError(t, demo.Season(context.Background(), shop.Store, "http://"+lamps.Host+"/", Start))
	shop.Forget()
	return shop
}

// SignUp leaves an email on the demo's opt-in page, and answers with where it leads.
func (b *Browser) SignUp(email string) Page {
	return b.Post("/seven-knots/forms/k-form", url.Values{"email": {email}, "consent": {"yes"}}, "")
}

// Cookie is one of the browser's cookies at an origin.
func (b *Browser) Cookie(origin, name string) string {
	u, err := url.Parse(origin)
	require.NoError(b.shop.t, err)
	for _, c := range b.client.Jar.Cookies(u) {
		if c.Name == name {
			return c.Value
		}
	}
	return ""
}
