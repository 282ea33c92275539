package lamps_test

import (
	"net/http"
	"testing"

	"chrysagon/internal/testkit"
	"chrysagon/standin/lamps"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The page stands under a host of its own, and leads back into the shop.
func TestThePageOutside(t *testing.T) {
	shop := testkit.Open(t)
	req, err := http.NewRequestWithContext(t.Context(), http.MethodGet, shop.App.Origins.Shop+"/?walk=w&step=one", nil)
	require.NoError(t, err)
	req.Host = lamps.Host
	page := shop.Browser().Do(req)
	assert.Equal(t, http.StatusOK, page.Status)
	assert.Contains(t, page.Body, `src="`+shop.App.Origins.Shop+`/outside.js" data-step="one"`)
	assert.Contains(t, page.Body, shop.App.Origins.Shop+"/outside/one/on/yes")
}
