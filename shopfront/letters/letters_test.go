package letters_test

import (
	"net/http"
	"net/url"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// Links that nobody made lead to nobody, with a sentence, and are kept out of search.
func TestLinksThatNobodyMade(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	for _, path := range []string{"/letters/x", "/letters/a.b.c", "/letters/a.b.c/confirm", "/letters/a.b.c/off"} {
		assert.Equal(t, http.StatusNotFound, b.Get(path).Status, path)
		told := b.Post(path, url.Values{}, "")
		assert.Equal(t, http.StatusNotFound, told.Status, path)
		assert.Contains(t, told.Words(), "There is nobody here by this link.")
	}
}
