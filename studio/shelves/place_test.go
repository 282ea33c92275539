package shelves_test

import (
	"net/http"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// The place shows what is computed from the demo store, to who is signed in and to
// nobody else.
func TestThePlaceIsShown(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	page := d.Get(d.At("/shelves"))
	assert.Equal(t, http.StatusOK, page.Status)
	assert.Contains(t, page.Words(), "days in stock")
	assert.NotContains(t, page.Body, "ZgotmplZ", "nothing was taken for unsafe")
	stranger := shop.Browser().Get(d.At("/shelves"))
	assert.Equal(t, "/sign-in", stranger.Location)
}
