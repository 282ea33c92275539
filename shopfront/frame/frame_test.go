package frame_test

import (
	"net/http"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A form that another site sends is not taken; a page is guarded by its headers.
func TestFormsComeFromOurOwnPages(t *testing.T) {
	shop := testkit.Open(t)
	req, err := http.NewRequestWithContext(t.Context(), http.MethodPost, shop.App.Origins.Shop+"/night-flight/quote", nil)
	require.NoError(t, err)
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	req.Header.Set("Origin", "https://elsewhere.example")
	assert.Equal(t, http.StatusForbidden, shop.Browser().Do(req).Status)
	page := shop.Browser().Get("/night-flight")
	for _, name := range []string{"Content-Security-Policy", "X-Content-Type-Options", "Referrer-Policy"} {
		assert.NotEmpty(t, page.Header.Get(name), name)
	}
}
