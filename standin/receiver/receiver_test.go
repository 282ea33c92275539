package receiver_test

import (
	"net/http"
	"net/url"
	"testing"

	"chrysagon/internal/testkit"
	"chrysagon/standin/receiver"

	"github.com/stretchr/testify/assert"
)

// It answers as its address says, and shows what came, whatever that was, as words.
func TestItAnswersAsItsAddressSays(t *testing.T) {
	shop := testkit.Open(t)
	u, err := url.Parse(shop.App.Origins.Shop)
	assert.NoError(t, err)
	at := "http://receiver.localhost:" + u.Port()
	b := shop.Browser()
	says := url.Values{"name": {"<script>alert(1)</script>"}}
	for path, want := range map[string][]int{"/leads": {200, 200}, "/busy/x": {503, 503, 200, 200}, "/broken": {500}, "/over": {410}, "/moved": {302}} {
		for _, status := range want {
			assert.Equal(t, status, b.Post(at+path, says, "").Status, path)
		}
	}
	page := b.Get(at + "/")
	assert.Equal(t, http.StatusOK, page.Status)
	assert.NotContains(t, page.Body, "<script>alert")
	assert.Contains(t, page.Body, "answered with 410")
	for _, m := range receiver.Manners {
		assert.Contains(t, page.Body, m.What)
	}
}
