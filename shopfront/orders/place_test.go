package orders_test

import (
	"net/http"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// An order is shown to who has its link, kept nowhere, and to nobody who guesses.
func TestAnOrderIsItsBuyers(t *testing.T) {
	shop := testkit.Open(t)
	shop.Browser().Buy("9200000000000017")
	var token string
	shop.Store.DB.Raw("SELECT token FROM orders ORDER BY created_at DESC LIMIT 1").Scan(&token)
	page := shop.Browser().Get("/orders/" + token)
	assert.Equal(t, http.StatusOK, page.Status)
	assert.Contains(t, page.Header.Get("Cache-Control"), "no-store")
	assert.Contains(t, page.Words(), "Ember 180")
	for _, guess := range []string{"", "x", token + "x", "%00", "..%2f" + token} {
		assert.NotEqual(t, http.StatusOK, shop.Browser().Get("/orders/"+guess).Status, "%q", guess)
	}
}
